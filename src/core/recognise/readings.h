// The likeliest readings of a stretch of a line, as the network alone sees it: what a word may be
// when its letters are in doubt. A prefix beam search (Hannun et al. 2014) over the frames.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "recognise/alphabet.h"
#include "recognise/posteriors.h"

namespace burnisher::recognise {

// Readings of frames [first, last), at most `most`, likeliest first; their shares of all that was
// found add up to 1. Spaces at the ends are no part of them.
std::vector<OtherReading> readings_of(const Posteriors& posteriors, const Alphabet& alphabet,
                                      int first, int last, size_t most);

}  // namespace burnisher::recognise
