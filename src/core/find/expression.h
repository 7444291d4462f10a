// A regular expression (ICU's) that is sought in running text.
#pragma once

#include <memory>
#include <string>
#include <utility>
#include <vector>

namespace burnisher::find {

class Expression {
 public:
  // `inside`: matches may begin and end in the middle of words. Throws SettingsError for what is
  // no expression.
  Expression(const std::string& expression, bool ignore_case, bool inside);
  ~Expression();

  // Where it matches, each first character and the one behind the last; one that takes too long
  // on a text ends there.
  std::vector<std::pair<size_t, size_t>> places(const std::u32string& text) const;

 private:
  struct Compiled;
  std::unique_ptr<Compiled> compiled_;
  bool inside_;
};

}  // namespace burnisher::find
