#include "clean/perspective.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "clean/text_rows.h"

namespace burnisher::clean {
namespace {

constexpr double kDegree = 3.14159265358979323846 / 180;  // in radians
constexpr double kLeastConverging = 0.7 * kDegree;        // over the picture; less is no photograph
constexpr double kClearlyConverging = 2 * kDegree;        // curl makes lines converge by less
constexpr size_t kFewestLetters = 10;                     // in a row whose slope counts
constexpr double kLeastSpan = 0.15;                       // of the width, for such a row
constexpr size_t kFewestRows = 8;
constexpr double kLeastReach = 0.3;  // of the height (width), between first and last line
constexpr double kMostSpread = 0.25 * kDegree;  // median deviation of slopes from their pencil
constexpr size_t kFewestStarts = 6;             // rows that begin on one line
constexpr double kOnMargin = 0.35;              // text heights from it
constexpr double kBeyond = 2.5;  // text heights: rows that begin so near to it ought to be on it
constexpr double kShareOnMargin = 0.6;  // of those
constexpr double kSteepest = 0.36;      // slope of a margin: 20 degrees
constexpr size_t kSamples = 60;         // ends of rows that pairs are made of
constexpr int kMostMargins = 4;         // on either side of the rows

// A line of a pencil, seen from the middle of the picture: its slope where it passes `at`. Of level
// lines the slope is dy/dx; for upright ones x and y change places.
struct Ray {
  Point at;
  double slope, weight;
};

// Slopes are slope + turning * (slope_of_ray * x - y): the direction from (x, y) to the vanishing
// point (1, slope, turning).
struct Pencil {
  double slope = 0, turning = 0;
  double at(Point p) const { return (slope - turning * p.y) / (1 - turning * p.x); }
};

// Weighted least squares, three rounds with Huber's weights. False: the rays don't tell.
bool fit(const std::vector<Ray>& rays, double most_spread, Pencil& pencil) {
  for (int round = 0; round < 3; ++round) {
    double n = 0, t = 0, s = 0, tt = 0, ts = 0;
    for (const Ray& ray : rays) {
      const double term = ray.slope * ray.at.x - ray.at.y;
      const double away = std::fabs(ray.slope - pencil.at(ray.at)) / (0.3 * kDegree);
      const double w = ray.weight * (round == 0 || away < 1 ? 1 : 1 / away);
      n += w, t += w * term, s += w * ray.slope;
      tt += w * term * term, ts += w * term * ray.slope;
    }
    const double spread = n * tt - t * t;
    if (spread <= 1e-9 * n * n) return false;
    pencil.turning = (n * ts - t * s) / spread;
    pencil.slope = (s - pencil.turning * t) / n;
  }
  std::vector<double> off;
  for (const Ray& ray : rays) off.push_back(std::fabs(ray.slope - pencil.at(ray.at)));
  return median(off) < most_spread;
}

double reach_of(const std::vector<Ray>& rays) {
  double low = 1e9, high = -1e9;
  for (const Ray& ray : rays) low = std::min(low, ray.at.y), high = std::max(high, ray.at.y);
  return rays.empty() ? 0 : high - low;
}

// The slope of a row's feet: the median of slopes between letters half a row apart (Theil 1950).
double slope_of(const TextRow& row) {
  std::vector<double> slopes;
  const size_t half = row.feet.size() / 2;
  for (size_t i = 0; i + half < row.feet.size(); ++i) {
    const Point step = row.feet[i + half] - row.feet[i];
    if (step.x > 0) slopes.push_back(step.y / step.x);
  }
  return slopes.empty() ? 0 : median(slopes);
}

std::vector<Ray> rays_of_rows(const std::vector<TextRow>& rows, Point middle, double width) {
  std::vector<Ray> rays;
  for (const TextRow& row : rows) {
    const double span = row.x1 - row.x0;
    if (row.feet.size() < kFewestLetters || span < kLeastSpan * width) continue;
    const Point at = row.feet[row.feet.size() / 2] - middle;
    rays.push_back({at, slope_of(row), span / width});
  }
  return rays;
}

// Margins: lines that many rows begin (or end) on, though not all that come near need do so.
// `ends`: x is where the row begins, y where it stands. The result has x and y exchanged.
std::vector<Ray> margins_of(std::vector<Point> ends, double text_height, Point middle) {
  std::vector<Ray> rays;
  const double near = kOnMargin * text_height;
  for (int found = 0; found < kMostMargins; ++found) {
    double best_lean = 0, best_x = 0;
    size_t most = 0;
    const size_t step = std::max<size_t>(1, ends.size() / kSamples);
    for (size_t i = 0; i < ends.size(); i += step) {
      for (size_t k = 0; k < ends.size(); k += step) {
        if (ends[k].y - ends[i].y < 6 * text_height) continue;
        const double lean = (ends[k].x - ends[i].x) / (ends[k].y - ends[i].y);
        if (std::fabs(lean) > kSteepest) continue;
        size_t on = 0;
        for (const Point& p : ends)
          on += std::fabs(p.x - (ends[i].x + lean * (p.y - ends[i].y))) < near;
        if (on > most) most = on, best_lean = lean, best_x = ends[i].x - lean * ends[i].y;
      }
    }
    if (most < kFewestStarts) break;
    const auto off = [&](const Point& p) { return p.x - (best_x + best_lean * p.y); };
    double low = 1e9, high = -1e9, n = 0, y = 0, x = 0, yy = 0, xy = 0;
    for (const Point& p : ends) {
      if (std::fabs(off(p)) >= near) continue;
      low = std::min(low, p.y), high = std::max(high, p.y);
      n += 1, y += p.y, x += p.x, yy += p.y * p.y, xy += p.x * p.y;
    }
    double ought = 0;
    for (const Point& p : ends)
      ought += p.y >= low && p.y <= high && std::fabs(off(p)) < kBeyond * text_height;
    if (n >= kShareOnMargin * ought) {
      const double lean = (n * xy - x * y) / (n * yy - y * y);
      rays.push_back({{y / n - middle.y, x / n - middle.x}, lean, n});
    }
    ends.erase(std::remove_if(ends.begin(), ends.end(),
                              [&](const Point& p) { return std::fabs(off(p)) < near; }),
               ends.end());
  }
  return rays;
}

Ray ray_of(const Edge& edge, double along_middle, double across_middle) {
  return {{0, edge.across(along_middle) - across_middle}, edge.slope, 1};
}

struct Told {
  Pencil pencil;
  bool known = false;
};

// Of two opposite edges.
Told told_by(const Edge& one, const Edge& other, double along_middle, double across_middle) {
  Told told;
  told.known =
      fit({ray_of(one, along_middle, across_middle), ray_of(other, along_middle, across_middle)}, 1,
          told.pencil);
  return told;
}

Told level_lines(const std::vector<TextRow>& rows, const SheetOutline& outline, Point middle) {
  Told told;
  if (outline.top && outline.bottom)
    return told_by(*outline.top, *outline.bottom, middle.x, middle.y);
  const std::vector<Ray> rays = rays_of_rows(rows, middle, 2 * middle.x);
  if (rays.size() >= kFewestRows && reach_of(rays) > kLeastReach * 2 * middle.y)
    told.known = fit(rays, kMostSpread, told.pencil);
  return told;
}

Told upright_lines(const std::vector<TextRow>& rows, double text_height,
                   const SheetOutline& outline, Point middle) {
  Told told;
  if (outline.left && outline.right)
    return told_by(*outline.left, *outline.right, middle.y, middle.x);
  std::vector<Point> starts, ends;
  for (const TextRow& row : rows) {
    if (row.feet.size() < 4) continue;
    starts.push_back({row.x0, row.feet.front().y});
    ends.push_back({row.x1, row.feet.back().y});
  }
  std::vector<Ray> rays = margins_of(std::move(starts), text_height, middle);
  for (const Ray& ray : margins_of(std::move(ends), text_height, middle)) rays.push_back(ray);
  if (rays.size() >= 2 && reach_of(rays) > kLeastReach * 2 * middle.x)
    told.known = fit(rays, kMostSpread, told.pencil);
  return told;
}

}  // namespace

std::optional<Perspective> perspective_of(const std::vector<Component>& components,
                                          double text_height, const SheetOutline& outline,
                                          int width, int height) {
  const Point middle{width / 2.0, height / 2.0};
  std::vector<TextRow> rows;
  if (text_height > 0) rows = text_rows(components, text_height);
  for (TextRow& row : rows) {
    if (row.feet.size() >= kFewestLetters) drop_descenders(text_height, row);
  }
  Told level = level_lines(rows, outline, middle);
  Told upright = upright_lines(rows, text_height, outline, middle);
  if (!level.known && !upright.known) return std::nullopt;
  const double of_level = level.known ? std::fabs(level.pencil.turning) * height : 0,
               of_upright = upright.known ? std::fabs(upright.pencil.turning) * width : 0;
  if (std::max(of_level, of_upright) < kLeastConverging) return std::nullopt;
  // Without ground round the sheet the rows must say so: margins can lean by chance.
  if (outline.edges() < 3 && of_level < kClearlyConverging) return std::nullopt;
  // What is not told stands square to the other.
  if (!level.known) level.pencil = {-upright.pencil.slope, 0};
  if (!upright.known) upright.pencil = {-level.pencil.slope, 0};
  const Pencil &along = level.pencil, &down = upright.pencil;
  const double a = 1 / std::hypot(1, along.slope), b = 1 / std::hypot(1, down.slope);
  Perspective found;
  found.to_picture = Affine::shift(middle.x, middle.y) *
                     Projective{Affine{a, b * down.slope, 0, a * along.slope, b, 0},
                                a * along.turning, b * down.turning};
  found.converging = std::max(of_level, of_upright) / kDegree;
  return found;
}

}  // namespace burnisher::clean
