// Ink that the page's threshold passed over, where it is known that something is printed.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher::clean {

// Adds what is darker than its surroundings in each of `places` (pixels of the page) to `ink`, by a
// threshold of the place's own. Nothing where there is no contrast. Returns in how many there was.
int add_faint_ink(const Gray& page, const std::vector<Box>& places, Bitonal& ink);

}  // namespace burnisher::clean
