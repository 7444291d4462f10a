// What lies around the sheet: the scanner's dark bed, the shadow of the lid, punch holes.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/components.h"
#include "raster/reduced.h"

namespace burnisher::clean {

// The part of the picture that is sheet: without bands along an edge that are dark all along.
// The box is in pixels of the scan, and all of it when there is no dark band.
Box sheet_of(const Reduced& scan);

// A side where rows of letters reach beyond the sheet, or begin there, is not cut: what lies in the
// shade is no border. `components`: of the reduced picture's ink, their
// `text_height` in its pixels. Returns the larger sheet, in pixels of the scan.
Box with_letters(const Box& sheet, const Reduced& scan, const std::vector<Component>& components,
                 double text_height);

// A hole punched for filing, in pixels of the scan.
struct Hole {
  Point centre;
  double radius = 0;
};

// Solid round dark spots of 4 to 9 mm near an edge, where no print stands.
std::vector<Hole> holes_of(const Reduced& scan, double dpi);

}  // namespace burnisher::clean
