// The layout of a composed page as a page network without faults would have it: maps painted from
// the truth. What is then wrong is the geometry's.
#pragma once

#include <cmath>

#include "compose/composed_page.h"
#include "layout/painted_maps.h"
#include "layout/segment.h"

namespace burnisher::testing {

// `ink`: the page's, bitonal.
inline Page laid_out_by_truth(const compose::ComposedPage& composed, const Bitonal& ink) {
  layout::MapFrame frame;
  frame.scale = layout::kPageXHeight / composed.x_height;
  const double to_cell = frame.scale / layout::kCellPixels;
  frame.width = static_cast<int>(std::ceil(composed.scan.width() * to_cell));
  frame.height = static_cast<int>(std::ceil(composed.scan.height() * to_cell));
  const layout::PageMaps maps(
      layout::painted_maps({composed.truth, composed.rules, composed.marks, composed.sheet}, frame),
      {to_cell, 0, 0, 0, to_cell, 0});
  Page page;
  page.width = ink.width();
  page.height = ink.height();
  layout::segment(ink, maps, composed.x_height, {}, page);
  return page;
}

}  // namespace burnisher::testing
