// Pages that were not seen straight from above: lines that run together, edges that lean.
#pragma once

#include <optional>
#include <vector>

#include "base/plane_map.h"
#include "clean/sheet_outline.h"
#include "raster/components.h"

namespace burnisher::clean {

struct Perspective {
  Projective to_picture;  // from the flat page, its origin at the middle of the picture
  double converging = 0;  // degrees between what was parallel, over the picture, the larger
};

// The two vanishing points (Hartley and Zisserman 2003), from opposite edges of the sheet; where
// the ground is not seen at both, that of level lines from rows of text, that of upright ones from
// the margins that rows keep. Lengths at the middle of the picture stay. Nothing where hardly any
// perspective shows; where no ground is seen round the sheet, rows must clearly run together. All
// in the pixels of one picture, `width` x `height`; `text_height`: see dominant_height.
std::optional<Perspective> perspective_of(const std::vector<Component>& components,
                                          double text_height, const SheetOutline& outline,
                                          int width, int height);

}  // namespace burnisher::clean
