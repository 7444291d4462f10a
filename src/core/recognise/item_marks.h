// Marks of items in lists (1., IV., b), •): set apart from their text by a wide space, they look
// like a column of their own. Once read they are known for what they are.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher::recognise {

bool is_item_mark(const std::string& text);

// A line that is nothing but such a mark becomes the beginning of the line that it stands before; a
// number without a point does where another item of the page has the number before or after it, and
// labels ("PRESENT:") do that stand in a block of nothing else.
// Tables stay as they are.
void join_item_marks(Page& page);

}  // namespace burnisher::recognise
