// hOCR 1.2: pages, blocks, lines and words as XHTML, with boxes, baselines and confidences in
// `title`.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher::exporting {

std::string hocr_head(const std::string& title, const std::string& language);
// `number` from 1, in the document.
std::string hocr_page(const Page& page, Positions positions, int number);
std::string hocr_tail();

}  // namespace burnisher::exporting
