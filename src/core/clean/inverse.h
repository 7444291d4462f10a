// Blocks of white letters on black among black ones on white: headings of tables, labels, signs.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

// Turns them to black letters on white in `ink`, and returns their number. A block is a large,
// mostly solid component whose holes are of the size of letters and stand beside one another.
// Pictures have few such holes or none. `text_height`: of the page's text, see dominant_height.
int turn_inverse_blocks(double text_height, Bitonal& ink);

}  // namespace burnisher::clean
