// What was found, as one page for a browser: every hit with the picture of its line, by documents,
// and how the hits are spread over their pages. No network is needed.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "find/hit_view.h"
#include "raster/image.h"

namespace burnisher::report {

struct FoundDocument {
  std::string name;
  int pages = 0;
  find::Fields fields;
};

struct FoundPlace {
  size_t document = 0;  // place among the documents
  size_t sought = 0;    // place among what was sought
  double probability = 1;
  bool misread = false;
  std::vector<find::HitLine> lines;
};

struct FindSheet {
  std::string title;
  std::vector<std::string> sought;
  std::vector<FoundDocument> documents;
  std::vector<FoundPlace> places;  // in order
  // The picture that a page's places belong to; asked for once for each page in turn, an empty one
  // where there is none.
  std::function<Gray(const find::IndexedPage&)> picture;
  // Where a file is as seen from the page, as an address.
  std::function<std::string(const std::string&)> address;
};

std::string find_html(const FindSheet& sheet);

}  // namespace burnisher::report
