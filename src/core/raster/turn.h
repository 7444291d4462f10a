// Quarter turns and cuts, pixel by pixel.
#pragma once

#include "raster/image.h"

namespace burnisher {

// Turned counter-clockwise as seen by 0, 90, 180 or 270 degrees.
Gray turned(const Gray& picture, int degrees);
Picture turned(const Picture& picture, int degrees);

// Rows become columns.
Bitonal transposed(const Bitonal& picture);

// The part from (x0, y0) up to but without (x1, y1), which must lie within.
Gray cut_out(const Gray& picture, int x0, int y0, int x1, int y1);
Picture cut_out(const Picture& picture, int x0, int y0, int x1, int y1);

}  // namespace burnisher
