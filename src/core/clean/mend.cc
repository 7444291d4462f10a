#include "clean/mend.h"

#include <algorithm>
#include <cmath>

#include "raster/components.h"
#include "raster/text_scale.h"
#include "raster/turn.h"

namespace burnisher::clean {
namespace {

constexpr double kWidest = 0.5;     // strokes' widths
constexpr double kFragment = 0.75;  // text heights; a part lower than this may be one
constexpr double kDot = 0.75;       // dots are as wide as strokes, and as high

struct Bridge {
  int y, x0, x1;
};

// A piece of a letter: lower than any letter, yet no dot.
bool fragment(double width, double height, double text_height, double stroke) {
  const bool dot = width < (1 + kDot) * stroke && height < (1 + kDot) * stroke;
  return !dot && height < kFragment * text_height && width < 2 * text_height;
}

// Gaps along rows, narrow ones only, between parts that don't hang together. `upright`: whether the
// picture is, or has its rows and columns exchanged.
std::vector<Bridge> bridges(const Components& found, bool upright, double text_height,
                            double stroke) {
  const auto broken = [&](const Component& c) {
    return upright ? fragment(c.width(), c.height(), text_height, stroke)
                   : fragment(c.height(), c.width(), text_height, stroke);
  };
  const int widest = std::max(1, static_cast<int>(std::lround(kWidest * stroke)));
  std::vector<Bridge> list;
  for (size_t i = 1; i < found.runs.size(); ++i) {
    const Run &a = found.runs[i - 1], &b = found.runs[i];
    if (a.y != b.y || b.x0 - a.x1 > widest || a.component == b.component) continue;
    const Component &left = found.list[static_cast<size_t>(a.component)],
                    &right = found.list[static_cast<size_t>(b.component)];
    if (broken(left) || broken(right)) list.push_back({a.y, a.x1, b.x0});
  }
  return list;
}

}  // namespace

int mend(double text_height, Bitonal& ink) {
  if (text_height <= 0) return 0;
  const Components found = components_of(ink);
  const double stroke = stroke_width(found.runs);
  if (stroke <= 0) return 0;
  const std::vector<Bridge> across = bridges(found, true, text_height, stroke);
  const std::vector<Bridge> down =
      bridges(components_of(transposed(ink)), false, text_height, stroke);
  for (const Bridge& b : across) {
    for (int x = b.x0; x < b.x1; ++x) ink.set_ink(x, b.y, true);
  }
  for (const Bridge& b : down) {
    for (int y = b.x0; y < b.x1; ++y) ink.set_ink(b.y, y, true);
  }
  return static_cast<int>(across.size() + down.size());
}

}  // namespace burnisher::clean
