// Pages whose ink is known pixel by pixel, and the scans that damage makes of them.
#pragma once

#include "raster/image.h"
#include "testing/printed_page.h"
#include "train/degrade.h"

namespace burnisher::testing {

struct DamagedPage {
  Bitonal truth;  // the ink as it was printed
  Gray scan;
};

// `x_height`: of the page's text, pixels.
DamagedPage damaged(const PrintedPage& page, double x_height, const train::ScanDamage& damage,
                    uint64_t seed);

struct Likeness {
  double precision = 0, recall = 0;
  double f_measure() const { return 2 * precision * recall / (precision + recall); }
};

// Of ink found against ink that is there, pixel by pixel.
Likeness likeness(const Bitonal& found, const Bitonal& truth);

}  // namespace burnisher::testing
