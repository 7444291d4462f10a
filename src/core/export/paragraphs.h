// Where paragraphs begin, from what lines say and where they end: indents, short last lines, white
// between lines, list markers, and lines that end early on purpose.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "page/page.h"

namespace burnisher::exporting {

char32_t first_of(const std::string& text);  // 0: there is none
bool ends_sentence(const std::string& text);
bool begins_small(const std::string& text);
// The marker a list item begins with, "-" for all bullets, and where its text does.
std::pair<std::string, size_t> marker_of(const std::string& text);

Box ink_of(const Block& block);
// How far to the right a block's lines could have gone: to where those of others that begin below
// or above it end, and no further than what stands beside it.
double column_right(const Block& block, const std::vector<Block>& blocks);

// Which lines of a block begin something new.
std::vector<bool> beginnings(const Block& block, double column_end);

// White left after a line beyond what the next word needs, as it is where the break was meant:
// addresses, verse, signatures, titles.
bool breaks_on_purpose(const Line& line, const Line& next, double column_left, double column_end);
// Whether nothing but white, and more of it than between lines, lies between `line` and a block
// below it.
bool parted_by_white(const Line& line, const Block& below, const std::vector<Block>& blocks);

}  // namespace burnisher::exporting
