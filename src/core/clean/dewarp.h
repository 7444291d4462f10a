// Lines that bend: curl near the fold, waves, ends that rise.
#pragma once

#include <memory>
#include <vector>

#include "base/plane_map.h"
#include "raster/components.h"

namespace burnisher::clean {

struct Dewarping {
  std::shared_ptr<const DisplacementField>
      displacement;              // null: the lines are straight enough as they are
  double before = 0, after = 0;  // typical distance of letters from straight lines, text heights
};

// From the lower edges of the letters of long lines, after the page was made level: one smooth
// surface of shifts, polynomial along and across the page, fitted to all lines at once, each with
// its own height (a cubic sheet, after Wu and Agam 2002, without its camera). `components`: of the
// level page, `width` x `height` pixels. Lines that bend by less than a sixth of the text height
// are left alone, and so are pages where the surface does not fit.
Dewarping dewarping_of(const std::vector<Component>& components, double text_height, int width,
                       int height);

}  // namespace burnisher::clean
