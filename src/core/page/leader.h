// Rows of one sign that lead from an entry to its number, or are a line to write on: how many they
// are matters to nobody.
#pragma once

#include <algorithm>
#include <vector>

namespace burnisher {

// Four at least: an ellipsis has three dots.
inline bool is_leader(const std::vector<char32_t>& text) {
  constexpr size_t kShortest = 4;
  const bool sign = !text.empty() && (text[0] == U'.' || text[0] == U'·' || text[0] == U'_' ||
                                      text[0] == U'-' || text[0] == U'*');
  return sign && text.size() >= kShortest &&
         std::all_of(text.begin(), text.end(), [&](char32_t c) { return c == text[0]; });
}

}  // namespace burnisher
