// Sampling a picture through a map, once.
#pragma once

#include "base/plane_map.h"
#include "raster/image.h"

namespace burnisher {

// A picture of `width` x `height` pixels, each the source at `to_source(pixel centre)`: bicubic
// (Keys 1981). Outside of the source is `fill`.
Gray warped(const Gray& source, const PlaneMap& to_source, int width, int height, uint8_t fill);
Colour warped(const Colour& source, const PlaneMap& to_source, int width, int height, uint8_t fill);

}  // namespace burnisher
