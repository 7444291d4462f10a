// Paper over what does not belong on the page: holes and rules.
#pragma once

#include "base/plane_map.h"
#include "clean/measure.h"
#include "raster/image.h"

namespace burnisher::clean {

// Fills the punch holes of the measured part in the page's picture; returns their number.
int fill_holes(const Measure& m, const PlaneMap& page_to_part, double dpi, Picture& picture);

// Takes `pixels` out of `ink`, a picture of the same size.
void take_out(const Bitonal& pixels, Bitonal& ink);

// Rules' pixels become paper: each takes the lightest grey a little way across. `to_gray` leads
// from `pixels` to `gray`; `thickness` of the rules in pixels.
void paint_over(const Bitonal& pixels, const PlaneMap& to_gray, double thickness, Gray& gray);

// The pixels that lie in upright rules.
Bitonal upright_only(const Bitonal& pixels, const std::vector<Component>& rules);

}  // namespace burnisher::clean
