#include "find/expression.h"

#include <unicode/regex.h>

#include "base/error.h"
#include "find/folding.h"

namespace burnisher::find {
namespace {

constexpr int32_t kMostSteps = 200;  // of ICU's time limit, about a millisecond each

bool within_word(const std::u32string& text, size_t at) {
  return at > 0 && at < text.size() && in_word(text[at - 1]) && in_word(text[at]);
}

}  // namespace

struct Expression::Compiled {
  std::unique_ptr<icu::RegexPattern> pattern;
};

Expression::Expression(const std::string& expression, bool ignore_case, bool inside)
    : compiled_(std::make_unique<Compiled>()), inside_(inside) {
  UErrorCode status = U_ZERO_ERROR;
  UParseError where;
  compiled_->pattern.reset(icu::RegexPattern::compile(icu::UnicodeString::fromUTF8(expression),
                                                      ignore_case ? UREGEX_CASE_INSENSITIVE : 0,
                                                      where, status));
  if (U_FAILURE(status))
    throw SettingsError("regex", expression + ": is no regular expression (" +
                                     std::string(u_errorName(status)) + " at character " +
                                     std::to_string(where.offset + 1) + ")");
}

Expression::~Expression() = default;

std::vector<std::pair<size_t, size_t>> Expression::places(const std::u32string& text) const {
  std::vector<std::pair<size_t, size_t>> found;
  const icu::UnicodeString units = icu::UnicodeString::fromUTF32(
      reinterpret_cast<const UChar32*>(text.data()), static_cast<int32_t>(text.size()));
  UErrorCode status = U_ZERO_ERROR;
  const std::unique_ptr<icu::RegexMatcher> matcher(compiled_->pattern->matcher(units, status));
  if (U_FAILURE(status)) return found;
  matcher->setTimeLimit(kMostSteps, status);
  while (matcher->find(status) && U_SUCCESS(status)) {
    const auto first = static_cast<size_t>(units.countChar32(0, matcher->start(status)));
    const auto end = static_cast<size_t>(units.countChar32(0, matcher->end(status)));
    if (end > first && (inside_ || (!within_word(text, first) && !within_word(text, end))))
      found.emplace_back(first, end);
  }
  return found;
}

}  // namespace burnisher::find
