// The outline of a line that slopes or bends: narrower than its upright box.
#pragma once

#include "layout/lines.h"

namespace burnisher::layout {

// Along the tops and the feet of the letters and marks; its bounds are the line's box. Empty for
// lines level enough that the box itself outlines them.
Polygon outline_of(const LetterLine& line);

}  // namespace burnisher::layout
