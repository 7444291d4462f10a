// Lines of a table that stand side by side, and which of them make one row.
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

struct Level {
  double y = 0;  // middle of its lines
  std::vector<size_t> lines;
};

// From the top.
std::vector<Level> levels_of(const std::vector<LetterLine>& lines, double text_height);

// Where some columns (numbers, dates) have one line a row and others several, the first tell where
// rows begin. Of each level whether it goes on with the row above; empty: no columns agree.
// `filled`: by level and column.
std::vector<bool> levels_that_go_on(const std::vector<std::vector<bool>>& filled,
                                    const std::vector<Level>& levels);

}  // namespace burnisher::layout
