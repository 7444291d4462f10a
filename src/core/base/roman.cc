#include "base/roman.h"

#include <algorithm>
#include <map>

namespace burnisher {

std::string roman_text(int value) {
  static const std::pair<int, const char*> kParts[] = {
      {1000, "m"}, {900, "cm"}, {500, "d"}, {400, "cd"}, {100, "c"}, {90, "xc"}, {50, "l"},
      {40, "xl"},  {10, "x"},   {9, "ix"},  {5, "v"},    {4, "iv"},  {1, "i"}};
  std::string text;
  for (const auto& [size, letters] : kParts) {
    for (; value >= size; value -= size) text += letters;
  }
  return text;
}

int roman_value(const std::string& text) {
  static const std::map<char, int> kValues = {{'i', 1},   {'v', 5},   {'x', 10},  {'l', 50},
                                              {'c', 100}, {'d', 500}, {'m', 1000}};
  int sum = 0, before = 0;
  for (size_t i = text.size(); i-- > 0;) {
    const auto found = kValues.find(text[i]);
    if (found == kValues.end()) return 0;
    sum += found->second < before ? -found->second : found->second;
    before = std::max(before, found->second);
  }
  return sum > 0 && roman_text(sum) == text ? sum : 0;
}

}  // namespace burnisher
