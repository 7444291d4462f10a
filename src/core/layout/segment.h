// The stage `segment`: ink in, blocks and lines in reading order out.
#pragma once

#include "page/page.h"
#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::layout {

struct SegmentSettings {
  int columns = 0;  // 0: found from the page; 1: gutters are not looked for
};

// `ink`: the straight page, bitonal; `text_height`: see dominant_height (0: measured here).
// `rules`: those taken out of `ink` before.
// Fills page.blocks with lines that have baselines and x-heights, but no words yet.
void segment(const Bitonal& ink, double text_height, const SegmentSettings& settings, Page& page,
             const std::vector<Component>& rules = {});

}  // namespace burnisher::layout
