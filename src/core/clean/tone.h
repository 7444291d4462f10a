// Grey values, pixel by pixel: brightness, gamma, grain, white on black.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

struct ToneSettings {
  double gamma = 1;       // above 1 lightens the middle greys, below 1 darkens them
  double brightness = 0;  // -100 ... 100, added in hundredths of the whole range
  bool median = false;    // each pixel becomes the median of its 3 x 3 neighbourhood
};

// True when the settings change anything.
bool changes(const ToneSettings& settings);

void set_tone(const ToneSettings& settings, Picture& picture);

// The median of 3 x 3 (Tukey 1977): takes grain out, keeps edges. The outermost pixels stay.
Gray median_filtered(const Gray& picture);

// White on black: most of the page is dark, and what is light on it looks more like letters than
// what is dark. `small`: the page, reduced.
bool is_inverse(const Gray& small);

void invert(Picture& picture);

}  // namespace burnisher::clean
