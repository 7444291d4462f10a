#include "page/printed_number.h"

#include "base/numbers.h"
#include "base/pattern.h"
#include "base/roman.h"
#include "page/table.h"

namespace burnisher {
namespace {

constexpr int kHighestNumber = 9999;

}  // namespace

std::optional<PrintedNumber> number_in_text(const std::string& text) {
  static const Pattern form(
      "[^0-9A-Za-z]*(?:p\\.|page|seite|s\\.)?[^0-9A-Za-z]*([0-9]{1,4}|[ivxlcdmIVXLCDM]{1,9})[^0-9A-"
      "Za-z]*",
      Pattern::Case::kIgnored);
  const std::vector<std::string> m = form.groups(text);
  if (m.empty()) return std::nullopt;
  const std::string found = m[1];
  if (std::isdigit(static_cast<unsigned char>(found[0])))
    return PrintedNumber{integer_in(found).value_or(0), false};
  std::string small = found;
  for (char& c : small) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  const int value = roman_value(small);
  if (value == 0) return std::nullopt;
  return PrintedNumber{value, true};
}

std::optional<PrintedNumber> printed_number(const Page& page) {
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kPageNumber) continue;
    if (const auto number = number_in_text(text_of(block))) return number;
  }
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kRunningHead || block.lines.empty()) continue;
    const std::vector<Word>& words = block.lines.front().words;
    if (words.size() < 2) continue;
    for (const Word* word : {&words.front(), &words.back()}) {
      const auto number = number_in_text(word->text);
      if (number && !number->roman && number->value <= kHighestNumber) return number;
    }
  }
  return std::nullopt;
}

std::string text_of(const std::optional<PrintedNumber>& number) {
  if (!number) return "";
  return number->roman ? roman_text(number->value) : std::to_string(number->value);
}

}  // namespace burnisher
