// Sorts glyph pictures by likeness into piles. A picture becomes a vector: its ink on a coarse grid
// that keeps size and height on the line, blurred so that a small shift does not matter, and
// turned onto the directions in which the document's glyphs differ most (principal components).
// Piles grow from leaders (Hartigan 1975): a picture joins the nearest leader within reach or
// becomes one; then every picture goes to the nearest mean, and means near each other are joined,
// those that read alike from further away.
#pragma once

#include <cstddef>
#include <vector>

#include "raster/image.h"
#include "teach/type_case.h"

namespace burnisher::teach {

struct PileSettings {
  double reach = 0.25;  // from a pile to a picture of it; its ink is a vector of length 1
  int components = 48;  // kept of the grid
};

struct GlyphAt {
  size_t line = 0, glyph = 0;  // places in the case
};

struct Pile {
  std::vector<GlyphAt> glyphs;  // the most typical first
  std::string read;             // what most of them read as
  double confidence = 0;        // mean
  double sure = 0;              // the same, less where lines as a whole read badly
};

// The largest and least sure first: by the number of pictures times how unsure they are, piles that
// read surely and alike last.
std::vector<Pile> piles_of(const TypeCase& type_case, const PileSettings& settings = {});

}  // namespace burnisher::teach
