// From printed order to the order of reading: the words of a line as its reader would type them.
#pragma once

#include "page/page.h"

namespace burnisher::recognise {

// Words and their glyphs stand from left to right, as they were read; afterwards in logical order
// (base/printed_order.h). Boxes, confidences and other readings go with them. The line's
// script says which way it runs.
void put_in_logical_order(Line& line);

}  // namespace burnisher::recognise
