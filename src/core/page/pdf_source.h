// Pages of a PDF as pictures: rasterised by poppler at the resolution of the page's own picture.
#pragma once

#include <memory>
#include <string>

#include "page/scan.h"

namespace poppler {
class document;
}

namespace burnisher {

// Throws InputError (password wanted) or FormatError (no usable PDF).
int count_pdf_pages(const std::string& path, const std::string& password);
std::unique_ptr<poppler::document> open_pdf(const std::string& path, const std::string& password);

// `page` from 1.
Scan read_pdf_page(const std::string& path, int page, const ScanLimits& limits);

}  // namespace burnisher
