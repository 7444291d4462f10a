// hOCR (the microformat for recognised text in HTML, version 1.2), read: text with places that any
// program wrote.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher {

// Whether the text of a file begins as hOCR does.
bool looks_like_hocr(const std::string& text);

// The pages of an hOCR file that is well-formed XML; x-heights are guessed from the lines' heights
// where they are not told. Throws InputError/FormatError naming the file.
std::vector<Page> read_hocr_file(const std::string& path);

}  // namespace burnisher
