// Where the network sees text and the threshold left no ink: pale links in black text, worn places.
#pragma once

#include <vector>

#include "layout/page_maps.h"
#include "raster/image.h"

namespace burnisher::layout {

// Boxes, in pixels of the page, along lines of text without ink of their own.
std::vector<Box> text_without_ink(const PageMaps& maps, const Bitonal& ink);

}  // namespace burnisher::layout
