// Style and behaviour of the layout sheet (see layout_sheet.h), as they stand in its page.
#pragma once

namespace burnisher::report {

extern const char* const kLayoutStyle;
extern const char* const kLayoutBody;
extern const char* const kLayoutScript;  // expects `const sheet = {...}` before it

}  // namespace burnisher::report
