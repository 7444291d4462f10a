#include "clean/text_rows.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"

namespace burnisher::clean {
namespace {

constexpr double kReach = 2.2;  // text heights to the next letter of a line

}  // namespace

std::vector<TextRow> text_rows(const std::vector<Component>& components, double text_height) {
  std::vector<Component> letters;
  for (const Component& c : components) {
    if (c.height() > 0.6 * text_height && c.height() < 2.2 * text_height &&
        c.width() > 0.2 * text_height && c.width() < 5 * text_height)
      letters.push_back(c);
  }
  std::sort(letters.begin(), letters.end(),
            [](const Component& a, const Component& b) { return a.x0 < b.x0; });
  std::vector<int> before(letters.size(), -1), after(letters.size(), -1);
  for (size_t i = 0; i < letters.size(); ++i) {
    double best = kReach * text_height;
    int next = -1;
    for (size_t k = i + 1; k < letters.size(); ++k) {
      const double gap = letters[k].x0 - letters[i].x1;
      if (letters[k].x0 > letters[i].x1 + best) break;
      const double step = std::fabs(letters[k].y1 - letters[i].y1);
      const double shared = overlap(letters[i].y0, letters[i].y1, letters[k].y0, letters[k].y1);
      if (shared < 0.4 * std::min(letters[i].height(), letters[k].height()) ||
          step > 0.6 * text_height)
        continue;
      const double cost = std::max(0.0, gap) + step;
      if (cost >= best || before[k] >= 0) continue;
      best = cost;
      next = static_cast<int>(k);
    }
    if (next < 0) continue;
    after[i] = next;
    before[static_cast<size_t>(next)] = static_cast<int>(i);
  }
  std::vector<TextRow> rows;
  for (size_t i = 0; i < letters.size(); ++i) {
    if (before[i] >= 0) continue;
    TextRow row;
    for (int k = static_cast<int>(i); k >= 0; k = after[static_cast<size_t>(k)]) {
      const Component& c = letters[static_cast<size_t>(k)];
      row.feet.push_back({(c.x0 + c.x1) / 2.0, static_cast<double>(c.y1)});
      row.x1 = c.x1;
    }
    row.x0 = letters[i].x0;
    rows.push_back(std::move(row));
  }
  return rows;
}

void drop_descenders(double text_height, TextRow& row) {
  constexpr size_t kAround = 4;  // letters to either side that a letter's line is judged by
  std::vector<Point> kept;
  for (size_t i = 0; i < row.feet.size(); ++i) {
    std::vector<double> heights;
    for (size_t k = i > kAround ? i - kAround : 0; k <= std::min(row.feet.size() - 1, i + kAround);
         ++k)
      heights.push_back(row.feet[k].y);
    if (std::fabs(row.feet[i].y - median(heights)) < 0.15 * text_height)
      kept.push_back(row.feet[i]);
  }
  row.feet = std::move(kept);
}

}  // namespace burnisher::clean
