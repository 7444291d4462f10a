#include "recognise/strip_margins.h"

#include <algorithm>

#include "base/plane.h"

namespace burnisher::recognise {
namespace {

// x-heights. Letters reach that far above and below the band between baseline and x-height.
constexpr double kAbove = 0.5, kBelow = 0.3;
constexpr double kClear = 0.4;  // white that is left before a neighbour

// What a line takes up in height at its ends.
Box taken_by(const Line& line) {
  const Point& a = line.baseline.front();
  const Point& b = line.baseline.back();
  return {line.box.x0, std::min(a.y, b.y) - (1 + kAbove) * line.x_height, line.box.x1,
          std::max(a.y, b.y) + kBelow * line.x_height};
}

}  // namespace

std::vector<StripMargins> strip_margins(const std::vector<const Line*>& lines) {
  std::vector<Box> boxes;
  std::vector<bool> level;
  for (const Line* line : lines) {
    level.push_back(line->baseline.size() >= 2 && !line->runs_up_or_down());
    boxes.push_back(level.back() ? taken_by(*line) : line->box);
  }
  std::vector<StripMargins> margins;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (!level[i]) {
      margins.push_back({kStripMargin, kStripMargin});
      continue;
    }
    const double x_height = lines[i]->x_height;
    double left = 1e18, right = 1e18;  // white to the next line
    for (size_t k = 0; k < lines.size(); ++k) {
      if (k == i || overlap(boxes[i].y0, boxes[i].y1, boxes[k].y0, boxes[k].y1) <= 0) continue;
      if (boxes[k].centre().x > boxes[i].centre().x)
        right = std::min(right, boxes[k].x0 - boxes[i].x1);
      else
        left = std::min(left, boxes[i].x0 - boxes[k].x1);
    }
    const auto margin = [&](double white) {
      return std::clamp(white / x_height - kClear, kStripMargin, kWideMargin);
    };
    margins.push_back({margin(left), margin(right)});
  }
  return margins;
}

}  // namespace burnisher::recognise
