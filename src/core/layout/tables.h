// Tables: where the page network sees one, its lines fall into rows and columns. What parts rows
// are rules and the borders that the network sees; what parts columns is the white between lines on
// one level, row after row, and rules (after Green and Krishnamoorthy 1995).
#pragma once

#include <vector>

#include "layout/lines.h"
#include "page/page.h"

namespace burnisher::layout {

// A table with the lines of its cells; `cells[i].lines` are places in `lines`. Cells without text
// are among them.
struct Table {
  Box box;
  std::vector<Cell> cells;
  std::vector<LetterLine> lines;
};

// What is drawn on a page beside its text.
struct Drawn {
  std::vector<Component> rules;
  std::vector<Component> tick_boxes;
};

// Takes the lines of tables out of `lines`. Every region the network sees that has two rows and two
// columns at least makes a table, but contents with leaders and choices with boxes to tick do not;
// lines of the others stay.
std::vector<Table> tables_of(const PageMaps& maps, const Drawn& drawn, double text_height,
                             std::vector<LetterLine>& lines);

// The first column is the one at the right; the lines of a row follow each other from there.
void count_from_the_right(Table& table);

}  // namespace burnisher::layout
