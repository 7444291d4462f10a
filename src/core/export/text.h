// Plain text, UTF-8, one printed line a line, an empty line between blocks. Tables: one row
// a line, a tab between cells.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher::exporting {

std::string text_of(const Page& page);

// Between two pages: a form feed on a line of its own.
extern const char* const kPageBreak;

}  // namespace burnisher::exporting
