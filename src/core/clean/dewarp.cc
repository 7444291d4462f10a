#include "clean/dewarp.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "clean/text_rows.h"

namespace burnisher::clean {
namespace {

constexpr int kAlong = 6, kAcross = 3;  // terms of the surface: x ... x^6, each times 1, y, y^2
constexpr int kTerms = kAlong * kAcross;
constexpr size_t kFewestLetters = 14;  // in a line that counts
constexpr double kLeastSpan = 0.22;    // of the page's width
constexpr int kFewestLines = 4;        // of text; fewer do not tell a surface
constexpr double kWorthIt = 1.0 / 6;   // text heights; smaller bends do no harm
constexpr double kBetter = 0.75;       // what is left must be below this share of what was there
constexpr double kSteepest = 0.35;     // slopes beyond this are no page

using Terms = Eigen::Matrix<double, kTerms, 1>;

// x and y from -1 to 1 over the page.
Terms terms_at(double x, double y) {
  Terms t;
  double power = 1;
  for (int i = 0; i < kAlong; ++i) {
    power *= x;
    t[i * kAcross] = power;
    t[i * kAcross + 1] = power * y;
    t[i * kAcross + 2] = power * y * y;
  }
  return t;
}

struct Surface {
  double width = 1, height = 1;
  Terms weights = Terms::Zero();
  Terms terms(Point p) const {
    return terms_at(std::clamp(2 * p.x / width - 1, -1.0, 1.0),
                    std::clamp(2 * p.y / height - 1, -1.0, 1.0));
  }
  double at(Point p) const { return weights.dot(terms(p)); }
};

// Distances of a row's feet from the surface, less their median: every line has its own height.
std::vector<double> leftovers(const TextRow& row, const Surface& surface) {
  std::vector<double> rest;
  for (const Point& p : row.feet) rest.push_back(p.y - surface.at(p));
  const double middle = median(rest);
  for (double& r : rest) r -= middle;
  return rest;
}

double typical(const std::vector<TextRow>& rows, const Surface& surface) {
  std::vector<double> ends;
  for (const TextRow& row : rows) {
    std::vector<double> rest = leftovers(row, surface);
    for (double& r : rest) r = std::fabs(r);
    std::sort(rest.begin(), rest.end());
    ends.push_back(rest[rest.size() * 9 / 10]);
  }
  return median(ends);
}

// Least squares over all rows, rows' heights eliminated by centring; three rounds with Huber's
// weights, so that stray letters pull little.
void fit(const std::vector<TextRow>& rows, double text_height, Surface& surface) {
  for (int round = 0; round < 3; ++round) {
    Eigen::Matrix<double, kTerms, kTerms> normal =
        Eigen::Matrix<double, kTerms, kTerms>::Identity() * 1e-3;
    Terms right = Terms::Zero();
    for (const TextRow& row : rows) {
      const std::vector<double> rest = leftovers(row, surface);
      std::vector<double> weight;
      Terms mean = Terms::Zero();
      double mean_y = 0, total = 0;
      for (size_t i = 0; i < row.feet.size(); ++i) {
        const double away = std::fabs(rest[i]) / (0.08 * text_height);
        weight.push_back(round == 0 || away < 1 ? 1 : 1 / away);
        mean += surface.terms(row.feet[i]) * weight[i];
        mean_y += row.feet[i].y * weight[i];
        total += weight[i];
      }
      mean /= total;
      mean_y /= total;
      for (size_t i = 0; i < row.feet.size(); ++i) {
        const Terms t = surface.terms(row.feet[i]) - mean;
        normal += weight[i] * t * t.transpose();
        right += weight[i] * (row.feet[i].y - mean_y) * t;
      }
    }
    surface.weights = normal.ldlt().solve(right);
  }
}

}  // namespace

Dewarping dewarping_of(const std::vector<Component>& components, double text_height, int width,
                       int height) {
  Dewarping curl;
  if (text_height <= 0) return curl;
  std::vector<TextRow> rows = text_rows(components, text_height);
  for (TextRow& row : rows) {
    if (row.feet.size() >= kFewestLetters) drop_descenders(text_height, row);
  }
  rows.erase(std::remove_if(rows.begin(), rows.end(),
                            [&](const TextRow& row) {
                              return row.feet.size() < kFewestLetters ||
                                     row.feet.back().x - row.feet.front().x < kLeastSpan * width;
                            }),
             rows.end());
  if (static_cast<int>(rows.size()) < kFewestLines) return curl;
  Surface surface{static_cast<double>(width), static_cast<double>(height), Terms::Zero()};
  curl.before = typical(rows, surface) / text_height;
  curl.after = curl.before;
  if (curl.before < kWorthIt) return curl;
  fit(rows, text_height, surface);
  curl.after = typical(rows, surface) / text_height;
  if (curl.after > kBetter * curl.before) return curl;
  // The surface is only known where there are lines: beyond them their own shifts go on.
  std::vector<Point> all;
  for (const TextRow& row : rows) all.insert(all.end(), row.feet.begin(), row.feet.end());
  const Box known = bounds(all);
  auto bend = std::make_shared<DisplacementField>();
  bend->step = std::max(8.0, 1.5 * text_height);
  bend->columns = static_cast<int>(std::ceil(width / bend->step)) + 1;
  bend->rows = static_cast<int>(std::ceil(height / bend->step)) + 1;
  for (int r = 0; r < bend->rows; ++r) {
    for (int c = 0; c < bend->columns; ++c) {
      const Point p{std::clamp(c * bend->step, known.x0, known.x1),
                    std::clamp(r * bend->step, known.y0, known.y1)};
      bend->down.push_back(static_cast<float>(surface.at(p)));
    }
  }
  // The page's flattest part stays where it is.
  std::vector<double> shifts(bend->down.begin(), bend->down.end());
  const auto middle = static_cast<float>(median(shifts));
  for (float& d : bend->down) d -= middle;
  for (int r = 0; r < bend->rows; ++r) {
    for (int c = 1; c < bend->columns; ++c) {
      const size_t k = static_cast<size_t>(r * bend->columns + c);
      if (std::fabs(bend->down[k] - bend->down[k - 1]) > kSteepest * bend->step) return curl;
    }
  }
  curl.displacement = bend;
  return curl;
}

}  // namespace burnisher::clean
