#include "train/page_targets.h"

#include <algorithm>
#include <cmath>

#include "layout/painted_maps.h"
#include "raster/convert.h"

namespace burnisher::train {
namespace {

TrainingPage window_of(const compose::ComposedPage& composed, double factor, Point origin,
                       int width, int height) {
  const Gray small = scaled(composed.scan, factor);
  TrainingPage out;
  out.page = Gray(width, height, 255);
  const int left = static_cast<int>(origin.x), top = static_cast<int>(origin.y);
  for (int y = std::max(0, -top); y < std::min(height, small.height() - top); ++y) {
    const int first = std::max(0, -left), last = std::min(width, small.width() - left);
    if (last > first)
      std::copy(small.row(y + top) + left + first, small.row(y + top) + left + last,
                out.page.row(y) + first);
  }
  out.truth = layout::painted_maps({composed.truth, composed.rules, composed.marks, composed.sheet},
                                   {factor,
                                    {static_cast<double>(left), static_cast<double>(top)},
                                    width / layout::kCellPixels,
                                    height / layout::kCellPixels});
  return out;
}

}  // namespace

TrainingPage training_page(const compose::ComposedPage& composed) {
  const double factor = layout::kPageXHeight / composed.x_height;
  const auto filled = [&](int size) {
    return static_cast<int>(std::ceil(size * factor / layout::kPageStep)) * layout::kPageStep;
  };
  return window_of(composed, factor, {0, 0}, filled(composed.scan.width()),
                   filled(composed.scan.height()));
}

TrainingPage varied_window(const compose::ComposedPage& composed, int width, int height,
                           Random& random) {
  const double size = std::clamp(std::exp(0.16 * random.normal()), 0.6, 1.5);
  const double factor = size * layout::kPageXHeight / composed.x_height;
  // What is smaller than the window is seen alone, as the network meets it.
  const auto stepped = [&](int whole, int most) {
    return std::min(
        most, static_cast<int>(std::ceil(whole * factor / layout::kPageStep)) * layout::kPageStep);
  };
  width = stepped(composed.scan.width(), width);
  height = stepped(composed.scan.height(), height);
  const auto start = [&](int whole, int window) {
    const double spare = whole * factor - window;
    return std::floor(random.uniform(std::min(0.0, spare), std::max(0.0, spare)));
  };
  TrainingPage out = window_of(
      composed, factor,
      {start(composed.scan.width(), width), start(composed.scan.height(), height)}, width, height);
  const double contrast = random.uniform(0.8, 1.1), lift = random.uniform(-15, 15);
  for (uint8_t& v : out.page.samples())
    v = static_cast<uint8_t>(std::clamp(255 - (255 - v) * contrast + lift, 0.0, 255.0));
  return out;
}

}  // namespace burnisher::train
