// A page as its files have it: positions in whole pixels, probabilities in thousandths. Every stage
// hands on what its file would say, so that a stage that goes on from the file gets the same.
#pragma once

#include "page/page.h"

namespace burnisher {

// Baselines and x-heights keep their fractions: reading depends on them, and files keep them, too.
void round_as_stored(Page& page);

}  // namespace burnisher
