// Printed rules as lines to be drawn.
#pragma once

#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::run {

// The rules in a page's ink, taken out of it: level or upright, straight, as thick as they are for
// most of their length, those nearly alike alike. Rules in picture blocks, and those that run at a
// slant, stay ink. Boxes in pixels.
std::vector<Box> lift_rules(const std::vector<Block>& blocks, double text_height, Bitonal& ink);

}  // namespace burnisher::run
