// A page parted into paper, ink and the ink's colours: the ink keeps its full resolution as a
// bitonal mask, paper and colours, which have no sharp edges left, get by with far less (after
// Bottou, Haffner, Howard and others 1998; layers as in ITU-T T.44).
#pragma once

#include <array>
#include <optional>

#include "raster/image.h"

namespace burnisher::pdf {

using Rgb = std::array<uint8_t, 3>;

struct LayerSettings {
  int paper_factor = 2;    // pixels of the page in one of the paper, either way
  int colour_factor = 12;  // and in one of the ink's colours
};

struct Layers {
  std::optional<Picture> paper;  // the page without ink, reduced; none: all of one colour
  Rgb paper_colour{255, 255, 255};
  std::optional<Picture> ink_colours;  // reduced; none: all of one colour
  Rgb ink_colour{0, 0, 0};
};

// `page` is Gray or Colour; `ink` has its size.
Layers layers_of(const Picture& page, const Bitonal& ink, const LayerSettings& settings);

// Fills what `gone` has of the ink of a gray or coloured page with the paper round it.
void paper_over(Picture& page, const Bitonal& ink, const Bitonal& gone);

}  // namespace burnisher::pdf
