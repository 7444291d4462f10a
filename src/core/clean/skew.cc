#include "clean/skew.h"

#include <algorithm>
#include <cmath>

namespace burnisher::clean {
namespace {

constexpr double kDegree = 3.14159265358979323846 / 180;  // in radians
constexpr int kFewestWitnesses = 15;                      // feature points; fewer say nothing
constexpr double kRowStep = 0.12;  // text heights between neighbours in one row's lower edges
// Points on one row, and pairs far apart on rows, for the last hundredths.
constexpr size_t kFewestInRow = 10, kFewestPairs = 12;
constexpr double kConvincing = 1.6;  // peak over the median of all angles; seen on text: 2 to 12

std::vector<Point> feature_points(const std::vector<Component>& components, double text_height) {
  std::vector<Point> bottoms;
  for (const Component& c : components) {
    const bool letter = c.height() > 0.5 * text_height && c.height() < 2.6 * text_height &&
                        c.width() > 0.2 * text_height && c.width() < 6 * text_height;
    if (letter) bottoms.push_back({(c.x0 + c.x1) / 2.0, static_cast<double>(c.y1)});
  }
  return bottoms;
}

// Content that stands counter-clockwise by `degrees` is level along this height.
double level(const Point& p, double degrees) {
  return p.y * std::cos(degrees * kDegree) + p.x * std::sin(degrees * kDegree);
}

// Sum of squares of the row histogram, soft-binned so that it changes smoothly with the angle.
double sharpness(const std::vector<Point>& points, double degrees, double bin) {
  double low = 1e18, high = -1e18;
  for (const Point& p : points) {
    const double y = level(p, degrees);
    low = std::min(low, y);
    high = std::max(high, y);
  }
  std::vector<double> rows(static_cast<size_t>((high - low) / bin) + 3, 0.0);
  for (const Point& p : points) {
    const double at = (level(p, degrees) - low) / bin;
    const auto row = static_cast<size_t>(at);
    const double share = at - static_cast<double>(row);
    rows[row] += 1 - share;
    rows[row + 1] += share;
  }
  double sum = 0;
  for (double r : rows) sum += r * r;
  return sum;
}

double sharpest(const std::vector<Point>& points, double from, double to, double step, double bin) {
  double best = -1, at = 0;
  for (double angle = from; angle <= to + step / 2; angle += step) {
    const double s = sharpness(points, angle, bin);
    // Nearest to level wins among equals.
    if (s > best * 1.000001 || (s > best * 0.999999 && std::fabs(angle) < std::fabs(at))) {
      best = s;
      at = angle;
    }
  }
  return at;
}

// What is left of the angle after `degrees`, from pairs of letters far apart on one row: the median
// of their slopes, weighted by their distance. Descenders are outvoted.
double remaining(const std::vector<Point>& points, double degrees, double text_height) {
  std::vector<Point> level_points;  // x along the rows, y across
  const double c = std::cos(degrees * kDegree), s = std::sin(degrees * kDegree);
  for (const Point& p : points) level_points.push_back({p.x * c - p.y * s, level(p, degrees)});
  std::sort(level_points.begin(), level_points.end(),
            [](const Point& a, const Point& b) { return a.y < b.y; });
  std::vector<std::pair<double, double>> slopes;  // slope, weight
  double total = 0;
  for (size_t start = 0; start < level_points.size();) {
    size_t end = start + 1;
    while (end < level_points.size() &&
           level_points[end].y - level_points[end - 1].y < kRowStep * text_height)
      ++end;
    std::vector<Point> row(level_points.begin() + static_cast<long>(start),
                           level_points.begin() + static_cast<long>(end));
    start = end;
    if (row.size() < kFewestInRow) continue;
    std::sort(row.begin(), row.end(), [](const Point& a, const Point& b) { return a.x < b.x; });
    for (size_t i = 0, half = row.size() / 2; i + half < row.size(); ++i) {
      const double run = row[i + half].x - row[i].x;
      if (run < 8 * text_height) continue;
      slopes.emplace_back((row[i + half].y - row[i].y) / run, run);
      total += run;
    }
  }
  if (slopes.size() < kFewestPairs) return 0;
  std::sort(slopes.begin(), slopes.end());
  double passed = 0;
  for (const auto& [slope, weight] : slopes) {
    passed += weight;
    if (passed >= total / 2) return -std::atan(slope) / kDegree;
  }
  return 0;
}

}  // namespace

Skew skew_of(const std::vector<Component>& components, double text_height, double limit) {
  const std::vector<Point> points = feature_points(components, text_height);
  Skew skew;
  if (text_height <= 0 || static_cast<int>(points.size()) < kFewestWitnesses) return skew;
  const double coarse_bin = std::max(1.0, 0.35 * text_height);
  std::vector<double> all;
  double best = -1, at = 0;
  for (double angle = -limit; angle <= limit + 1e-9; angle += 0.5) {
    all.push_back(sharpness(points, angle, coarse_bin));
    if (all.back() > best) {
      best = all.back();
      at = angle;
    }
  }
  at = sharpest(points, at - 0.6, at + 0.6, 0.1, std::max(1.0, 0.2 * text_height));
  at = sharpest(points, at - 0.12, at + 0.12, 0.01, std::max(0.7, 0.1 * text_height));
  const double rest = remaining(points, at, text_height);
  if (std::fabs(rest) < 0.25) at += rest;
  std::nth_element(all.begin(), all.begin() + static_cast<long>(all.size() / 2), all.end());
  const double ratio = best / all[all.size() / 2];
  skew.confidence = std::clamp((ratio - 1) / (kConvincing - 1), 0.0, 1.0);
  skew.degrees = skew.confidence > 0.3 ? at : 0;
  return skew;
}

}  // namespace burnisher::clean
