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

Point PlaneMap::back(Point q) const {
  const Point bent = affine_.inverse()(q);
  if (!displacement_) return bent;
  Point p = bent;
  for (int i = 0; i < 12; ++i) p.y = bent.y - displacement_->at(p);
  return p;
}

double PlaneMap::scale() const {
  return std::sqrt(std::fabs(affine_.a * affine_.e - affine_.b * affine_.d));
}

PlaneMap shifted(const PlaneMap& map, double x, double y) {
  const Affine affine = map.affine() * Affine::shift(x, y);
  if (!map.displacement()) return affine;
  const DisplacementField& whole = *map.displacement();
  auto part = std::make_shared<DisplacementField>(whole);
  for (int r = 0; r < part->rows; ++r) {
    for (int c = 0; c < part->columns; ++c) {
      part->down[static_cast<size_t>(r * part->columns + c)] =
          static_cast<float>(whole.at({c * part->step + x, r * part->step + y}));
    }
  }
  return {affine, part};
}

}  // namespace burnisher
