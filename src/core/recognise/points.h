// Hebrew points and Arabic vowel signs: kept as printed, or left out as readers usually write.
#pragma once

#include "page/page.h"

namespace burnisher::recognise {

// From words, their glyphs and their other readings. A word of nothing else stays.
void drop_points(Page& page);

}  // namespace burnisher::recognise
