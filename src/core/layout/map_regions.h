// Connected regions of one of the page network's maps.
#pragma once

#include <vector>

#include "layout/sight.h"

namespace burnisher::layout {

// Bounds, in pixels of the page, of the regions of cells (4-neighbours) where the map is above
// `seen`.
std::vector<Box> map_regions(const Sight& sight, PageMap map, double seen);

}  // namespace burnisher::layout
