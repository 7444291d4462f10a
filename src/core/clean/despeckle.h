// Stray dots out, punctuation and the dots of letters kept.
#pragma once

#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::clean {

struct DespeckleSettings {
  double size = -1;  // widest speck, pixels; below 0: a third of the text height; 0: none removed
  double size_mm = -1;  // the same in millimetres; counts when it is not below 0
};

// Takes specks out of `ink` and returns their number. A component no wider and no higher than the
// limit goes, unless it is about as large as a dot is in strokes of this width and stands where
// marks stand (on the feet of the letters beside it, over a letter, at the tops like a quotation
// mark, over another dot like a colon), or it nearly touches a letter (part of a broken one), or
// at least two others of its kind stand in a row with it (leaders, ellipses).
int despeckle(const DespeckleSettings& settings, double text_height, Bitonal& ink);

}  // namespace burnisher::clean
