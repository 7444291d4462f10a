// Marks: how a person wants pages to be laid out. The layout sheet saves them, a script can make
// them. They say how a page is to be, not what is to be done to it, so that laying them over twice
// changes nothing. JSON, positions in pixels of the page:
//
//   {"format": "burnisher-layout-1", "pages": [
//     {"page": "log-0007", "seen": "5f3a...", "turn": 90, "leave_out": true,
//      "blocks": [{"kind": "table", "level": 0, "outline": [[x, y], ...],
//                  "lines": [[x0, y0, x1, y1], ...],
//                  "rows": [y, ...], "columns": [x, ...], "header": 1,
//                  "joined": [[row, column, rows, columns], ...]}]}]}
//
// Of a page `page` alone must be there: the name of its PAGE XML without ending. Without `blocks`
// they stay as they are; an empty list makes the page blank. `lines` only where a block's lines are
// to be others than those that lie in its outline; `rows` and `columns` (the rules between them,
// without the outline's own edges) only of tables whose cells are to be others; `header` counts the
// rows of the table's head. `seen` is what the page looked like when the marks were made (see
// layout_digest); a page that looks otherwise since is left alone.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::layout {

struct MarkedCell {
  int row = 0, column = 0, rows = 1, columns = 1;
};

struct MarkedBlock {
  BlockKind kind = BlockKind::kText;
  int level = 0;
  Polygon outline;
  std::optional<std::vector<Box>> lines;
  std::vector<double> rows, columns;
  bool gridded = false;  // rows and columns count, even where there are none
  int header = 0;
  std::vector<MarkedCell> joined;
};

struct PageMarks {
  std::string page;
  std::string seen;
  std::optional<int> turn;  // degrees counter-clockwise, in addition to how the page stands
  std::optional<bool> leave_out;
  std::optional<std::vector<MarkedBlock>> blocks;
};

// Throws FormatError naming what is wrong.
std::vector<PageMarks> read_marks(const std::string& json);
std::string written_marks(const std::vector<PageMarks>& marks);

// What of a page marks can change, in short: kinds and places of its blocks, in order.
std::string layout_digest(const Page& page);

// The page gets the blocks of the marks, in their order. Lines that lie where a mark has one, or in
// a block that names none, keep their words; others are without, to be read. What lies in no block
// goes. Returns how many lines went.
int lay_over(const std::vector<MarkedBlock>& blocks, Page& page);

// The table's lines go into its cells: a line that reaches over several is cut at their borders,
// and its parts have no words.
void put_into_cells(Block& table);

}  // namespace burnisher::layout
