// Where the pixels of a straightened page lie in its scan: a bend that moves points up or down,
// then an affine map. Turning, skew and crop are affine and exact; curled and wavy pages bend.
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

class PlaneMap {
 public:
  PlaneMap() = default;
  PlaneMap(const Affine& affine) : affine_(affine) {}  // every affine map is one
  PlaneMap(const Affine& affine, std::shared_ptr<const DisplacementField> bend)
      : affine_(affine), displacement_(std::move(bend)) {}

  Point operator()(Point p) const {
    return affine_(displacement_ ? Point{p.x, p.y + displacement_->at(p)} : p);
  }
  // The point that the map takes to `q`. The bend's slope must stay below 1.
  Point back(Point q) const;

  bool is_identity() const { return !displacement_ && affine_.is_identity(); }
  const Affine& affine() const { return affine_; }
  const std::shared_ptr<const DisplacementField>& displacement() const { return displacement_; }
  // Scan pixels in one page pixel.
  double scale() const;

 private:
  Affine affine_;
  std::shared_ptr<const DisplacementField> displacement_;
};

// First `shift`, then `map`: the map of a part of the page.
PlaneMap shifted(const PlaneMap& map, double x, double y);

}  // namespace burnisher
