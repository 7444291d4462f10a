// Gutters: tall white bands between columns of text. Found as maximal empty rectangles among pieces
// of lines (after Breuel 2002), kept when there are real columns of text on both sides.
#pragma once

#include <vector>

#include "base/plane.h"

namespace burnisher::layout {

// `pieces`: boxes of words or parts of lines, none of them reaching across a gutter.
std::vector<Box> gutters_of(const std::vector<Box>& pieces, double text_height, int width,
                            int height);

}  // namespace burnisher::layout
