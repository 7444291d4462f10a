// Lines to blocks, and blocks into the order a person reads them in.
#pragma once

#include <vector>

#include "layout/lines.h"
#include "layout/tables.h"
#include "page/page.h"

namespace burnisher::layout {

// Consecutive lines of one column with like size and even distance.
std::vector<Block> blocks_of(const std::vector<LetterLine>& lines, const std::vector<Box>& gutters,
                             double text_height);

Block table_block(const Table& table, double text_height);

// Topological order (after Breuel 2003): a before b when a is above b and they share columns, when
// a is left of b at the same height, or when a gutter parts them and a is left of it; else the
// higher one comes first.
void put_in_reading_order(std::vector<Box> gutters, bool right_to_left, std::vector<Block>& blocks);

}  // namespace burnisher::layout
