#include "clean/flat_sheet.h"

#include <vector>

namespace burnisher::clean {
namespace {

constexpr double kMostGrowth = 1.6;  // of a side by flattening; more is no page
constexpr double kHorizon = 0.3;     // the projective divisor at a corner, at least

}  // namespace

std::optional<Flat> flat_sheet(const Perspective& seen, const SheetOutline& outline,
                               const Reduced& small) {
  const double w = small.picture().width(), h = small.picture().height();
  const Projective back = seen.to_picture.inverse();
  std::vector<Point> corners;
  for (const Point& corner : outline.corners(w, h)) {
    const Point p = back(corner);
    if (seen.to_picture.g * p.x + seen.to_picture.h * p.y + 1 < kHorizon) return std::nullopt;
    corners.push_back(p);
  }
  const Box hull = bounds(corners);
  if (hull.width() > kMostGrowth * w || hull.height() > kMostGrowth * h) return std::nullopt;
  const double factor = small.to_full(1.0);
  const Projective to_full = Affine{factor, 0, 0, 0, factor, 0};
  return Flat{to_full * seen.to_picture * Affine::shift(hull.x0, hull.y0) *
                  Affine{1 / factor, 0, 0, 0, 1 / factor, 0},
              static_cast<int>(hull.width() * factor), static_cast<int>(hull.height() * factor),
              seen.converging};
}

}  // namespace burnisher::clean
