// Quarter turns, pixel by pixel.
#pragma once

#include "raster/image.h"

namespace burnisher {

// Turned counter-clockwise as seen by 0, 90, 180 or 270 degrees.
Gray turned(const Gray& picture, int degrees);

}  // namespace burnisher
