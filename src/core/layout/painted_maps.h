// The maps as a network without faults would see them, painted from what is known to stand on a
// page: what the page network learns from, and what tests of the geometry use in its stead.
#pragma once

#include <vector>

#include "layout/page_network.h"
#include "page/page.h"

namespace burnisher::layout {

// All in pixels of the page.
struct KnownPage {
  const Page& page;                 // blocks with lines and cells; baselines run as the text does
  std::vector<Polygon> rules = {};  // printed rules
  std::vector<Polygon> marks = {};  // handwriting, stamps
  Polygon sheet = {};               // the paper
};

// Where a page lies on its maps: scaled first, then cut to a window at `origin`.
struct MapFrame {
  double scale = 1;           // pixels of the network's page for one of the page
  Point origin;               // of the window, in pixels of the network's page
  int width = 0, height = 0;  // cells

  Point cell_at(Point page) const { return (page * scale - origin) * (1.0 / kCellPixels); }
};

// Borders are those of blocks, and inside tables what parts a row from the next.
MapGrid painted_maps(const KnownPage& known, const MapFrame& frame);

}  // namespace burnisher::layout
