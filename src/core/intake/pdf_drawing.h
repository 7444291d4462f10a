// What the operators of a PDF page draw, as far as it matters to somebody who wants its scan: the
// pictures with the places they are laid to, and whether there is anything else.
#pragma once

#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

#include <string>
#include <vector>

#include "base/plane.h"

namespace burnisher {

struct PlacedPicture {
  QPDFObjectHandle stream;  // with its dictionary
  Affine to_page;           // the unit square to the page's points
  double dpi = 0;           // of its shorter pixels' side
  double area = 0;          // square points
};

struct PdfDrawing {
  std::vector<PlacedPicture> pictures;
  bool plain = true;      // besides them only text that is not seen, and what draws nothing
  bool any_text = false;  // seen or not
};

// The page's crop box, in points; that of the media where there is none.
QPDFObjectHandle::Rectangle crop_box(QPDFPageObjectHelper& page);
// Degrees clockwise that viewers turn the page by: 0, 90, 180 or 270.
int rotation_of(QPDFPageObjectHelper& page);

PdfDrawing drawing_of(QPDFPageObjectHelper& page);

}  // namespace burnisher
