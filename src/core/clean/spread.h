// Two pages on one scan.
#pragma once

#include <vector>

#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::clean {

struct Fold {
  bool found = false;
  double x = 0;           // pixels of the picture measured
  double confidence = 0;  // 0-1
};

// The fold between two facing pages: a landscape picture with print on both sides of a clear band
// near its middle that is darkened by the fold, or far wider than a gap between columns, with the
// lines of both sides running nearly up to it. `small`: the sheet; `components`: its ink;
// `text_height`: see dominant_height.
Fold fold_of(const Gray& small, const std::vector<Component>& components, double text_height);

}  // namespace burnisher::clean
