#include "layout/painted_maps.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace burnisher::layout {
namespace {

// Lengths in cells.
constexpr double kThin = 0.55;  // half the breadth of baselines, line ends and borders
constexpr double kEndAway = 0.5;
// Lengths in x-heights.
constexpr double kEndUp = 1.2, kEndDown = 0.3;  // how far a line's end reaches
constexpr double kHeadUp = 1.5;                 // where a row's head is

Polyline in_cells(Polyline line, const MapFrame& frame) {
  for (Point& p : line) p = frame.cell_at(p);
  return line;
}

class Canvas {
 public:
  explicit Canvas(MapGrid& grid) : grid_(grid) {}

  float& value(int map, int x, int y) {
    return grid_.values[(static_cast<size_t>(y) * static_cast<size_t>(grid_.width) +
                         static_cast<size_t>(x)) *
                            kPageMaps +
                        static_cast<size_t>(map)];
  }

  // Calls `paint(x, y)` for the cells whose centres lie in the polygon (even-odd rule).
  template <typename Paint>
  void for_each_cell(const Polygon& polygon, const Paint& paint) {
    if (polygon.size() < 3) return;
    const Box box = bounds(polygon);
    std::vector<double> crossings;
    for (int y = std::max(0, static_cast<int>(box.y0));
         y < std::min<double>(grid_.height, box.y1 + 1); ++y) {
      crossings.clear();
      const double at = y + 0.5;
      for (size_t i = 0; i < polygon.size(); ++i) {
        const Point a = polygon[i], b = polygon[(i + 1) % polygon.size()];
        if ((a.y <= at) == (b.y <= at)) continue;
        crossings.push_back(a.x + (at - a.y) / (b.y - a.y) * (b.x - a.x));
      }
      std::sort(crossings.begin(), crossings.end());
      for (size_t i = 0; i + 1 < crossings.size(); i += 2) {
        const int last = std::min(grid_.width, static_cast<int>(std::ceil(crossings[i + 1] - 0.5)));
        for (int x = std::max(0, static_cast<int>(std::ceil(crossings[i] - 0.5))); x < last; ++x)
          paint(x, y);
      }
    }
  }

  void fill(const Polygon& polygon, int map) {
    for_each_cell(polygon, [&](int x, int y) { value(map, x, y) = 1; });
  }

  // Thin lines: full within kThin of the line, less up to twice as far.
  void draw(const Polyline& line, int map) {
    for (size_t i = 1; i < line.size(); ++i) {
      const Point a = line[i - 1], b = line[i];
      const double length = std::max(1e-9, std::hypot(b.x - a.x, b.y - a.y));
      const Box box = bounds({a, b});
      for (int y = std::max(0, static_cast<int>(box.y0 - 1.5));
           y < std::min<double>(grid_.height, box.y1 + 1.5); ++y) {
        for (int x = std::max(0, static_cast<int>(box.x0 - 1.5));
             x < std::min<double>(grid_.width, box.x1 + 1.5); ++x) {
          const Point p{x + 0.5, y + 0.5};
          const double t = std::clamp(
              ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / (length * length), 0.0,
              1.0);
          const Point on = a + (b - a) * t;
          const double away = std::hypot(p.x - on.x, p.y - on.y);
          const double share = std::clamp(1 - (away - kThin) / kThin, 0.0, 1.0);
          float& v = value(map, x, y);
          v = std::max(v, static_cast<float>(share));
        }
      }
    }
  }

 private:
  MapGrid& grid_;
};

void draw_line(const Line& line, const MapFrame& frame, Canvas& canvas) {
  const Polyline baseline = in_cells(line.baseline, frame);
  const double x_height = line.x_height * frame.scale / kCellPixels;
  const Point a = baseline.front(), b = baseline.back();
  const double length = std::max(1e-9, std::hypot(b.x - a.x, b.y - a.y));
  const Point along = (b - a) * (1 / length), up{along.y, -along.x};
  Polygon core = baseline;
  for (size_t i = baseline.size(); i-- > 0;) core.push_back(baseline[i] + up * x_height);
  canvas.fill(core, kBandMap);
  canvas.for_each_cell(in_cells(line.outline, frame), [&](int x, int y) {
    canvas.value(kAxisCosMap, x, y) = static_cast<float>(along.x * along.x - along.y * along.y);
    canvas.value(kAxisSinMap, x, y) = static_cast<float>(2 * along.x * along.y);
  });
  canvas.draw(baseline, kBaselineMap);
  for (const auto& [end, outwards] : {std::make_pair(a, -1.0), std::make_pair(b, 1.0)}) {
    const Point foot = end + along * (outwards * kEndAway);
    canvas.draw({foot + up * (kEndUp * x_height), foot - up * (kEndDown * x_height)}, kEndMap);
  }
}

// Straight lines midway between the foot of each row of a table and the head of the next, in the
// frame of the table's text: `u` along it, `v` down.
void draw_row_borders(const Block& table, const MapFrame& frame, Canvas& canvas) {
  if (table.lines.empty() || table.lines.front().baseline.size() < 2) return;
  const Polyline& first = table.lines.front().baseline;
  const Point span = first.back() - first.front();
  const double length = std::hypot(span.x, span.y);
  if (length <= 0) return;
  const Point u = span * (1 / length), v{-u.y, u.x};
  const auto in_frame = [&](Point p) {
    return Point{p.x * u.x + p.y * u.y, p.x * v.x + p.y * v.y};
  };
  std::map<int, Polyline> heads, feet;  // by row
  for (const Cell& cell : table.cells) {
    if (cell.lines.empty() || cell.rows > 1) continue;
    const Line& top = table.lines[static_cast<size_t>(cell.lines.front())];
    const Line& last = table.lines[static_cast<size_t>(cell.lines.back())];
    for (const Point p : {top.baseline.front(), top.baseline.back()})
      heads[cell.row].push_back(in_frame(p) + Point{0, -kHeadUp * top.x_height});
    for (const Point p : {last.baseline.front(), last.baseline.back()})
      feet[cell.row].push_back(in_frame(p) + Point{0, kEndDown * last.x_height});
  }
  double from = 1e18, to = -1e18;
  for (const Point corner : table.outline) {
    const Point p = in_frame(corner);
    from = std::min(from, p.x);
    to = std::max(to, p.x);
  }
  for (const auto& [row, foot] : feet) {
    const auto head = heads.find(row + 1);
    if (head == heads.end()) continue;
    // Least squares over both, each counting half.
    double w = 0, su = 0, sv = 0, suu = 0, suv = 0;
    for (const Polyline* points : std::initializer_list<const Polyline*>{&foot, &head->second}) {
      const double weight = 0.5 / static_cast<double>(points->size());
      for (const Point p : *points) {
        w += weight, su += weight * p.x, sv += weight * p.y;
        suu += weight * p.x * p.x, suv += weight * p.x * p.y;
      }
    }
    const double spread = suu - su * su / w;
    const double slope = spread > 1 ? (suv - su * sv / w) / spread : 0;
    const auto at = [&](double along) {
      const double down = sv / w + slope * (along - su / w);
      return frame.cell_at({along * u.x + down * v.x, along * u.y + down * v.y});
    };
    canvas.draw({at(from), at(to)}, kBorderMap);
  }
}

}  // namespace

MapGrid painted_maps(const KnownPage& known, const MapFrame& frame) {
  MapGrid grid;
  grid.width = frame.width;
  grid.height = frame.height;
  grid.values.assign(static_cast<size_t>(grid.width) * static_cast<size_t>(grid.height) * kPageMaps,
                     0.f);
  Canvas canvas(grid);
  canvas.fill(in_cells(known.sheet, frame), kPaperMap);
  for (const Polygon& rule : known.rules) {
    canvas.fill(in_cells(rule, frame), kRuleMap);
    canvas.draw(in_cells(rule, frame), kRuleMap);
  }
  for (const Polygon& mark : known.marks) canvas.fill(in_cells(mark, frame), kMarkMap);
  for (const Block& block : known.page.blocks) {
    const Polygon outline = in_cells(block.outline, frame);
    if (block.kind == BlockKind::kPicture) canvas.fill(outline, kPictureMap);
    if (block.kind == BlockKind::kTable) {
      canvas.fill(outline, kTableMap);
      draw_row_borders(block, frame, canvas);
    }
    Polyline border = outline;
    if (!border.empty()) border.push_back(border.front());
    canvas.draw(border, kBorderMap);
    for (const Line& line : block.lines) draw_line(line, frame, canvas);
  }
  return grid;
}

}  // namespace burnisher::layout
