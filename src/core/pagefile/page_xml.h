// PAGE XML (schema 2019-07-15): what the stages hand to each other, and what layout editors change.
// Positions are pixels of the page picture. The way back to the scan, the x-height of a line and
// the resolution stand in `custom` attributes and Metadata comments that other programs ignore.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher {

// `image_name`: the page picture the positions belong to.
std::string write_page_xml(const Page& page, const std::string& image_name);

struct PageXml {
  Page page;
  std::string image_name;
};

// Takes whatever another program wrote: missing ids, baselines or x-heights are filled in from the
// outlines. Throws FormatError naming `path`.
// `glyphs` false: words without theirs, in half the time.
PageXml read_page_xml(const std::string& bytes, const std::string& path, bool glyphs = true);
PageXml read_page_xml_file(const std::string& path);

}  // namespace burnisher
