// Print of a leaf's other side that shines through, taken out with the scan of that side: both are
// laid over each other (clean/align.h), and each pixel is divided by what the other side's print
// lets through there (the model of Sharma 2001, with one blur and a strength that changes slowly
// over the page).
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

// A scan as its other side needs it: small, so that both sides need not be held at once.
struct SeenSide {
  Gray gray;
  double dpi = 0;  // of `gray`
};

// `dpi`: the scan's; where that is unknown, for both sides the same guess.
SeenSide seen_side(const Picture& scan, double dpi);

struct OtherSide {
  bool found = false;      // the other side shines through, and was taken out
  double strength = 0;     // of bare paper's light that its print takes away
  double correlation = 0;  // of what shines through with what is there, where it was found
};

// `other`: the other side as it lies on the glass, either way up; what shines through is its mirror
// image. Bitonal scans hold nothing that could be taken out and stay as they are. Print stays as
// dark as it is.
OtherSide lift_other_side(const SeenSide& other, double dpi, Picture& scan);

}  // namespace burnisher::clean
