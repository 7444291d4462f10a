// The order in which a person reads the blocks of a page.
#pragma once

#include <vector>

#include "page/page.h"

namespace burnisher::layout {

// Recursive cuts (Nagy, Seth and Viswanathan 1992): a page falls into parts one below the other
// where a rule, a heading or a line of text goes right across or every column begins with a
// heading; else into columns; and what cannot be cut is sorted by what stands above or left of what
// (Breuel 2003). Short entries that stand level with what is left of them are read across. Pictures
// part no columns. Captions follow what they name, margin notes the block they stand beside;
// footnotes come after all text; heads first and feet last.
struct OrderHints {
  bool right_to_left = false;   // columns are read from the right
  std::vector<Box> rules;       // printed ones outside tables and pictures
  std::vector<Box> tick_boxes;  // choices that they begin are read down
  std::vector<double> gutters;  // where a person wants columns parted, pixels
};

void put_in_reading_order(const OrderHints& hints, std::vector<Block>& blocks);

}  // namespace burnisher::layout
