// Whether anything is printed on a page.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

// How many components of letter size stand beside another in `ink`, on rows or columns; or how many
// stand alone, where three are of one size.
// `text_height`: pixels; 0: no text was seen, and there are none.
int letters_on(const Bitonal& ink, double text_height);

// True when `ink` holds nothing like two letters on a row. Whether what it holds can be read, and
// whether it is text at all, only looking at the page and reading it tells.
bool is_blank(const Bitonal& ink, double text_height);

}  // namespace burnisher::clean
