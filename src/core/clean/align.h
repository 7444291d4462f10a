// How two pictures of the same marks lie over each other: by turning and shifting at first (the
// peak of their cross-correlation, Kuglin and Hines 1975), then by blocks, each of which is shifted
// until it fits best, and one affine map through all that fit (registration of both sides of a
// leaf: Dubois and Pathak 2001).
#pragma once

#include <optional>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher::clean {

// Marks as departures from what surrounds them, so that the sum over any larger place is about 0.
struct Marks {
  FloatImage strength;
  FloatImage
      known;  // 1, or 0 where something else lies over them; as large as `strength`, or empty
};

struct Alignment {
  Affine to_other;         // from pixels of the one to those of the other
  double correlation = 0;  // of the blocks that fit, mean
  double share = 0;        // of blocks with marks that fit where the map says
};

// Nothing where they show no marks in common. Both up to about 1,800 pixels high and wide; searched
// to 2.4 degrees either way and an eighth of the size.
std::optional<Alignment> aligned(const Marks& one, const Marks& other);

// Half the size both ways.
FloatImage halved(const FloatImage& field);

// Between pixel centres bilinear, beyond the edge 0.
float value_at(const FloatImage& field, Point p);

}  // namespace burnisher::clean
