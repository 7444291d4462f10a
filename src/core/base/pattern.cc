#include "base/pattern.h"

#include <unicode/regex.h>

#include <stdexcept>

namespace burnisher {

struct Pattern::Compiled {
  std::unique_ptr<icu::RegexPattern> pattern;

  // At the match with all of `text`; null where there is none.
  std::unique_ptr<icu::RegexMatcher> match(const icu::UnicodeString& text) const {
    UErrorCode status = U_ZERO_ERROR;
    std::unique_ptr<icu::RegexMatcher> matcher(pattern->matcher(text, status));
    if (U_FAILURE(status) || !matcher->matches(status) || U_FAILURE(status)) return nullptr;
    return matcher;
  }
};

Pattern::Pattern(const std::string& expression, Case letters)
    : compiled_(std::make_unique<Compiled>()) {
  UErrorCode status = U_ZERO_ERROR;
  const uint32_t flags = letters == Case::kIgnored ? UREGEX_CASE_INSENSITIVE : 0;
  compiled_->pattern.reset(
      icu::RegexPattern::compile(icu::UnicodeString::fromUTF8(expression), flags, status));
  if (U_FAILURE(status)) throw std::logic_error("no regular expression: " + expression);
}

Pattern::~Pattern() = default;

bool Pattern::matches(const std::string& text) const {
  return compiled_->match(icu::UnicodeString::fromUTF8(text)) != nullptr;
}

std::vector<std::string> Pattern::groups(const std::string& text) const {
  std::vector<std::string> found;
  const icu::UnicodeString characters = icu::UnicodeString::fromUTF8(text);
  const auto matcher = compiled_->match(characters);
  if (matcher == nullptr) return found;
  for (int32_t i = 0; i <= matcher->groupCount(); ++i) {
    UErrorCode status = U_ZERO_ERROR;
    found.emplace_back();
    matcher->group(i, status).toUTF8String(found.back());
  }
  return found;
}

}  // namespace burnisher
