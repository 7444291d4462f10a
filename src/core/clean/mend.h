// Broken strokes made whole again.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

// Bridges gaps of less than half a stroke's width, at least one pixel, along rows and columns,
// between a fragment and the letter or other fragment it broke from: two parts that don't hang
// together yet, so that no counter is closed and no open letter becomes a closed one. Returns the
// number of bridges.
int mend(double text_height, Bitonal& ink);

}  // namespace burnisher::clean
