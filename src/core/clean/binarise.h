// Ink or paper, pixel by pixel.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

enum class BinariseMethod {
  kAuto,    // half-way between the paper's and the ink's brightness as they are around each pixel
  kGlobal,  // one threshold for the page (Otsu 1979)
  kLocal,   // a threshold from mean and deviation around each pixel (Sauvola and Pietikainen 2000,
            // with the deviation's range taken from the page as Wolf and Jolion 2004 do)
};

struct BinariseSettings {
  BinariseMethod method = BinariseMethod::kAuto;
  double window = 0;    // pixels; 0: from the resolution, about three text heights
  double weight = 0.3;  // Sauvola's k: larger thins the strokes and drops faint ink
};

// `dpi` sizes the window when the settings don't.
Bitonal binarise(const Gray& page, const BinariseSettings& settings, double dpi);

// The threshold that separates the two grey peaks best; ink lies below it.
int otsu_threshold(const Gray& page);

}  // namespace burnisher::clean
