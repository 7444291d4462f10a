// Shadows and slivers along the edges of the scan: borders of the sheet, of the glass, of the lid.
#pragma once

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::clean {

// Takes components that lie wholly within the narrow margin along the scan's edges out of `ink`
// (the page's bitonal picture), long ones that touch an edge, and the dark bed that shows all round
// a sheet. Returns their number.
int clear_edges(const Geometry& geometry, double text_height, Bitonal& ink);

}  // namespace burnisher::clean
