#include "correct/forms.h"

#include <algorithm>

#include "base/pattern.h"
#include "base/unicode.h"

namespace burnisher::correct {
namespace {

using Text = std::vector<char32_t>;

bool among(char32_t c, std::u32string_view set) {
  return set.find(c) != std::u32string_view::npos;
}

bool is_core_edge(char32_t c) {
  return is_letter(c) || is_digit(c) || among(c, U"£$€¥%‰°½¼¾²³¹ªº№§#");
}

struct Counts {
  int letters = 0, digits = 0, upper = 0, lower = 0, others = 0;
  int turns = 0;            // from letters to figures or back
  int sudden_upper = 0;     // a capital after a small letter
  bool inner_sign = false;  // other than - ' ’ . and such
};

Counts counts_of(const Text& core) {
  Counts n;
  char before = 0;  // 'l'etter, 'd'igit, 's'ign
  bool small_before = false;
  for (size_t i = 0; i < core.size(); ++i) {
    const char32_t c = core[i];
    char now = 's';
    if (is_letter(c)) {
      now = 'l';
      ++n.letters;
      const bool upper = is_upper(c);
      n.upper += upper;
      n.lower += !upper;
      n.sudden_upper += upper && small_before;
      small_before = !upper;
    } else {
      small_before = false;
      if (is_digit(c)) {
        now = 'd';
        ++n.digits;
      } else {
        ++n.others;
        n.inner_sign = n.inner_sign || !among(c, U"-‐–—'’.,:/&·");
      }
    }
    n.turns += (now == 'l' && before == 'd') || (now == 'd' && before == 'l');
    before = now;
  }
  return n;
}

bool is_roman(const std::string& core) {
  static const Pattern roman(
      "M{0,4}(CM|CD|D?C{0,4})(XC|XL|L?X{0,4})(IX|IV|V?I{0,4})|"
      "m{0,4}(cm|cd|d?c{0,4})(xc|xl|l?x{0,4})(ix|iv|v?[ij]{0,4})");
  return roman.matches(core);
}

bool is_address(const std::string& core) {
  static const Pattern address("(https?://|www\\.).+|[^@ ]+@[^@ ]+\\.[A-Za-z]+");
  return address.matches(core);
}

bool is_number(const std::string& core) {
  static const Pattern number("[-+±]?[0-9]+([.,'’:/·–-][0-9]+)*[.,]?(½|¼|¾|²|³|¹)?|½|¼|¾");
  return number.matches(core);
}

bool is_date(const std::string& core) {
  static const Pattern date(
      "[0-9]{1,2}[./-][0-9]{1,2}[./-]([0-9]{2}|[0-9]{4})|[0-9]{4}-[0-9]{2}(-[0-9]{2})?|"
      "[0-9]{4}(-|–)[0-9]{2,4}");
  return date.matches(core);
}

bool is_ordinal(const std::string& core) {
  static const Pattern ordinal("[0-9]+(st|nd|rd|th|d|e|er|re|ère|ème|º|ª|o|a|s)");
  return ordinal.matches(core);
}

bool is_measure(const std::string& core) {
  static const Pattern measure(
      "[0-9]+([.,][0-9]+)?(mm|cm|m|km|in|ft|yd|g|kg|lb|lbs|oz|l|s|h|min|hp|pm|am|x|cwt)|"
      "[0-9½¼¾°'’\"″′.,x×-]*[°'’\"″′×][0-9½¼¾°'’\"″′.,x×-]*[NSEWnsew]?");
  return measure.matches(core);
}

bool is_amount(const std::string& core) {
  static const Pattern amount("(£|\\$|€|¥|#|§|№)[0-9][0-9.,'/-]*[a-z]?|[0-9][0-9.,]*(%|‰|£|€|d|s)");
  return amount.matches(core);
}

bool is_abbreviation(const std::string& core, const std::string& after, const Counts& n) {
  if (n.digits > 0 || n.letters == 0) return false;
  const bool dotted = core.find('.') != std::string::npos;
  const bool stops = !after.empty() && after.front() == '.';
  // e.g  N.W  a.m, and initials.
  if (dotted) return n.letters <= 6;
  return stops && n.letters == 1;
}

FormKind kind_of(const Form& form) {
  const Text core = decode_utf8(form.core);
  const Counts n = counts_of(core);
  if (n.letters == 0 && n.digits == 0 && core.empty()) return FormKind::kSigns;
  if (is_address(form.core)) return FormKind::kAddress;
  if (n.digits > 0 || n.letters == 0) {
    if (is_date(form.core)) return FormKind::kDate;
    if (is_number(form.core)) return FormKind::kNumber;
    if (is_ordinal(form.core)) return FormKind::kOrdinal;
    if (is_amount(form.core)) return FormKind::kAmount;
    if (is_measure(form.core)) return FormKind::kMeasure;
    // Capitals and figures in blocks are codes; small letters between figures are none.
    const bool code = n.lower == 0 && n.turns <= 2 && !n.inner_sign;
    const bool suffix = n.lower == 1 && n.upper == 0 && n.turns == 1 && is_letter(core.back());
    return n.letters == 0 || code || suffix ? FormKind::kCode : FormKind::kOdd;
  }
  if (is_abbreviation(form.core, form.after, n)) return FormKind::kAbbreviation;
  if (n.inner_sign) return FormKind::kOdd;
  if (n.sudden_upper > 0) {
    // McKay, MacLeod, O'Brien, deForest: one capital within, well before the end.
    const bool name = is_upper(core.front()) && n.sudden_upper == 1 && n.lower >= 2 &&
                      is_letter(core.back()) && !is_upper(core.back());
    return name ? FormKind::kWord : FormKind::kOdd;
  }
  // THe: two capitals and then small letters.
  if (n.upper >= 2 && n.lower >= 1 && n.others == 0) return FormKind::kOdd;
  if (is_roman(form.core) && n.letters > 1) return FormKind::kRoman;
  return FormKind::kWord;
}

}  // namespace

Form form_of(const std::string& word) {
  const Text text = decode_utf8(word);
  size_t first = 0, last = text.size();
  while (first < last && !is_core_edge(text[first])) ++first;
  while (last > first && !is_core_edge(text[last - 1])) --last;
  Form form;
  const auto part = [&](size_t from, size_t to) {
    return encode_utf8(
        Text(text.begin() + static_cast<long>(from), text.begin() + static_cast<long>(to)));
  };
  form.before = part(0, first);
  form.core = part(first, last);
  form.after = part(last, text.size());
  // Signs of feet, minutes and inches belong to their figures.
  if (!form.core.empty() && is_digit(text[last - 1])) {
    const std::string with = form.core + form.after;
    if (is_measure(with)) {
      form.core = with;
      form.after.clear();
    }
  }
  form.kind = kind_of(form);
  return form;
}

std::vector<std::string> parts_of(const std::string& core) {
  std::vector<std::string> parts(1);
  for (const char32_t c : decode_utf8(core)) {
    if (among(c, U"-‐–—/&"))
      parts.emplace_back();
    else
      parts.back() += encode_utf8(c);
  }
  parts.erase(std::remove(parts.begin(), parts.end(), ""), parts.end());
  return parts;
}

bool is_spelled(FormKind kind) {
  return kind == FormKind::kWord;
}

}  // namespace burnisher::correct
