#include "clean/edges.h"

#include <algorithm>

#include "clean/letter_rows.h"
#include "raster/components.h"

namespace burnisher::clean {
namespace {

constexpr double kMargin = 0.015;      // of the scan's shorter side; print never starts that near
constexpr double kLongShadow = 0.15;   // of the side it runs along
constexpr double kThinShadow = 0.04;   // of the shorter side
constexpr double kShadowShare = 0.85;  // of a shadow's ink lies that near to an edge

// The bed round a sheet, as one component: how much of the rim (kMargin wide) it fills at least,
// and of the middle half at most. A picture that runs to the edges fills the middle, too.
constexpr double kBedRim = 0.2;
constexpr double kBedMiddle = 0.05;

// How much of each component's ink lies in the middle half of the scan, either way.
std::vector<double> ink_in_middle(const Components& found, const Geometry& geometry) {
  std::vector<double> ink(found.list.size(), 0.0);
  const double w = geometry.scan_width, h = geometry.scan_height;
  const Box middle{w / 4, h / 4, 3 * w / 4, 3 * h / 4};
  for (const Run& run : found.runs) {
    if (middle.contains(geometry.to_scan({(run.x0 + run.x1) / 2.0, run.y + 0.5})))
      ink[static_cast<size_t>(run.component)] += run.x1 - run.x0;
  }
  return ink;
}

// How much of each component's ink lies within `margin` of the scan's edges.
std::vector<double> ink_at_edges(const Components& found, const Geometry& geometry, double margin) {
  std::vector<double> ink(found.list.size(), 0.0);
  for (const Run& run : found.runs) {
    const Point p = geometry.to_scan({(run.x0 + run.x1) / 2.0, run.y + 0.5});
    const double inside =
        std::min({p.x, p.y, geometry.scan_width - p.x, geometry.scan_height - p.y});
    // A long run that starts at an upright edge lies level along it only if its middle does.
    if (inside < margin) ink[static_cast<size_t>(run.component)] += run.x1 - run.x0;
  }
  return ink;
}

// Which components are letters of rows that run to an edge or along it: print that was cropped
// closely stays. Along an edge a row of its own will do; what runs towards one must come from
// further in: scraps of the leaf beside don't.
std::vector<bool> letters_at_edges(const Geometry& geometry, double margin, double text_height,
                                   const std::vector<Component>& list) {
  std::vector<bool> letters(list.size(), false);
  if (text_height <= 0) return letters;
  const std::vector<LetterRow> rows = letter_rows(list, text_height);
  const auto from_side = [&](const Component& c) {
    const Point p = geometry.to_scan(c.box().centre());
    return Point{std::min(p.x, geometry.scan_width - p.x),
                 std::min(p.y, geometry.scan_height - p.y)};
  };
  std::vector<bool> across_inside(list.size(), false), down_inside(list.size(), false);
  for (size_t i = 0; i < list.size(); ++i) {
    const Point away = from_side(list[i]);
    if (away.x < margin || away.y < margin) continue;
    if (rows[i].across >= 0) across_inside[static_cast<size_t>(rows[i].across)] = true;
    if (rows[i].down >= 0) down_inside[static_cast<size_t>(rows[i].down)] = true;
  }
  for (size_t i = 0; i < list.size(); ++i) {
    const LetterRow& row = rows[i];
    if (row.alone()) continue;
    const Point away = from_side(list[i]);
    const bool at_side = away.x < margin, at_end = away.y < margin;
    const bool comes_in = (row.across >= 0 && across_inside[static_cast<size_t>(row.across)]) ||
                          (row.down >= 0 && down_inside[static_cast<size_t>(row.down)]);
    const bool along = (at_end && row.across_size >= kSureRow) ||
                       (at_side && row.down_size >= kSureRow && row.across < 0 &&
                        list[i].width() > list[i].height());
    letters[i] = comes_in || along;
  }
  return letters;
}

}  // namespace

int clear_edges(const Geometry& geometry, double text_height, Bitonal& ink) {
  const double shorter = std::min(geometry.scan_width, geometry.scan_height);
  const double margin = kMargin * shorter;
  const Components found = components_of(ink);
  const std::vector<double> at_edges = ink_at_edges(found, geometry, kThinShadow * shorter);
  const std::vector<double> in_rim = ink_at_edges(found, geometry, margin);
  const std::vector<double> in_middle = ink_in_middle(found, geometry);
  const double rim = 2 * margin * (geometry.scan_width + geometry.scan_height);
  const double middle = geometry.scan_width / 2.0 * (geometry.scan_height / 2.0);
  const std::vector<bool> letters = letters_at_edges(geometry, margin, text_height, found.list);
  std::vector<bool> gone(found.list.size(), false);
  int count = 0;
  for (size_t i = 0; i < found.list.size(); ++i) {
    std::vector<Point> corners;
    for (const Point& p : found.list[i].box().corners()) corners.push_back(geometry.to_scan(p));
    const Box b = bounds(corners);
    const double right = geometry.scan_width - margin, bottom = geometry.scan_height - margin;
    const bool within = b.x1 < margin || b.y1 < margin || b.x0 > right || b.y0 > bottom;
    const bool touches = b.x0 < margin || b.y0 < margin || b.x1 > right || b.y1 > bottom;
    const bool long_one = b.width() > kLongShadow * geometry.scan_width ||
                          b.height() > kLongShadow * geometry.scan_height;
    const bool shadow = touches && long_one && at_edges[i] > kShadowShare * found.list[i].area;
    const bool bed = in_rim[i] > kBedRim * rim && in_middle[i] < kBedMiddle * middle;
    gone[i] = (within && !letters[i]) || shadow || bed;
    count += gone[i];
  }
  erase(found, gone, ink);
  return count;
}

}  // namespace burnisher::clean
