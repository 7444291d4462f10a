#include "train/page_targets.h"

#include <algorithm>
#include <cmath>

#include "raster/convert.h"

namespace burnisher::train {
namespace {

using layout::kCellPixels;
using layout::kPageMaps;
using layout::PageMaps;

// Lengths in cells.
constexpr double kThin = 0.55;  // half the breadth of baselines, line ends and borders
constexpr double kEndAway = 0.5;
// Lengths in x-heights.
constexpr double kEndUp = 1.2, kEndDown = 0.3;  // how far a line's end reaches

// From scan pixels to cells of the window.
struct ToCells {
  double factor = 1;
  Point origin;  // of the window, in pixels of the scaled page
  Point operator()(Point p) const { return (p * factor - origin) * (1.0 / kCellPixels); }
  Polyline operator()(Polyline line) const {
    for (Point& p : line) p = (*this)(p);
    return line;
  }
};

class Canvas {
 public:
  explicit Canvas(PageMaps& maps) : maps_(maps) {}

  float& value(int map, int x, int y) {
    return maps_.values[(static_cast<size_t>(y) * static_cast<size_t>(maps_.width) +
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
         y < std::min<double>(maps_.height, box.y1 + 1); ++y) {
      crossings.clear();
      const double at = y + 0.5;
      for (size_t i = 0; i < polygon.size(); ++i) {
        const Point a = polygon[i], b = polygon[(i + 1) % polygon.size()];
        if ((a.y <= at) == (b.y <= at)) continue;
        crossings.push_back(a.x + (at - a.y) / (b.y - a.y) * (b.x - a.x));
      }
      std::sort(crossings.begin(), crossings.end());
      for (size_t i = 0; i + 1 < crossings.size(); i += 2) {
        const int last = std::min(maps_.width, static_cast<int>(std::ceil(crossings[i + 1] - 0.5)));
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
           y < std::min<double>(maps_.height, box.y1 + 1.5); ++y) {
        for (int x = std::max(0, static_cast<int>(box.x0 - 1.5));
             x < std::min<double>(maps_.width, box.x1 + 1.5); ++x) {
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
  PageMaps& maps_;
};

void draw_line(const Line& line, const ToCells& cells, Canvas& canvas) {
  const Polyline baseline = cells(line.baseline);
  const double x_height = line.x_height * cells.factor / kCellPixels;
  const Point a = baseline.front(), b = baseline.back();
  const double length = std::max(1e-9, std::hypot(b.x - a.x, b.y - a.y));
  const Point along = (b - a) * (1 / length), up{along.y, -along.x};
  Polygon core = baseline;
  for (size_t i = baseline.size(); i-- > 0;) core.push_back(baseline[i] + up * x_height);
  canvas.fill(core, layout::kCoreMap);
  canvas.for_each_cell(cells(line.outline), [&](int x, int y) {
    canvas.value(layout::kAlongXMap, x, y) = static_cast<float>(along.x);
    canvas.value(layout::kAlongYMap, x, y) = static_cast<float>(along.y);
  });
  canvas.draw(baseline, layout::kBaselineMap);
  for (const auto& [end, outwards] : {std::make_pair(a, -1.0), std::make_pair(b, 1.0)}) {
    const Point foot = end + along * (outwards * kEndAway);
    canvas.draw({foot + up * (kEndUp * x_height), foot - up * (kEndDown * x_height)},
                layout::kEndMap);
  }
}

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
  PageMaps& maps = out.truth;
  maps.width = width / kCellPixels;
  maps.height = height / kCellPixels;
  maps.values.assign(static_cast<size_t>(maps.width) * static_cast<size_t>(maps.height) * kPageMaps,
                     0.f);
  Canvas canvas(maps);
  const ToCells cells{factor, {static_cast<double>(left), static_cast<double>(top)}};
  canvas.fill(cells(composed.sheet), layout::kPaperMap);
  for (const Polygon& p : composed.rules) {
    canvas.fill(cells(p), layout::kRuleMap);
    canvas.draw(cells(p), layout::kRuleMap);
  }
  for (const Polygon& p : composed.marks) canvas.fill(cells(p), layout::kMarkMap);
  for (const Block& block : composed.truth.blocks) {
    const Polygon outline = cells(block.outline);
    if (block.kind == BlockKind::kPicture) canvas.fill(outline, layout::kPictureMap);
    if (block.kind == BlockKind::kTable) canvas.fill(outline, layout::kTableMap);
    Polyline border = outline;
    if (!border.empty()) border.push_back(border.front());
    canvas.draw(border, layout::kBorderMap);
    for (const Line& line : block.lines) draw_line(line, cells, canvas);
  }
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
  const double size = std::clamp(std::exp(0.12 * random.normal()), 0.7, 1.4);
  const double factor = size * layout::kPageXHeight / composed.x_height;
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
