// Plain text, UTF-8. As printed: one printed line a line, an empty line between blocks, of tables
// one row a line with a tab between cells. Or flowing: one paragraph a line, see export/flow.h. Or
// Markdown (CommonMark, tables as in GitHub's).
#pragma once

#include <functional>
#include <string>

#include "export/flow.h"
#include "page/page.h"

namespace burnisher::exporting {

std::string text_of(const Page& page);

// Between two pages: a form feed on a line of its own.
extern const char* const kPageBreak;

// One item of flowing text, with the empty line that follows it.
std::string flowing(const FlowItem& item);
std::string markdown(const FlowItem& item);

// With CR LF at line ends.
std::string with_crlf(const std::string& text);

}  // namespace burnisher::exporting
