// Rows of letters on a page that may be crooked, curled or seen at an angle.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/components.h"

namespace burnisher::clean {

struct TextRow {
  std::vector<Point> feet;  // lower edges of letters at their middles, left to right
  double x0 = 0, x1 = 0;    // where its first letter begins, its last one ends
};

// Letters chained to their nearest right neighbour that stands level with them (O'Gorman 1993).
std::vector<TextRow> text_rows(const std::vector<Component>& components, double text_height);

// Descenders, commas and capitals in the margin: feet far from the median of their neighbours.
void drop_descenders(double text_height, TextRow& row);

}  // namespace burnisher::clean
