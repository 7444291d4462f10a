// What the shipped page network sees on pages drawn for tests. For tests of the layout and of what
// comes after it.
#pragma once

#include "layout/segment.h"
#include "raster/convert.h"
#include "raster/text_scale.h"

namespace burnisher::testing {

inline const layout::PageNetwork& page_network() {
  static const layout::PageNetwork network(
      layout::read_page_model(BURNISHER_MODELS_FOLDER "/pages.safetensors"));
  return network;
}

// Blocks and lines of a straight page, black on white.
inline Page segmented(const Gray& picture, const layout::SegmentSettings& settings = {},
                      const std::vector<Component>& rules = {}) {
  const Bitonal ink = to_bitonal(picture, 128);
  Page page;
  page.width = ink.width();
  page.height = ink.height();
  const double height = dominant_height(components_of(ink).list);
  const layout::PageMaps maps =
      layout::look_at(page_network(), picture, height > 0 ? height : kXHeightInches * 300);
  layout::segment(ink, maps, 0, settings, page, rules);
  return page;
}

}  // namespace burnisher::testing
