// The real text of PDF pages: lines and blocks made of words with places, as another program put
// them there.
#pragma once

#include <optional>

#include "intake/pdf_programs.h"
#include "page/page.h"

namespace burnisher {

// The page at `dpi`. Nothing when there is too little text to be worth the name.
std::optional<Page> page_of_words(const PdfWords& found, double dpi);

}  // namespace burnisher
