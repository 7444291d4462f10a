// Drop capitals: the large first letter of a chapter, two or more lines high, with the text set
// round it.
#pragma once

#include <vector>

#include "layout/letters.h"
#include "page/page.h"

namespace burnisher::layout {

// Takes the drop capitals out of the letters and pictures. A drop capital has at least two rows of
// letters of usual size to its right, both within its height, and nothing as large as itself.
std::vector<Component> take_initials(double text_height, Sorted& sorted);

// Puts each one as a block of its own before the block that begins beside it; a block whose later
// line it is that begins there is parted.
void place_initials(const std::vector<Component>& initials, std::vector<Block>& blocks);

}  // namespace burnisher::layout
