// Where the pixels of a straightened page lie in its scan: a bend that moves points up or down,
// then a projective map. Turning, skew and crop are affine and exact; photographs of pages need a
// projective map; curled and wavy pages bend.
#pragma once

#include <memory>
#include <vector>

#include "base/plane.h"

namespace burnisher {

// Downward shifts on a grid over the page, between its knots bilinear, beyond it that of the edge.
// Knot (column, row) lies at (column * step, row * step).
struct DisplacementField {
  double step = 64;  // pixels
  int columns = 0, rows = 0;
  std::vector<float> down;  // pixels, row by row

  double at(Point p) const;
  double largest() const;  // shift either way
};

// A homography (Hartley and Zisserman 2003): an affine map, divided by g x + h y + 1. It must not
// be used where that is 0 or less (beyond the horizon).
struct Projective {
  Affine affine;
  double g = 0, h = 0;

  Projective() = default;
  Projective(const Affine& map) : affine(map) {}  // every affine map is one
  Projective(const Affine& map, double along, double down) : affine(map), g(along), h(down) {}

  bool is_affine() const { return g == 0 && h == 0; }
  Point operator()(Point p) const {
    return is_affine() ? affine(p) : affine(p) * (1 / (g * p.x + h * p.y + 1));
  }
  Projective inverse() const;
};

// First `second`, then `first`. The origin must not come to lie on the horizon.
Projective operator*(const Projective& first, const Projective& second);

class PlaneMap {
 public:
  PlaneMap() = default;
  PlaneMap(const Affine& affine) : plane_(affine) {}  // every affine map is one
  PlaneMap(const Projective& plane) : plane_(plane) {}
  PlaneMap(const Projective& plane, std::shared_ptr<const DisplacementField> bend)
      : plane_(plane), displacement_(std::move(bend)) {}

  Point operator()(Point p) const {
    return plane_(displacement_ ? Point{p.x, p.y + displacement_->at(p)} : p);
  }
  // The point that the map takes to `q`. The bend's slope must stay below 1.
  Point back(Point q) const;

  bool is_identity() const { return is_affine() && plane_.affine.is_identity(); }
  bool is_affine() const { return !displacement_ && plane_.is_affine(); }
  const Projective& plane() const { return plane_; }
  const std::shared_ptr<const DisplacementField>& displacement() const { return displacement_; }
  // Scan pixels in one page pixel at `p`, the bend left aside.
  double scale(Point p) const;

 private:
  Projective plane_;
  std::shared_ptr<const DisplacementField> displacement_;
};

// First `shift`, then `map`: the map of a part of the page.
PlaneMap shifted(const PlaneMap& map, double x, double y);

}  // namespace burnisher
