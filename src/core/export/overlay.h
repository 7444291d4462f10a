// A picture of the page with what was found drawn on it: blocks with kind and order, baselines, and
// word boxes coloured by confidence.
#pragma once

#include <string>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::exporting {

struct OverlaySettings {
  double unsure = 0.7;  // words below are drawn as unsure
  int widest = 1600;    // pixels of the drawing; larger pages are reduced
};

// A legend stands below the page.
Colour overlay_of(const Gray& page_picture, const Page& page, const OverlaySettings& settings);

// The same as SVG, the page picture inside it.
std::string overlay_svg(const Gray& page_picture, const Page& page,
                        const OverlaySettings& settings);

}  // namespace burnisher::exporting
