// Gaussian blur of a field. Beyond the edge lies the edge's own value.
#pragma once

#include "raster/image.h"

namespace burnisher {

// `sigma` in pixels; 0.2 and less leave the field as it is.
void gaussian_blur(FloatImage& field, double sigma);

}  // namespace burnisher
