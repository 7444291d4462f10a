// The edges of a sheet that lies on darker ground, as in a photograph.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "base/plane.h"
#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::clean {

// Where an edge runs: across = at_zero + slope * along. Left and right edges run along y, top and
// bottom ones along x.
struct Edge {
  double at_zero = 0, slope = 0;
  double across(double along) const { return at_zero + slope * along; }
};

struct SheetOutline {
  std::optional<Edge> left, right, top, bottom;  // absent: no ground is seen there
  int edges() const {
    return left.has_value() + right.has_value() + top.has_value() + bottom.has_value();
  }
  bool inside(Point p) const;  // of the edges that are there
  // From the upper left one clockwise; where no ground is seen the picture, `width` x `height`,
  // ends.
  std::array<Point, 4> corners(double width, double height) const;
};

// Seen from each edge of the picture inwards, the first place where it stays bright: a line that
// most of these places lie on (random sample consensus, Fischler and Bolles 1981, over a fixed
// choice of pairs), with ground that is clearly darker than the sheet. In pixels of `small`.
SheetOutline sheet_outline(const Gray& small);

// The outline without edges beyond which rows of letters stand: shade looks like ground, but nobody
// prints on that. `components`: of the same picture's ink.
SheetOutline with_all_letters(SheetOutline outline, const std::vector<Component>& components,
                              double text_height);

}  // namespace burnisher::clean
