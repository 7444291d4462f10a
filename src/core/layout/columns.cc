#include "layout/columns.h"

#include <algorithm>
#include <cmath>

namespace burnisher::layout {
namespace {

constexpr double kOff = 0.3;  // of a column's width: how far a gutter may lie from its even place

}  // namespace

Columns columns_of(int wanted, const Sorted& sorted) {
  Columns columns;
  if (wanted <= 0) return columns;
  columns.found = false;
  Box text;
  for (const Component& c : sorted.letters) text = united(text, c.box());
  if (text.empty()) return columns;
  std::vector<int> letters(static_cast<size_t>(std::ceil(text.width())) + 1, 0);
  for (const Component& c : sorted.letters) {
    for (int x = c.x0; x < c.x1; ++x) ++letters[static_cast<size_t>(x - text.x0)];
  }
  const double width = text.width() / wanted;
  for (int i = 1; i < wanted; ++i) {
    const auto from = letters.begin() + static_cast<long>((i - kOff) * width);
    const auto to = letters.begin() + static_cast<long>((i + kOff) * width);
    // The middle of the widest run of the fewest letters.
    const int fewest = *std::min_element(from, to);
    auto best = from, best_end = from;
    for (auto at = from; at != to;) {
      if (*at != fewest) {
        ++at;
        continue;
      }
      auto end = at;
      while (end != to && *end == fewest) ++end;
      if (end - at > best_end - best) best = at, best_end = end;
      at = end;
    }
    columns.at.push_back(text.x0 +
                         static_cast<double>((best + (best_end - best) / 2) - letters.begin()));
  }
  return columns;
}

}  // namespace burnisher::layout
