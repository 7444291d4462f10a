// Tables one below the other, or side by side, that are seen as one.
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

// Parts the lines of a region from top to bottom where there is more white than between rows and
// the columns below are others than those above: print of one part stands where the other has white
// all along. Then between two columns on both sides of which larger lines stand alone, at heights
// of their own: headings on a reference card. One part where nothing of the kind is found.
std::vector<std::vector<LetterLine>> tables_apart(std::vector<LetterLine> lines,
                                                  double text_height);

}  // namespace burnisher::layout
