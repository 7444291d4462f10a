// Tables: grids of rules (after Green and Krishnamoorthy 1995), and columns that white space alone
// holds apart through several rows.
#pragma once

#include <vector>

#include "layout/lines.h"
#include "page/page.h"

namespace burnisher::layout {

// A table with the lines of its cells; `cells[i].lines` are places in `lines`.
struct Table {
  Box box;
  std::vector<Cell> cells;
  std::vector<LetterLine> lines;
};

// Rules that cross, as one grid each; cells grow over missing pieces of rules. Takes the letters
// and marks inside its tables out of `sorted`. A grid whose cells hold whole columns of text, or
// next to nothing, is none.
std::vector<Table> ruled_tables(const std::vector<Component>& rules, double text_height,
                                Sorted& sorted);

// Runs of at least three lines whose wide gaps stand one below the other. Takes those lines out of
// `lines`. Leaders make no table, nor do columns filled with prose.
std::vector<Table> white_tables(const std::vector<Component>& rules,
                                const std::vector<Component>& marks, double text_height,
                                std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
