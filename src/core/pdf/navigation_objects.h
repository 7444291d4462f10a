// Ways through a PDF as its objects: bookmarks, page labels, links, what a viewer shows first.
#pragma once

#include <vector>

#include "pdf/navigation.h"
#include "pdf/structure.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

namespace burnisher::pdf {

// The page objects of a document in their order.
using Sheets = std::vector<QPDFObjectHandle>;

// The lines of a contents page on the sheet they are printed on.
struct ContentsPage {
  int sheet = 0;  // from 0
  SheetFrame frame;
  std::vector<ContentsLine> lines;
};

// Throws SettingsError for one that leads beyond the last page.
void add_bookmarks(QPDF& pdf, const Sheets& sheets, const std::vector<Bookmark>& bookmarks);
void add_labels(QPDF& pdf, const Sheets& sheets, const std::vector<LabelRange>& ranges);
// From lines of contents pages to the pages with the labels they name.
void add_links(QPDF& pdf, Sheets& sheets, const std::vector<ContentsPage>& contents,
               const std::vector<LabelRange>& ranges, Structure& structure);
// `top`: of the first sheet, points.
void set_opening(QPDF& pdf, const Sheets& sheets, double top, Opening opening);

}  // namespace burnisher::pdf
