// Files that hold read pages, PAGE XML (one page) or ALTO (many): read, changed and written back in
// the format they came in.
#pragma once

#include <string>
#include <vector>

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
PageFile read_page_file(const std::string& path);
std::string written(const PageFile& file);

// The .xml files named, and those in folders named, sorted by name. Throws InputError for what is
// not there or holds none.
std::vector<std::string> page_files(const std::vector<std::string>& inputs);

}  // namespace burnisher
