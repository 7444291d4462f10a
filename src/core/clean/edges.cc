#include "clean/edges.h"

#include <algorithm>

#include "raster/components.h"

namespace burnisher::clean {
namespace {

constexpr double kMargin = 0.015;     // of the scan's shorter side; print never starts that near
constexpr double kLongShadow = 0.15;  // of the side it runs along
constexpr double kThinShadow = 0.04;  // of the other side

}  // namespace

int clear_edges(const Geometry& geometry, Bitonal& ink) {
  const double width = geometry.scan_width, height = geometry.scan_height;
  const double margin = kMargin * std::min(width, height);
  const Components found = components_of(ink);
  std::vector<bool> gone(found.list.size(), false);
  int count = 0;
  for (size_t i = 0; i < found.list.size(); ++i) {
    std::vector<Point> corners;
    for (const Point& p : found.list[i].box().corners()) corners.push_back(geometry.to_scan(p));
    const Box b = bounds(corners);
    const bool within = b.x1 < margin || b.y1 < margin || b.x0 > width - margin || b.y0 > height - margin;
    const bool beside = b.x0 < margin || b.x1 > width - margin;
    const bool along = b.y0 < margin || b.y1 > height - margin;
    const bool upright = beside && b.height() > kLongShadow * height && b.width() < kThinShadow * width;
    const bool level = along && b.width() > kLongShadow * width && b.height() < kThinShadow * height;
    gone[i] = within || upright || level;
    count += gone[i];
  }
  for (const Run& run : found.runs) {
    if (!gone[static_cast<size_t>(run.component)]) continue;
    for (int x = run.x0; x < run.x1; ++x) ink.set_ink(x, run.y, false);
  }
  return count;
}

}  // namespace burnisher::clean
