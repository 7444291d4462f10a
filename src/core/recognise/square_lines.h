// Lines of Chinese, Japanese and Korean: each character fills a square, which the height of the
// line's ink tells better than the heights of letters do.
#pragma once

#include <vector>

#include "recognise/decode.h"
#include "recognise/strip.h"

namespace burnisher::recognise {

// The places with half of the square's side for an x-height, and the baseline where faces have it
// in the square. Lines of few characters, and those whose ink says something else than most do, go
// by the others. `gray`: the picture that the places lie in.
std::vector<LinePlace> placed_in_squares(const Gray& gray, std::vector<LinePlace> places);

// What was read of such a line, as squares allow it: of two characters whose middles lie nearer
// than half a square's side the surer one stays, and no blank is kept between ideographs that stand
// as near as others do, or beside a mark of punctuation, half of whose square is white. `frame`: of
// the strip that was read.
std::vector<ReadCharacter> as_squares(std::vector<ReadCharacter> characters,
                                      const StripFrame& frame);

}  // namespace burnisher::recognise
