// Connected regions of one of the page network's maps.
#pragma once

#include <vector>

#include "layout/sight.h"

namespace burnisher::layout {

class MapRegions {
 public:
  // Cells (4-neighbours) where the map is above `seen`.
  MapRegions(const Sight& sight, PageMap map, double seen);

  int count() const { return static_cast<int>(boxes_.size()); }
  // The region's bounds, pixels of the page.
  const Box& box(int region) const { return boxes_[static_cast<size_t>(region)]; }
  // The region that holds more than `share` of the box's middle line; -1: none does.
  int holding(const Box& box, double share) const;

 private:
  int at(Point page) const;

  Sight sight_;
  int width_, height_;
  std::vector<int> of_;  // the region of each cell; -1: none
  std::vector<Box> boxes_;
};

}  // namespace burnisher::layout
