// The fonts of text layers as objects of a PDF.
#pragma once

#include "pdf/text_layer.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

namespace burnisher::pdf {

// Puts every font that `fonts` named into the font resources.
void add_fonts(QPDF& pdf, const TextFonts& fonts, QPDFObjectHandle resources);

}  // namespace burnisher::pdf
