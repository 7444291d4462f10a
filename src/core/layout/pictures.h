// Pictures: photographs, drawings and charts, as the page network sees them.
#pragma once

#include <vector>

#include "layout/letters.h"
#include "page/page.h"

namespace burnisher::layout {

// One block for each. `sorted.pictures` says exactly how far they reach; rules that belong to them
// (a chart's axes, a frame) go from `rules`.
std::vector<Block> picture_blocks(const PageMaps& maps, const Sorted& sorted, double text_height,
                                  std::vector<Component>& rules);

}  // namespace burnisher::layout
