// Leaders: rows of dots that lead from a title to its page. What they lead to belongs to the line,
// however wide the white.
#pragma once

#include <vector>

#include "raster/components.h"

namespace burnisher::layout {

// For each of `marks`, whether it is a dot of a leader: five at least, alike, on one level and
// evenly apart. `text_height`: see dominant_height.
std::vector<bool> leader_dots(const std::vector<Component>& marks, double text_height);

}  // namespace burnisher::layout
