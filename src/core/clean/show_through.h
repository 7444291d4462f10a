// Print of the other side that shows through the paper, taken out of the page picture.
#pragma once

#include "clean/background.h"
#include "raster/image.h"

namespace burnisher::clean {

// Strokes that are paler than the page's ink, stand apart from it and have bare paper round
// them become white. `page`: evened out (see even_out) with `paper`; `ink`: the page's. Tints and
// pictures stay: no bare paper shows in them.
void lift_show_through(const Paper& paper, const Bitonal& ink, double dpi, Gray& page);
void lift_show_through(const Paper& paper, const Bitonal& ink, double dpi, Colour& page);

}  // namespace burnisher::clean
