// The real text of PDF pages: words with their places, as another program put them there.
#pragma once

#include <optional>
#include <string>

#include "page/page.h"
#include "page/scan.h"

namespace burnisher {

// The page at `limits.pdf_dpi` with lines and blocks made of its words. Nothing when it carries no
// text worth the name: a few stamped letters over a scan are none. `page` from 1.
std::optional<Page> read_pdf_text(const std::string& path, int page, const ScanLimits& limits);

}  // namespace burnisher
