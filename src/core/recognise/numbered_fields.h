// Forms whose fields are numbered: boxes beside and below each other look like columns, but the
// numbers say in which order they are filled in and read.
#pragma once

#include <optional>
#include <string>

#include "page/page.h"

namespace burnisher::recognise {

// The number that a label begins with: 12 of "12. Name of vessel"; nothing where none does.
std::optional<int> field_number(const std::string& text);

// Where most labels of a page are numbered in rows and the blocks' order is another, every field
// becomes a block, its label first, then what is entered beside or below it, in the order of the
// numbers. Tables, unless labels stand side by side in their rows, and what is no text stay as they
// are. Returns whether anything changed.
bool order_numbered_fields(Page& page);

}  // namespace burnisher::recognise
