#include "layout/outlines.h"

#include <algorithm>
#include <cmath>

namespace burnisher::layout {
namespace {

constexpr double kLevelEnough = 0.3;  // x-heights between highest and lowest place of the baseline
constexpr double kSlice = 6;          // x-heights between points of the outline

struct Slice {
  double top = 0, bottom = 0;
  bool empty = true;
};

std::vector<Slice> slices_of(const LetterLine& line, size_t count) {
  std::vector<Slice> slices(count);
  const double width = line.box.width() / static_cast<double>(count);
  const auto place = [&](double x) {
    const double at = std::floor((x - line.box.x0) / width);
    return static_cast<size_t>(std::clamp(at, 0.0, static_cast<double>(count - 1)));
  };
  for (const auto* parts : {&line.letters, &line.marks}) {
    for (const Component& c : *parts) {
      for (size_t i = place(c.x0); i <= place(c.x1 - 1); ++i) {
        Slice& s = slices[i];
        s.top = s.empty ? c.y0 : std::min<double>(s.top, c.y0);
        s.bottom = s.empty ? c.y1 : std::max<double>(s.bottom, c.y1);
        s.empty = false;
      }
    }
  }
  // Wide spaces go on as the letters before them; the leftmost slice is never empty.
  for (size_t i = 1; i < count; ++i) {
    if (slices[i].empty) slices[i] = slices[i - 1];
  }
  return slices;
}

}  // namespace

Polygon outline_of(const LetterLine& line) {
  if (line.baseline.empty() || line.x_height <= 0) return {};
  const Box run = bounds(line.baseline);
  if (run.height() < kLevelEnough * line.x_height) return {};
  const auto count =
      static_cast<size_t>(std::max(2.0, std::ceil(line.box.width() / (kSlice * line.x_height))));
  const std::vector<Slice> slices = slices_of(line, count);
  Polygon above, below;
  for (size_t i = 0; i <= count; ++i) {
    const Slice& left = slices[i > 0 ? i - 1 : 0];
    const Slice& right = slices[std::min(i, count - 1)];
    const double x =
        line.box.x0 + line.box.width() * static_cast<double>(i) / static_cast<double>(count);
    above.push_back({x, std::min(left.top, right.top)});
    below.push_back({x, std::max(left.bottom, right.bottom)});
  }
  above.insert(above.end(), below.rbegin(), below.rend());
  return above;
}

}  // namespace burnisher::layout
