#include "train/rarest.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/printed_order.h"
#include "base/random.h"
#include "base/unicode.h"

namespace burnisher::train {

std::vector<std::pair<char32_t, int>> rarest(const TextSource& texts,
                                             const recognise::Alphabet& alphabet, int lines,
                                             int longest_line, size_t most, uint64_t seed) {
  std::vector<std::pair<char32_t, int>> counts;
  for (int k = 1; k < alphabet.class_count(); ++k) counts.emplace_back(alphabet.character(k), 0);
  Random random(seed);
  for (int i = 0; i < lines; ++i) {
    for (const char32_t c : texts.draw(longest_line, i % 2 == 0, random)) {
      const int klass = alphabet.class_of(c);
      if (klass > 0) ++counts[static_cast<size_t>(klass) - 1].second;
    }
  }
  std::stable_sort(counts.begin(), counts.end(),
                   [](const auto& a, const auto& b) { return a.second < b.second; });
  counts.resize(std::min(most, counts.size()));
  return counts;
}

std::string as_text(const std::vector<std::pair<char32_t, int>>& counts, int lines) {
  std::string text;
  for (const auto& [character, count] : counts) {
    // A mark alone has nothing to stand on.
    const std::string shown = (is_mark(character) ? "\u25CC" : "") + encode_utf8(character);
    text += fmt::format("{}{} {}", text.empty() ? "" : ", ", shown,
                        std::lround(10000.0 * count / std::max(1, lines)));
  }
  return text;
}

}  // namespace burnisher::train
