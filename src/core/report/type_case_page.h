// Style and behaviour of the type case (see type_case_sheet.h), as they stand in its page.
#pragma once

namespace burnisher::report {

extern const char* const kTypeCaseStyle;
extern const char* const kTypeCaseBody;
extern const char* const kTypeCaseScript;  // expects `const sheet = {...}` before it

}  // namespace burnisher::report
