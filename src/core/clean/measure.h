// What can be told of a page from a reduced picture of it, before anything is done to it.
#pragma once

#include <vector>

#include "clean/binarise.h"
#include "clean/borders.h"
#include "clean/skew.h"
#include "clean/spread.h"

namespace burnisher::clean {

// Standard deviation of the scanner's grain on bare paper, in grey levels (after Immerkaer 1996,
// on the flattest half of the page only).
double grain_of(const Gray& page);

// See dominant_height; where there are too few letters for that, height_of_few.
double text_height_of(const std::vector<Component>& components);

struct Measure {
  Reduced small;
  std::vector<Component> components;  // of the reduced picture's ink, within the sheet
  double text_height = 0;             // pixels of the scan; 0: hardly any text
  double stroke = 0;                  // width of strokes, pixels of the scan, roughly
  double contrast = 0;                // paper less ink, grey levels
  double picture_share = 0;           // of the sheet that is covered by pictures
  Box sheet;                          // pixels of the scan
  Fold fold;                          // pixels of the scan
};

struct MeasureSettings {
  BinariseSettings binarise;
  bool borders = true;      // look for dark ones
  bool spread = true;       // look for a fold
  double least_letter = 0;  // pixels of the scan; what is lower is grain, not print
};

// `gray`: upright. `dpi`: known or assumed.
Measure measure(const Gray& gray, double dpi, const MeasureSettings& settings);

}  // namespace burnisher::clean
