// The stage `segment`: ink in, blocks and lines in reading order out.
#pragma once

#include <optional>

#include "layout/page_maps.h"
#include "page/page.h"
#include "raster/components.h"
#include "raster/image.h"

namespace burnisher::layout {

// A length on the page: pixels, millimetres (by the page's resolution) or a share of its width or
// height.
struct Length {
  enum class Unit { kPixels, kMillimetres, kPercent };
  double value = 0;
  Unit unit = Unit::kPixels;

  double pixels(double dpi, double whole) const;
};

struct Region {
  Length x, y, width, height;
};

struct SegmentSettings {
  int columns = 0;                // of text; 0: as the page shows; 1: lines go across it
  std::optional<Region> region;   // only what lies in here is text
  double text_angle = 0;          // degrees counter-clockwise in which the lines run
  bool text_in_pictures = false;  // letters inside pictures are text, too
  bool tables = true;             // tables are looked for
  bool right_to_left = false;     // columns are read from the right
};

// `ink`: the straight page, bitonal; `maps`: what the page network sees on it. `text_height`: see
// dominant_height (0: measured here). `rules`: those taken out of `ink` before.
// Fills page.blocks with lines that have baselines and x-heights, but no words yet.
// By construction each ink component belongs to one line at most, and text runs up, down or upside
// down only where the network sees that it does.
void segment(const Bitonal& ink, const PageMaps& maps, double text_height,
             const SegmentSettings& settings, Page& page, const std::vector<Component>& rules = {});

}  // namespace burnisher::layout
