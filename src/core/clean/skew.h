// How far a page stands crooked.
#pragma once

#include <vector>

#include "raster/components.h"

namespace burnisher::clean {

struct Skew {
  double degrees = 0;     // by which the content stands counter-clockwise as seen
  double confidence = 0;  // 0-1: how much sharper the text rows are at this angle than elsewhere
};

// From the lower edges of letter-like components: at the right angle they gather on few rows
// (projection profiles, Postl 1986, on component bottoms, Baird 1987), coarse to fine; the last
// hundredths come from the slopes between letters far apart on one row. `text_height`: see
// dominant_height. Searches -`limit` ... `limit` degrees.
Skew skew_of(const std::vector<Component>& components, double text_height, double limit);

}  // namespace burnisher::clean
