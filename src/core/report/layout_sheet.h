// The layout sheet: one page, without a network, for putting blocks, lines, tables and their order
// right, by mouse or by keyboard alone. It saves marks (layout/marks.h) that `burnisher amend` lays
// over the pages of a job.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::report {

struct LayoutLeaf {
  std::string name;  // of its PAGE XML, without ending
  const Page* page = nullptr;
  std::string picture;            // as an address seen from the sheet
  std::vector<std::string> look;  // why it is worth a look, beside what the sheet finds itself
};

struct LayoutSheet {
  std::string title;
  std::vector<LayoutLeaf> leaves;
  // The page's picture, asked for once and let go; empty: there is none.
  std::function<Gray(size_t leaf)> picture;
};

std::string layout_html(const LayoutSheet& sheet);

// Why pages are worth a look: read unclearly, laid out unlike their neighbours, with ink that no
// block covers. `ink_outside`: of each page, see uncovered_ink.
std::vector<std::vector<std::string>> worth_a_look(const std::vector<const Page*>& pages,
                                                   const std::vector<double>& ink_outside);

// The share of a page's ink that lies in none of its blocks, the rim left aside. `picture`: of the
// page, at any size.
double uncovered_ink(const Page& page, const Gray& picture);

}  // namespace burnisher::report
