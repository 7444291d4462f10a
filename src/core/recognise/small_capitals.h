// Small capitals: capitals as high as an x, set for lower-case letters ("Yorick" with a large Y).
#pragma once

#include <vector>

#include "recognise/decode.h"
#include "recognise/strip.h"

namespace burnisher::recognise {

// Letters of the line (in printed order) that are small capitals become lower-case letters and are
// marked. Told by the heights that the letters have in the strip: within a word that begins with a
// larger capital, and from there in other words of the line whose capitals are as small as those.
void settle_small_capitals(const Gray& strip, const StripFrame& frame,
                           std::vector<ReadCharacter>& characters);

}  // namespace burnisher::recognise
