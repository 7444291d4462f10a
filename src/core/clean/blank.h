// Whether anything is printed on a page.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

// True when `ink` holds no row of letters. `text_height`: pixels; 0: hardly any text was seen.
bool is_blank(const Bitonal& ink, double text_height);

}  // namespace burnisher::clean
