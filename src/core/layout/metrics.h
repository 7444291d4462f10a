// Baselines and x-heights. They decide how a line is scaled for reading, so they are taken from as
// many letters as possible: the baseline from the whole line, the x-height from the whole page's
// lines of like size. Lines without small letters (capitals, figures) borrow theirs.
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

// Fills baseline, x_height, size_sure and stroke of every line. `found`: the page's components;
// without its runs strokes are not measured. Where letters are broken, `maps` says which of their
// lower edges stand on the line.
void measure_lines(const Components& found, const PageMaps& maps, double text_height,
                   const std::vector<LetterLine*>& lines);

}  // namespace burnisher::layout
