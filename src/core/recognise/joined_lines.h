// Lines of joined script (Arabic): where their baseline runs and how tall they are. Layout analysis
// tells both by the feet and tops of single letters; here most letters hang together, and many
// reach below the baseline. What is sure is the stroke that joins them, the row with most ink, and
// the upright strokes of alif and lam that stand on it.
#pragma once

#include <vector>

#include "raster/image.h"
#include "recognise/strip.h"

namespace burnisher::recognise {

// The same lines, better placed. `x_height` of the result is kOfAlif of the height of an alif, as
// in training; lines of about the same size share one. A line in which nothing of the kind is seen
// keeps its place.
constexpr double kOfAlif = 0.75;  // so that tails and dots stay inside a strip
std::vector<LinePlace> placed_on_joining_stroke(const Gray& page,
                                                const std::vector<LinePlace>& places);

}  // namespace burnisher::recognise
