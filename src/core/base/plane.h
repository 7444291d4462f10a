// Points, boxes and affine maps of the picture plane: x right, y down, pixel centres at +0.5.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

namespace burnisher {

struct Point {
  double x = 0;
  double y = 0;
};

inline Point operator+(Point a, Point b) {
  return {a.x + b.x, a.y + b.y};
}
inline Point operator-(Point a, Point b) {
  return {a.x - b.x, a.y - b.y};
}
inline Point operator*(Point a, double f) {
  return {a.x * f, a.y * f};
}

using Polyline = std::vector<Point>;
using Polygon = std::vector<Point>;

// Half-open: covers x0 <= x < x1.
struct Box {
  double x0 = 0, y0 = 0, x1 = 0, y1 = 0;

  double width() const { return x1 - x0; }
  double height() const { return y1 - y0; }
  bool empty() const { return x1 <= x0 || y1 <= y0; }
  Point centre() const { return {(x0 + x1) / 2, (y0 + y1) / 2}; }
  bool contains(Point p) const { return p.x >= x0 && p.x < x1 && p.y >= y0 && p.y < y1; }
  Polygon corners() const { return {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}; }
};

inline Box united(const Box& a, const Box& b) {
  if (a.empty()) return b;
  if (b.empty()) return a;
  return {std::min(a.x0, b.x0), std::min(a.y0, b.y0), std::max(a.x1, b.x1), std::max(a.y1, b.y1)};
}

inline double overlap(double a0, double a1, double b0, double b1) {
  return std::max(0.0, std::min(a1, b1) - std::max(a0, b0));
}

inline Box bounds(const std::vector<Point>& points) {
  if (points.empty()) return {};
  Box box{points[0].x, points[0].y, points[0].x, points[0].y};
  for (const Point& p : points) {
    box.x0 = std::min(box.x0, p.x);
    box.y0 = std::min(box.y0, p.y);
    box.x1 = std::max(box.x1, p.x);
    box.y1 = std::max(box.y1, p.y);
  }
  return box;
}

// Whether a point lies in an outline: how often a ray from it crosses that is odd.
inline bool inside(const Polygon& outline, Point p) {
  bool odd = false;
  for (size_t i = 0, k = outline.size() - 1; i < outline.size(); k = i++) {
    const Point &a = outline[i], &b = outline[k];
    if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x)
      odd = !odd;
  }
  return odd;
}

// The height of a line that runs from left to right at `x`; beyond its ends, that of the end.
inline double height_at(const Polyline& line, double x) {
  if (x <= line.front().x) return line.front().y;
  for (size_t i = 1; i < line.size(); ++i) {
    if (x > line[i].x) continue;
    const double t = (x - line[i - 1].x) / std::max(1e-9, line[i].x - line[i - 1].x);
    return line[i - 1].y + t * (line[i].y - line[i - 1].y);
  }
  return line.back().y;
}

// (x, y) -> (a x + b y + c, d x + e y + f).
struct Affine {
  double a = 1, b = 0, c = 0;
  double d = 0, e = 1, f = 0;

  Point operator()(Point p) const { return {a * p.x + b * p.y + c, d * p.x + e * p.y + f}; }
  Affine inverse() const {
    const double det = a * e - b * d;
    return {e / det, -b / det, (b * f - c * e) / det, -d / det, a / det, (c * d - a * f) / det};
  }
  bool is_identity() const { return a == 1 && b == 0 && c == 0 && d == 0 && e == 1 && f == 0; }
  static Affine shift(double x, double y) { return {1, 0, x, 0, 1, y}; }
  // Turns counter-clockwise as seen (y runs down) about the origin.
  static Affine turn(double degrees) {
    const double r = degrees * 3.14159265358979323846 / 180;
    return {std::cos(r), std::sin(r), 0, -std::sin(r), std::cos(r), 0};
  }
};

// First `second`, then `first`.
inline Affine operator*(const Affine& first, const Affine& second) {
  return {first.a * second.a + first.b * second.d,
          first.a * second.b + first.b * second.e,
          first.a * second.c + first.b * second.f + first.c,
          first.d * second.a + first.e * second.d,
          first.d * second.b + first.e * second.e,
          first.d * second.c + first.e * second.f + first.f};
}

}  // namespace burnisher
