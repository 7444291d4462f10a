// A picture at a whole fraction of its size, for measuring: with the ways between its own lengths
// and places and those of the picture in full, so that nobody divides by hand.
#pragma once

#include "base/plane.h"
#include "raster/convert.h"
#include "raster/image.h"

namespace burnisher {

class Reduced {
 public:
  Reduced() = default;
  Reduced(const Gray& full, int factor)
      : picture_(burnisher::reduced(full, factor)), factor_(factor) {}
  explicit Reduced(Gray picture) : picture_(std::move(picture)) {}  // as it is, at its own size

  const Gray& picture() const { return picture_; }

  // From the full picture to this one.
  double to_small(double length) const { return length / factor_; }
  Point to_small(Point p) const { return {p.x / factor_, p.y / factor_}; }
  Box to_small(const Box& b) const {
    return {b.x0 / factor_, b.y0 / factor_, b.x1 / factor_, b.y1 / factor_};
  }
  // And back.
  double to_full(double length) const { return length * factor_; }
  Point to_full(Point p) const { return p * factor_; }
  Box to_full(const Box& b) const {
    return {b.x0 * factor_, b.y0 * factor_, b.x1 * factor_, b.y1 * factor_};
  }

 private:
  Gray picture_;
  int factor_ = 1;
};

}  // namespace burnisher
