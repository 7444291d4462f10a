// What belongs to a table beyond the place where the network sees it.
#pragma once

#include <vector>

#include "layout/table_grid.h"

namespace burnisher::layout {

// Lines beside a table that stand level with most of its rows and look like a table all in all are
// columns of it, which the map shows too faintly. They go from `lines` to `inside`.
void take_columns_beside(const PageMaps& maps, double text_height, std::vector<LetterLine>& inside,
                         std::vector<LetterLine>& lines);

// Lines on one level above or below a table, each within a column of its own, are a row of it: its
// head, or one that stands a little apart. A single line between such a row and the table is a
// heading of the rows below it where the row fills most columns. `rules`: the table's own.
void take_rows_beyond(const PageMaps& maps, const std::vector<Component>& rules, double band_height,
                      Grid& grid, std::vector<LetterLine>& inside, std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
