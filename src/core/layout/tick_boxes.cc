#include "layout/tick_boxes.h"

#include <algorithm>
#include <cmath>

namespace burnisher::layout {
namespace {

constexpr double kSmallest = 0.7, kLargest = 3;  // text heights
constexpr double kMostOblong = 1.2;              // ratio of the sides
constexpr double kDrawn = 0.85;                  // share of a side that must be ink
constexpr double kMostInk = 0.65;                // of its area; a large full stop is solid
constexpr double kRim = 0.2;                     // of the box: where its sides are looked for

// How much of the four sides of its own bounding box a component draws.
struct Frame {
  int top = 0, bottom = 0;  // longest run near the upper and lower edge
  int left = 0, right = 0;  // rows with ink at the left and right edge
};

bool may_be_box(const Component& c, double text_height) {
  const int longer = std::max(c.width(), c.height()), shorter = std::min(c.width(), c.height());
  return shorter > kSmallest * text_height && longer < kLargest * text_height &&
         longer <= kMostOblong * shorter && c.area <= kMostInk * c.width() * c.height();
}

void draw_run(const Run& run, const Component& c, Frame& frame) {
  const double rim_x = kRim * c.width(), rim_y = kRim * c.height();
  const int length = run.x1 - run.x0;
  if (run.y < c.y0 + rim_y) frame.top = std::max(frame.top, length);
  if (run.y >= c.y1 - rim_y) frame.bottom = std::max(frame.bottom, length);
  // Straight sides: the ink begins and ends where the box does, in the corners, too.
  frame.left += run.x0 < c.x0 + rim_x / 2;
  frame.right += run.x1 > c.x1 - rim_x / 2;
}

bool is_box(const Component& c, const Frame& frame) {
  const double across = kDrawn * c.width(), down = kDrawn * c.height();
  return frame.top >= across && frame.bottom >= across && frame.left >= down && frame.right >= down;
}

bool inside(const Component& c, const Component& box) {
  return c.x0 > box.x0 && c.x1 < box.x1 && c.y0 > box.y0 && c.y1 < box.y1;
}

}  // namespace

std::vector<Component> take_tick_boxes(double text_height, Components& found) {
  std::vector<bool> possible;
  for (const Component& c : found.list) possible.push_back(may_be_box(c, text_height));
  std::vector<Frame> frames(found.list.size());
  for (const Run& run : found.runs) {
    const auto k = static_cast<size_t>(run.component);
    if (possible[k]) draw_run(run, found.list[k], frames[k]);
  }
  std::vector<Component> boxes;
  for (size_t i = 0; i < found.list.size(); ++i) {
    if (possible[i] && is_box(found.list[i], frames[i])) boxes.push_back(found.list[i]);
  }
  if (boxes.empty()) return boxes;
  const auto of_box = [&](const Component& c) {
    return std::any_of(boxes.begin(), boxes.end(), [&](const Component& box) {
      return inside(c, box) ||
             (c.x0 == box.x0 && c.y0 == box.y0 && c.x1 == box.x1 && c.y1 == box.y1);
    });
  };
  found.list.erase(std::remove_if(found.list.begin(), found.list.end(), of_box), found.list.end());
  return boxes;
}

}  // namespace burnisher::layout
