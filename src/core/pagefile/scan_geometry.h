// Where a page lies in its scan, as the `custom` attribute of PAGE XML's page says it.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"
#include "pagefile/custom.h"

namespace burnisher {

constexpr int kLongestSide = 1000000;  // pixels of a scan or page

// Everything that leads back to the scan, to the last bit: what is read again must be the same.
std::vector<std::string> scan_entries(const Page& page, const std::string& image_name);

// The page's number, part, resolution and way back. Throws FormatError for what no scan can have.
void read_geometry(const Custom& custom, Page& page);

}  // namespace burnisher
