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

// What of a column has print on a level, pixels.
struct Filled {
  double width = 0;       // 0: nothing
  double first_word = 0;  // width of it
};

// Where some columns (numbers, dates) have one line a row and others several, the first tell where
// rows begin: because others agree with them and lines in a row stand nearer to each other than
// rows do; or because what goes on was wrapped, its first word would not have fitted on the line
// above; or because nothing stands in the first column. Of each level whether it goes on with the
// row above; empty: no column tells. `filled`: by level and column.
std::vector<bool> levels_that_go_on(const std::vector<std::vector<Filled>>& filled,
                                    const std::vector<Level>& levels);

}  // namespace burnisher::layout
