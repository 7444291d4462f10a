#include "compose/camera.h"

#include <algorithm>
#include <cmath>

#include "base/multiversion.h"

namespace burnisher::compose {
namespace {

using Matrix = std::array<double, 9>;

Matrix product(const Matrix& a, const Matrix& b) {
  Matrix m{};
  for (size_t r = 0; r < 3; ++r) {
    for (size_t c = 0; c < 3; ++c) {
      for (size_t k = 0; k < 3; ++k) m[3 * r + c] += a[3 * r + k] * b[3 * k + c];
    }
  }
  return m;
}

Matrix inverse(const Matrix& m) {
  const auto minor = [&](size_t a, size_t b, size_t c, size_t d) {
    return m[a] * m[d] - m[b] * m[c];
  };
  const Matrix adjugate = {minor(4, 5, 7, 8),  -minor(1, 2, 7, 8), minor(1, 2, 4, 5),
                           -minor(3, 5, 6, 8), minor(0, 2, 6, 8),  -minor(0, 2, 3, 5),
                           minor(3, 4, 6, 7),  -minor(0, 1, 6, 7), minor(0, 1, 3, 4)};
  const double det = m[0] * adjugate[0] + m[1] * adjugate[3] + m[2] * adjugate[6];
  Matrix out{};
  for (size_t i = 0; i < 9; ++i) out[i] = adjugate[i] / det;
  return out;
}

Point apply(const Matrix& m, Point p) {
  const double w = m[6] * p.x + m[7] * p.y + m[8];
  return {(m[0] * p.x + m[1] * p.y + m[2]) / w, (m[3] * p.x + m[4] * p.y + m[5]) / w};
}

Matrix shift(double x, double y) {
  return {1, 0, x, 0, 1, y, 0, 0, 1};
}

constexpr double kDistance = 2.2;    // of the camera, in sheet diagonals: a hand's view of a page
constexpr int kLinePieces = 8;       // a baseline is followed at so many points and one
constexpr double kCurlReach = 0.16;  // of the sheet's width: how far from the fold a page curls

}  // namespace

double Camera::sink(double x) const {
  if (settings_.fold < 0 || settings_.curl == 0) return 0;
  const double away = std::abs(x - settings_.fold) / (kCurlReach * sheet_width_);
  return settings_.curl * std::exp(-away * away);
}

Camera::Camera(int sheet_width, int sheet_height, const CameraSettings& settings)
    : settings_(settings), sheet_width_(sheet_width), sheet_height_(sheet_height) {
  const double degree = 3.14159265358979 / 180;
  const double turn = (settings.skew + 90 * settings.quarter_turns) * degree;
  const double distance = kDistance * std::hypot(sheet_width_, sheet_height_);
  const double tx = std::sin(settings.tilt_x * degree) / distance;
  const double ty = std::sin(settings.tilt_y * degree) / distance;
  const Matrix tilt = {std::cos(settings.tilt_x * degree),
                       0,
                       0,
                       0,
                       std::cos(settings.tilt_y * degree),
                       0,
                       tx,
                       ty,
                       1};
  const Matrix rotation = {
      std::cos(turn), std::sin(turn), 0, -std::sin(turn), std::cos(turn), 0, 0, 0, 1};
  const Matrix m = product(rotation, product(tilt, shift(-sheet_width_ / 2, -sheet_height_ / 2)));
  // What is seen: the sheet, and a margin of bed round it; a straight sheet fills its scan.
  Polygon corners = Box{0, 0, sheet_width_, sheet_height_}.corners();
  for (Point& p : corners) p = apply(m, p);
  Box seen = bounds(corners);
  if (!settings.window.empty()) {  // its size round its middle
    const Box& window = settings.window;
    const bool turned = settings.quarter_turns % 2 != 0;
    const double w = turned ? window.height() : window.width(),
                 h = turned ? window.width() : window.height();
    const Point c = apply(m, window.centre());
    seen = {c.x - w / 2, c.y - h / 2, c.x + w / 2, c.y + h / 2};
  } else if (settings.margin <= 0) {  // cropped to the sheet's own size
    const bool turned = settings.quarter_turns % 2 != 0;
    const double w = turned ? sheet_height_ : sheet_width_,
                 h = turned ? sheet_width_ : sheet_height_;
    const Point c = apply(m, {sheet_width_ / 2, sheet_height_ / 2});
    seen = {c.x - w / 2, c.y - h / 2, c.x + w / 2, c.y + h / 2};
  } else {
    const double more = settings.margin * std::max(sheet_width_, sheet_height_);
    seen = {seen.x0 - more, seen.y0 - more, seen.x1 + more, seen.y1 + more};
  }
  width_ = static_cast<int>(std::lround(seen.width()));
  height_ = static_cast<int>(std::lround(seen.height()));
  forward_ = product(shift(-seen.x0, -seen.y0), m);
  backward_ = inverse(forward_);
}

Point Camera::to_scan(Point p) const {
  return apply(forward_, {p.x, p.y + sink(p.x)});
}

Point Camera::to_sheet(Point p) const {
  const Point q = apply(backward_, p);
  return {q.x, q.y - sink(q.x)};
}

BURNISHER_MULTIVERSION FloatImage Camera::seen(const FloatImage& sheet_ink) const {
  FloatImage out(width_, height_);
  const int last_x = sheet_ink.width() - 1, last_y = sheet_ink.height() - 1;
  const Homography& m = backward_;
  const bool curled = settings_.fold >= 0 && settings_.curl != 0;
  for (int y = 0; y < height_; ++y) {
    float* to = out.row(y);
    // Along a row, numerators and denominator of the homography grow by the same steps.
    double nx = m[0] * 0.5 + m[1] * (y + 0.5) + m[2], ny = m[3] * 0.5 + m[4] * (y + 0.5) + m[5];
    double w = m[6] * 0.5 + m[7] * (y + 0.5) + m[8];
    for (int x = 0; x < width_; ++x, nx += m[0], ny += m[3], w += m[6]) {
      Point p{nx / w, ny / w};
      if (curled) p.y -= sink(p.x);
      if (p.x < 0 || p.y < 0 || p.x >= sheet_ink.width() || p.y >= sheet_ink.height()) {
        to[x] = settings_.bed;
        continue;
      }
      const double u = std::clamp(p.x - 0.5, 0.0, double(last_x)),
                   v = std::clamp(p.y - 0.5, 0.0, double(last_y));
      const int i = std::min(static_cast<int>(u), last_x - 1),
                j = std::min(static_cast<int>(v), last_y - 1);
      const float a = static_cast<float>(u - i), b = static_cast<float>(v - j);
      const float *upper = sheet_ink.row(j) + i, *lower = sheet_ink.row(j + 1) + i;
      to[x] =
          (1 - b) * ((1 - a) * upper[0] + a * upper[1]) + b * ((1 - a) * lower[0] + a * lower[1]);
    }
  }
  return out;
}

void Camera::move(ComposedPage& page) const {
  const auto line_moved = [&](const Polyline& line) {
    Polyline out;
    for (size_t i = 1; i < line.size(); ++i) {
      for (int k = i == 1 ? 0 : 1; k <= kLinePieces; ++k)
        out.push_back(to_scan(line[i - 1] + (line[i] - line[i - 1]) * (double(k) / kLinePieces)));
    }
    return out;
  };
  const auto polygon_moved = [&](Polygon polygon) {
    if (polygon.empty()) return polygon;
    polygon.push_back(polygon.front());
    polygon = line_moved(polygon);
    polygon.pop_back();
    return polygon;
  };
  const auto box_moved = [&](const Box& box) { return bounds(polygon_moved(box.corners())); };
  for (Block& block : page.truth.blocks) {
    block.outline = polygon_moved(block.outline);
    for (Line& line : block.lines) {
      const Point middle = (line.baseline.front() + line.baseline.back()) * 0.5;
      const Point here = to_scan(middle), above = to_scan(middle + Point{0, -line.x_height});
      line.x_height = std::hypot(above.x - here.x, above.y - here.y);
      line.baseline = line_moved(line.baseline);
      line.outline = polygon_moved(line.outline);
      line.box = box_moved(line.box);
      for (Word& word : line.words) word.box = box_moved(word.box);
    }
    for (Cell& cell : block.cells) cell.box = box_moved(cell.box);
  }
  for (Polygon& p : page.rules) p = polygon_moved(p);
  for (Polygon& p : page.marks) p = polygon_moved(p);
  page.sheet = polygon_moved(page.sheet);
  page.truth.width = width_;
  page.truth.height = height_;
}

}  // namespace burnisher::compose
