// How dark the ink is on the paper round it, from place to place: what every limit between ink and
// paper is made of.
#pragma once

#include "clean/background.h"

namespace burnisher::clean {

struct InkLevels {
  Paper paper;
  // Of the ink in each of the paper's cells: how much darker than the paper it is, as a share;
  // cells without ink take it from around them.
  FloatImage darkness;
  float faintest = 0;    // share; what is paler is show-through or grain
  float sharpening = 0;  // that the grain allows, for sharpen_row
};

InkLevels ink_levels_of(const Gray& page, double dpi);

// A row of values at the centres of cells of `cell` pixels, linear between them, over `width`
// pixels.
void spread_cells(const float* cells, int columns, int cell, int width, float* values);

// Each pixel set off from its four neighbours by `strength`: thin strokes that the scanner blurred
// get their darkness back.
void sharpen_row(const uint8_t* above, const uint8_t* row, const uint8_t* below, float strength,
                 int width, float* out);

}  // namespace burnisher::clean
