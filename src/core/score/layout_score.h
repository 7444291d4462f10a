// How well a layout agrees with the truth: lines, the kinds of their blocks, their order, cells.
#pragma once

#include <map>
#include <utility>

#include "page/page.h"

namespace burnisher::score {

struct LayoutScore {
  int lines = 0;    // of the truth, cells' lines among them
  int found = 0;    // of them: one result line covers it, and covers no other
  int surplus = 0;  // result lines that cover none
  int kinds = 0;    // found lines whose block has the right kind
  std::map<std::pair<BlockKind, BlockKind>, int> mistaken;  // the others: right kind, found kind
  int neighbours = 0, in_order = 0;  // found lines that follow each other, and do so in the result
  int cells = 0, cells_found = 0, cells_surplus = 0;  // by the places of their first lines

  void add(const LayoutScore& more);
  double line_f1() const;  // 0-1; 1 where there is nothing to find and nothing found
  double kind_share() const;
  double order_share() const;
  double cell_f1() const;
};

// Both pages' positions are in the same frame, and their blocks in reading order. A result line
// covers a truth line when it runs through four fifths of it; a cell is found when the line that
// covers its first one stands in the same row and column of a table. Words are not looked at.
LayoutScore score_layout(const Page& truth, const Page& result);

// The page in the frame of its scan.
Page in_scan_frame(const Page& page);

}  // namespace burnisher::score
