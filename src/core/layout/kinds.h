// What a block is for, from its size, weight and place on the page: headings, captions, footnotes,
// running heads, page numbers and margin notes. The text is not known yet; layout/document.h looks
// again when it is.
#pragma once

#include <vector>

#include "page/page.h"

namespace burnisher::layout {

// Changes the kind of blocks that are plain text so far, and gives headings their level.
// `blocks` include pictures, tables and separators.
void name_kinds(int page_height, std::vector<Block>& blocks);

// Only captions: text right below a picture or beside a table.
void name_captions(int page_height, std::vector<Block>& blocks);

// The x-height of most of the text; 0 when there is none.
double body_x_height(const std::vector<Block>& blocks);

}  // namespace burnisher::layout
