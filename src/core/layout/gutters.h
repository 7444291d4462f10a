// Gutters: tall white bands between columns of text. Found as maximal empty rectangles among pieces
// of lines (after Breuel 2002), kept when there are real columns of text on both sides.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/components.h"

namespace burnisher::layout {

// `pieces`: boxes of words or parts of lines, none of them reaching across a gutter.
std::vector<Box> gutters_of(const std::vector<Box>& pieces, double text_height, int width,
                            int height);

// A rule that crosses a gutter ends it: what stands below the rule is another part of the page.
std::vector<Box> cut_at_rules(const std::vector<Box>& gutters, const std::vector<Component>& rules);

}  // namespace burnisher::layout
