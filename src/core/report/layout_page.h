// Style and behaviour of the layout sheet (see layout_sheet.h), as they stand in its page.
#pragma once

namespace burnisher::report {

extern const char* const kLayoutStyle;
extern const char* const kLayoutBody;
// What is done to pages, then how it is shown and done; they expect `const sheet = {...}` before
// them.
extern const char* const kLayoutMarks;
extern const char* const kLayoutView;

}  // namespace burnisher::report
