// How large the text of a page is. Every size in later stages is a multiple of this, never a pixel
// constant, so that 150 and 600 dpi behave alike.
#pragma once

#include "raster/components.h"

namespace burnisher {

// The x-height of 10-point type, inches: what the size of text says about resolution, and the other
// way round.
constexpr double kXHeightInches = 0.062;

// The most common height of letter-like components, in pixels: about the x-height of the page's
// main text. 0 when there are too few of them to tell.
double dominant_height(const std::vector<Component>& components);

// The same where too few letters stand to tell the commonest: the median of the larger half of
// them, as in a picture of one word. 0: there are none.
double height_of_few(const std::vector<Component>& components);

// The most common length of runs of ink, in pixels: about the width of an upright stroke. 0: none.
double stroke_width(const std::vector<Run>& runs);

}  // namespace burnisher
