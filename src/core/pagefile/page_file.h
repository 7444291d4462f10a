// Files that hold read pages, PAGE XML (one page) or ALTO (many): read, changed and written back in
// the format they came in.
#pragma once

#include <string>
#include <vector>

#include "base/error.h"
#include "intake/scan_file.h"
#include "page/page.h"

namespace burnisher {

struct PageFile {
  enum class Format { kPageXml, kAlto };

  std::string path;
  Format format = Format::kPageXml;
  std::string image_name;  // of PAGE XML: the page picture that positions belong to
  std::vector<Page> pages;
};

// Throws InputError/FormatError naming the file.
// `glyphs` false: PAGE XML's words without theirs.
PageFile read_page_file(const std::string& path, bool glyphs = true);
std::string written(const PageFile& file);

// The picture that the places on a page belong to. Throws InputError/FormatError, also when it has
// another size than the page.
Picture page_picture(const std::string& path, int number, int width, int height,
                     const ScanLimits& limits = {});
// Where that of a PAGE XML file lies: in `folder`, or beside the file when that is "".
std::string picture_path(const PageFile& file, const std::string& folder);
Picture page_picture(const PageFile& file, const std::string& folder,
                     const ScanLimits& limits = {});

// Where the page's scan lies: as seen from the PAGE XML at `xml_path` (jobs are moved together with
// their scans), or as it was named when it was read, or under its name in the folder `images` ("":
// none), or beside the PAGE XML. "" when it is in none of these places.
std::string scan_path(const Page& page, const std::string& xml_path, const std::string& images);

// The .xml files named, and those in folders named, sorted by name. Folders that cannot be listed
// or hold none end up in `problems`.
std::vector<std::string> page_files(const std::vector<std::string>& inputs,
                                    std::vector<Problem>& problems);

}  // namespace burnisher
