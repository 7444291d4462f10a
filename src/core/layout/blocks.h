// From lines to blocks.
#pragma once

#include <vector>

#include "layout/lines.h"
#include "layout/tables.h"
#include "page/page.h"

namespace burnisher::layout {

// Consecutive lines of one column with like size and even distance, where the network sees no
// border between them.
std::vector<Block> blocks_of(const std::vector<LetterLine>& lines, const PageMaps& maps,
                             double text_height);

Block table_block(const Table& table, double text_height);

}  // namespace burnisher::layout
