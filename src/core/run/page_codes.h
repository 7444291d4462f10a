// Barcodes of a scan on its pages.
#pragma once

#include <vector>

#include "clean/clean.h"
#include "page/scan.h"

namespace burnisher::run {

// Finds them and puts them on the pages they are on, in page pixels; lines that lie within one are
// its bars, and go.
void note_barcodes(const Scan& scan, std::vector<clean::CleanResult>& pages);

}  // namespace burnisher::run
