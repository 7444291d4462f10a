// What poppler's programs do for us, each in a process of its own: drawing a page of a PDF and
// telling the words on it. Nothing else in Burnisher draws PDF pages, so another renderer is
// another pdf_programs.cc; a page that makes it crash costs that page alone.
#pragma once

#include <string>
#include <vector>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher {

// The page (from 1) as far as its crop box shows it. Gray, Bitonal or Colour, whichever is enough.
// Throws FormatError when it cannot be drawn or has more than `most_pixels`, InputError when the
// program is missing.
Picture draw_pdf_page(const std::string& path, int page, double dpi, double most_pixels);

struct PdfWord {
  std::string text;
  Box box;  // points from the crop box's upper left corner, as the page is seen
};

struct PdfWords {
  double width = 0, height = 0;  // of the page as it is seen, points
  std::vector<PdfWord> words;
};

// As `draw_pdf_page` throws.
PdfWords pdf_words(const std::string& path, int page);
// Of several pages in one go.
std::vector<PdfWords> pdf_words(const std::string& path, int first, int last);

}  // namespace burnisher
