// A sheet seen at an angle, as it would be seen straight from above.
#pragma once

#include <optional>

#include "clean/perspective.h"
#include "clean/sheet_outline.h"
#include "raster/reduced.h"

namespace burnisher::clean {

struct Flat {
  Projective to_part;
  int width, height;
  double converging;  // degrees, see Perspective
};

// The map to the part is `seen`, on a canvas for what lies within the outline; nothing where that
// would be no page.
std::optional<Flat> flat_sheet(const Perspective& seen, const SheetOutline& outline,
                               const Reduced& small);

}  // namespace burnisher::clean
