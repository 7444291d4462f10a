// Gutters: tall white bands between columns of text. Found as maximal empty rectangles among the
// letters (after Breuel 2002), kept when there are real columns of text on both sides.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/components.h"

namespace burnisher::layout {

std::vector<Box> gutters_of(const std::vector<Component>& letters, double text_height, int width,
                            int height);

}  // namespace burnisher::layout
