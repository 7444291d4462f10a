// METS 1.12 for a whole object: the scans, page pictures, PAGE XML and documents that belong
// together, the order of the pages with the numbers printed on them, and the headings with the
// pages they stand on.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "base/files.h"
#include "page/fields.h"
#include "page/page.h"

namespace pugi {
class xml_node;
}

namespace burnisher::exporting {

struct MetsSettings {
  std::string title, author, language, date;  // empty: not stated
  DescriptiveFields more = {};
};

// Where what belongs to a page lies; empty: there is none.
struct PageFiles {
  std::string scan, picture, page_xml;
};

class Mets {
 public:
  // `documents`: files made of all pages. Throws OutputError.
  Mets(const Sink& sink, const MetsSettings& settings, const std::vector<std::string>& documents);

  void add(const Page& page, const PageFiles& files, const std::string& printed_number);
  // Files get size and checksum (CRC32) as they are now; those that are not there are only named.
  void finish();

 private:
  void add_pages(pugi::xml_node root) const;
  void add_sections(pugi::xml_node root) const;

  struct Leaf {
    PageFiles files;
    std::string printed_number;
  };
  struct Heading {
    std::string title;
    int level = 1;
    size_t page = 0;
  };

  Sink sink_;
  MetsSettings settings_;
  std::vector<std::string> documents_;
  std::vector<Leaf> leaves_;
  std::vector<Heading> headings_;
  std::set<std::string> readings_;  // versions that pages were read by
};

}  // namespace burnisher::exporting
