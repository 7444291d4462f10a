// Lines that run up or down a page whose other lines are level: legends along an axis, heads of
// narrow columns, stamps of libraries in a margin.
#pragma once

#include <vector>

#include "layout/letters.h"
#include "page/page.h"

namespace burnisher::layout {

// Takes the letters of such lines out of `sorted` and returns the blocks they make, as if read
// upwards, that is with the page turned clockwise; which way they really run shows in reading.
// `page_width`: in pixels.
std::vector<Block> take_upright_text(double text_height, int page_width, Sorted& sorted);

}  // namespace burnisher::layout
