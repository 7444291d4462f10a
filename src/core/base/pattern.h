// Regular expressions (those of ICU) over UTF-8 text of any length: what is too long or too deep to
// be matched does not match.
#pragma once

#include <memory>
#include <string>
#include <vector>

namespace burnisher {

// Compiled once; may be used by many threads at a time.
class Pattern {
 public:
  enum class Case { kTold, kIgnored };
  explicit Pattern(const std::string& expression, Case letters = Case::kTold);
  ~Pattern();
  Pattern(const Pattern&) = delete;
  Pattern& operator=(const Pattern&) = delete;

  // Whether all of the text is of this form.
  bool matches(const std::string& text) const;
  // The same: the text and its groups, those that took no part empty. Nothing where it is not.
  std::vector<std::string> groups(const std::string& text) const;

 private:
  struct Compiled;
  std::unique_ptr<Compiled> compiled_;
};

}  // namespace burnisher
