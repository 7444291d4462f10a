// Rows of tables and lists: pieces of text far apart that stand on one baseline, row after row.
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

// Joins pieces into one line when at least three rows show the same pair of columns and no gutter
// parts them. However wide the white between is, such rows are read across.
void join_rows(const std::vector<Box>& gutters, double text_height, std::vector<LetterLine>& lines);

// Joins a line and the figures at the far end of its leader: dots, or what is left of them, on one
// level over most of the white between.
void join_leaders(const Sorted& sorted, const std::vector<Component>& rules, double text_height,
                  std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
