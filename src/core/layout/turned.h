// Pages with lines at an angle are turned until the lines are level, and what was found turned
// back.
#pragma once

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::layout {

// The page turned so that lines at an angle are level, on a square that holds it whichever way it
// is turned.
struct LevelFrame {
  int side = 0;      // pixels
  Affine from_here;  // to the page
};
// `angle`: degrees counter-clockwise in which the lines run.
LevelFrame level_frame(int width, int height, double angle);

// The ink as on a picture of `width` x `height` whose pixels `from_levelled` takes to its own.
Bitonal levelled(const Bitonal& ink, const Affine& from_levelled, int width, int height);

// Every position in the blocks moved. Boxes become the smallest upright ones round the moved box.
void turn_blocks(const Affine& map, std::vector<Block>& blocks);

}  // namespace burnisher::layout
