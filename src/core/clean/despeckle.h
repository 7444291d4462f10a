// Stray dots out, punctuation and the dots of letters kept.
#pragma once

#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::clean {

struct DespeckleSettings {
  double size = -1;  // widest speck, pixels; below 0: a third of the text height; 0: none removed
};

// Takes specks out of `ink` and returns their number. A component no wider and no higher than the
// limit goes, unless a letter-like component is within one text height of it (it may be its dot,
// accent or full stop), or at least two others of its kind stand in a row with it (leaders,
// ellipses). Components of one or two pixels go even beside letters, never a dot of that size on a
// coarse scan, whose letters are under 12 pixels high.
int despeckle(const DespeckleSettings& settings, double text_height, Bitonal& ink);

}  // namespace burnisher::clean
