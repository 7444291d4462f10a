// Pictures that could not be told from print before it was read: photographs, whose grain looks
// like letters, and drawings of thin lines. They show afterwards, as what is left of the ink
// without words, tables and rules.
#pragma once

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::layout {

// Adds blocks for such pictures, in reading order; rules that belong to them (a chart's axes) go,
// text right below them becomes their caption. Call when noise was set aside. Returns how many.
int add_pictures(const Bitonal& ink, Page& page);

}  // namespace burnisher::layout
