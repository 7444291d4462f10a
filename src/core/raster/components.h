// Connected components of ink (8-neighbours), by one pass over the rows' runs with union-find
// (Rosenfeld and Pfaltz 1966, on runs). Runs are kept, not pixels.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher {

struct Run {
  int y = 0;
  int x0 = 0, x1 = 0;  // half-open
  int component = 0;
};

struct Component {
  int x0 = 0, y0 = 0, x1 = 0, y1 = 0;  // half-open box, pixels
  int area = 0;                        // ink pixels

  int width() const { return x1 - x0; }
  int height() const { return y1 - y0; }
  Box box() const {
    return {static_cast<double>(x0), static_cast<double>(y0), static_cast<double>(x1),
            static_cast<double>(y1)};
  }
};

struct Components {
  std::vector<Run> runs;  // by rows, left to right
  std::vector<Component> list;
};

Components components_of(const Bitonal& ink);

// Takes the components marked in `gone` out of the picture they were found in.
void erase(const Components& components, const std::vector<bool>& gone, Bitonal& ink);

}  // namespace burnisher
