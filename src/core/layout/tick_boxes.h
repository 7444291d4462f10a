// Boxes to be ticked: small square frames before an entry of a form, empty or with a tick or cross.
#pragma once

#include <vector>

#include "layout/letters.h"
#include "raster/components.h"

namespace burnisher::layout {

// Takes the boxes out of `found.list`, with what is ticked inside them. A frame counts when all
// four sides and corners are drawn.
std::vector<Component> take_tick_boxes(double text_height, Components& found);

}  // namespace burnisher::layout
