// Style and behaviour of the proof sheet (see proof_sheet.h), as they stand in its page.
#pragma once

namespace burnisher::report {

extern const char* const kProofStyle;
extern const char* const kProofBody;
extern const char* const kProofScript;  // expects `const sheet = {...}` before it

}  // namespace burnisher::report
