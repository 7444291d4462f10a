// Between the picture types, and to smaller ones.
#pragma once

#include "raster/image.h"

namespace burnisher {

// Luminance (ITU-R BT.601 weights); ink becomes 0, paper 255.
Gray to_gray(const Picture& picture);
Gray to_gray(const Bitonal& picture);

// Ink where the grey is below `threshold`.
Bitonal to_bitonal(const Gray& picture, int threshold);

// The grey level below which `share` of the pixels lie.
int quantile_of(const Gray& picture, double share);

// Averages `factor` x `factor` pixels; a rest at the right and lower edge is dropped.
Gray reduced(const Gray& picture, int factor);

// Averages `factor` x `factor` pixels of gray or colour, and what is left of them at the edges;
// bitonal pictures become gray, unless `factor` is 1.
Picture fewer_pixels(const Picture& picture, int factor);

// At `factor` times its size: the mean over the area where it shrinks, bilinear where it grows.
Gray scaled(const Gray& picture, double factor);

}  // namespace burnisher
