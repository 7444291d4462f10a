// The `custom` attribute as users of PAGE XML write it: "name {key:value; key:value;} name {...}".
// Signs with a meaning of their own, control characters and bytes that are no UTF-8 stand in values
// as %XX, so that every file name survives.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace burnisher {

class Custom {
 public:
  Custom() = default;
  // What other programs wrote that has another form is passed over.
  explicit Custom(const std::string& attribute);

  bool has(const std::string& name) const { return entries_.count(name) > 0; }
  // Null when there is none.
  const std::string* find(const std::string& name, const std::string& key) const;
  std::string text(const std::string& name, const std::string& key) const;
  // All of an entry's keys and values, by key.
  std::vector<std::pair<std::string, std::string>> all(const std::string& name) const;
  // Nothing when there is none. Throws FormatError for what is no finite number below 1e7.
  std::optional<double> number(const std::string& name, const std::string& key) const;

 private:
  std::map<std::string, std::map<std::string, std::string>> entries_;
};

// One entry, to be joined to others by spaces.
std::string custom_entry(const std::string& name,
                         const std::vector<std::pair<std::string, std::string>>& values);
// The shortest digits that read back as the same number.
std::string exact(double value);
std::string exact(float value);

}  // namespace burnisher
