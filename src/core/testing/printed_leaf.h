// A leaf with print on both sides, of which either shines through the other.
#pragma once

#include <algorithm>

#include "raster/blur.h"
#include "raster/warp.h"
#include "testing/printed_page.h"

namespace burnisher::testing {

struct PrintedLeaf {
  Gray front, back;            // as they are on the paper: black on white
  Gray front_scan, back_scan;  // ... and on the glass, each with its own turn and shift
  Affine front_to_leaf, back_to_leaf;
};

inline Gray mirror_image(const Gray& gray) {
  Gray out(gray.width(), gray.height());
  for (int y = 0; y < gray.height(); ++y)
    std::reverse_copy(gray.row(y), gray.row(y) + gray.width(), out.row(y));
  return out;
}

// Gray paper; `through`: of the light that the other side's print takes away; 0: none shows.
inline Gray lit(const Gray& own, const Gray& other, double through) {
  const Gray seen = mirror_image(other);
  FloatImage veil(seen.width(), seen.height());
  for (size_t i = 0; i < veil.samples().size(); ++i)
    veil.samples()[i] = static_cast<float>(255 - seen.samples()[i]) / 255;
  gaussian_blur(veil, 1.5);
  Gray out(own.width(), own.height());
  for (size_t i = 0; i < out.samples().size(); ++i) {
    const double light = 25 + 0.8 * own.samples()[i] + static_cast<double>(i * 7 % 5);
    out.samples()[i] = static_cast<uint8_t>(light * (1 - through * veil.samples()[i]));
  }
  return out;
}

inline PrintedLeaf printed_leaf(double through, int width = 900, int height = 1100) {
  PrintedLeaf leaf;
  PrintedPage front(width, height), back(width, height);
  front.print_column(prose(14, 34), 90, 130, 36, 66);
  back.print_column(prose(10, 40), 110, 180, 30, 74);
  leaf.front = front.picture();
  leaf.back = back.picture();
  leaf.front_to_leaf = Affine::shift(9, -6) * Affine::turn(0.4);
  leaf.back_to_leaf = Affine::shift(-7, 11) * Affine::turn(-0.7);
  const auto on_glass = [&](const Gray& own, const Gray& other, const Affine& to_leaf) {
    return warped(lit(own, other, through), PlaneMap(to_leaf), width, height, 229);
  };
  leaf.front_scan = on_glass(leaf.front, leaf.back, leaf.front_to_leaf);
  leaf.back_scan = on_glass(leaf.back, leaf.front, leaf.back_to_leaf);
  return leaf;
}

}  // namespace burnisher::testing
