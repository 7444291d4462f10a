// Pages with lines at an angle are turned until the lines are level, and what was found turned
// back.
#pragma once

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::layout {

// The ink as on a picture of `width` x `height` whose pixels `from_levelled` takes to its own.
Bitonal levelled(const Bitonal& ink, const Affine& from_levelled, int width, int height);

// Every position in the blocks moved. Boxes become the smallest upright ones round the moved box.
void turn_blocks(const Affine& map, std::vector<Block>& blocks);

}  // namespace burnisher::layout
