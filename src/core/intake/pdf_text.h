// The real text of PDF pages: lines and blocks made of words with places, as another program put
// them there.
#pragma once

#include "intake/pdf_programs.h"
#include "page/page.h"

namespace burnisher {

// The page at `dpi`.
Page page_of_words(const PdfWords& found, double dpi);

// Whether there is more text on it than a stamp or a page number over a scan.
bool worth_the_name(const PdfWords& found);

}  // namespace burnisher
