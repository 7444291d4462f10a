// What the page network saw, as a picture for a person: each map as a tint over the pale page.
#pragma once

#include "layout/page_network.h"

namespace burnisher::layout {

// `page`: what was read, at the network's text scale; the picture has its size. Text is blue where
// it runs to the right, and green where it runs any other way; line ends orange, borders of blocks
// gray, pictures violet, tables yellow, rules red, marks pink; the scanner's bed is dark.
Colour picture_of(const MapGrid& grid, const Gray& page);

}  // namespace burnisher::layout
