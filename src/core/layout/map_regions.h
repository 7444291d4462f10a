// Connected regions of one of the page network's maps.
#pragma once

#include <vector>

#include "layout/page_maps.h"

namespace burnisher::layout {

// Bounds, in pixels of the page, of the regions of cells (4-neighbours) where the mean of the map
// over `around` cells either way is above `seen`.
std::vector<Box> map_regions(const PageMaps& maps, PageMap map, double seen, int around = 0);

}  // namespace burnisher::layout
