// A made-up page: the scan and the exact truth of what stands on it.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::compose {

struct ComposedPage {
  std::string family;  // as families() names it
  Gray scan;
  // Blocks in reading order, with lines, words and cells, in pixels of the scan. Baselines run in
  // the direction of the text, whichever way the page lies; outlines are exact under every warp.
  Page truth;
  double x_height = 0;         // of the main text, pixels of the scan
  bool right_to_left = false;  // columns and words run from the right
  std::vector<Polygon> rules;  // printed rules
  std::vector<Polygon> marks;  // handwriting, stamps: no print
  Polygon sheet;               // the paper's outline; beyond it lies the scanner's bed
};

}  // namespace burnisher::compose
