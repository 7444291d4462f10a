// What lies around the sheet: the scanner's dark bed, the shadow of the lid, punch holes.
#pragma once

#include <vector>

#include "base/plane.h"
#include "raster/reduced.h"

namespace burnisher::clean {

// The part of the picture that is sheet: without bands along an edge that are dark all along.
// The box is in pixels of the scan, and all of it when there is no dark band.
Box sheet_of(const Reduced& scan);

// A hole punched for filing, in pixels of the scan.
struct Hole {
  Point centre;
  double radius = 0;
};

// Solid round dark spots of 4 to 9 mm near an edge, where no print stands.
std::vector<Hole> holes_of(const Reduced& scan, double dpi);

}  // namespace burnisher::clean
