// Tables or columns of text: rows of a table stand level.
#pragma once

#include <vector>

#include "layout/table_grid.h"

namespace burnisher::layout {

// Whether rows stand level, along the slope of the lines themselves, or between rules. Lines of
// text in columns side by side stand as each column has them.
bool rows_stand_level(const Grid& grid, const std::vector<LetterLine>& lines, double band_height);

}  // namespace burnisher::layout
