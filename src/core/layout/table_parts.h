// Tables one below the other that are seen as one.
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

// Parts the lines of a region where there is more white than between rows and the columns below are
// others than those above: print of one part stands where the other has white all along. From the
// top; one part where nothing of the kind is found.
std::vector<std::vector<LetterLine>> stacked_tables(std::vector<LetterLine> lines,
                                                    double text_height);

}  // namespace burnisher::layout
