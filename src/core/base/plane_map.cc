#include "base/plane_map.h"

namespace burnisher {

double DisplacementField::at(Point p) const {
  const double x = std::clamp(p.x / step, 0.0, columns - 1.0),
               y = std::clamp(p.y / step, 0.0, rows - 1.0);
  const int c = std::min(static_cast<int>(x), std::max(0, columns - 2)),
            r = std::min(static_cast<int>(y), std::max(0, rows - 2));
  const int c1 = std::min(c + 1, columns - 1), r1 = std::min(r + 1, rows - 1);
  const auto knot = [&](int column, int row) {
    return static_cast<double>(down[static_cast<size_t>(row * columns + column)]);
  };
  const double fx = x - c, fy = y - r;
  const double upper = knot(c, r) * (1 - fx) + knot(c1, r) * fx;
  const double lower = knot(c, r1) * (1 - fx) + knot(c1, r1) * fx;
  return upper * (1 - fy) + lower * fy;
}

double DisplacementField::largest() const {
  float most = 0;
  for (float d : down) most = std::max(most, std::fabs(d));
  return most;
}

Projective Projective::inverse() const {
  if (is_affine()) return affine.inverse();
  const Affine& m = affine;
  // The adjugate, divided by its last element.
  const double last = m.a * m.e - m.b * m.d, by = 1 / last;
  return {{(m.e - m.f * h) * by, (m.c * h - m.b) * by, (m.b * m.f - m.c * m.e) * by,
           (m.f * g - m.d) * by, (m.a - m.c * g) * by, (m.c * m.d - m.a * m.f) * by},
          (m.d * h - m.e * g) * by,
          (m.b * g - m.a * h) * by};
}

Projective operator*(const Projective& first, const Projective& second) {
  if (first.is_affine() && second.is_affine()) return first.affine * second.affine;
  const Affine &p = first.affine, &q = second.affine;
  const double by = 1 / (first.g * q.c + first.h * q.f + 1);
  return {
      {(p.a * q.a + p.b * q.d + p.c * second.g) * by, (p.a * q.b + p.b * q.e + p.c * second.h) * by,
       (p.a * q.c + p.b * q.f + p.c) * by, (p.d * q.a + p.e * q.d + p.f * second.g) * by,
       (p.d * q.b + p.e * q.e + p.f * second.h) * by, (p.d * q.c + p.e * q.f + p.f) * by},
      (first.g * q.a + first.h * q.d + second.g) * by,
      (first.g * q.b + first.h * q.e + second.h) * by};
}

Point PlaneMap::back(Point q) const {
  const Point bent = plane_.inverse()(q);
  if (!displacement_) return bent;
  Point p = bent;
  for (int i = 0; i < 12; ++i) p.y = bent.y - displacement_->at(p);
  return p;
}

double PlaneMap::scale(Point p) const {
  const Affine& m = plane_.affine;
  if (plane_.is_affine()) return std::sqrt(std::fabs(m.a * m.e - m.b * m.d));
  const Point q = plane_(p);
  const double w = plane_.g * p.x + plane_.h * p.y + 1;
  const double xx = m.a - q.x * plane_.g, xy = m.b - q.x * plane_.h;
  const double yx = m.d - q.y * plane_.g, yy = m.e - q.y * plane_.h;
  return std::sqrt(std::fabs(xx * yy - xy * yx)) / std::fabs(w);
}

PlaneMap shifted(const PlaneMap& map, double x, double y) {
  const Projective plane = map.plane() * Affine::shift(x, y);
  if (!map.displacement()) return plane;
  const DisplacementField& whole = *map.displacement();
  auto part = std::make_shared<DisplacementField>(whole);
  for (int r = 0; r < part->rows; ++r) {
    for (int c = 0; c < part->columns; ++c) {
      part->down[static_cast<size_t>(r * part->columns + c)] =
          static_cast<float>(whole.at({c * part->step + x, r * part->step + y}));
    }
  }
  return {plane, part};
}

}  // namespace burnisher
