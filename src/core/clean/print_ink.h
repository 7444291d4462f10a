// The ink of a page as it is handed out: at twice the resolution of a scan that is coarser than
// print wants, with outlines as smooth as the gray has them and thin strokes whole.
#pragma once

#include "clean/clean.h"

namespace burnisher::clean {

// How many pixels of handed-out ink stand for one of the page, either way: 2 below 400 dpi, else 1.
int print_factor(double dpi);

// `ink`: what is ink on the page, cleaned; nothing is put where there is none within a stroke's
// blur. `page` has its size. Each stroke ends half-way between the paper and the stroke's own
// darkness (not the page's), on the gray brought to twice its resolution by cubic convolution
// (Keys 1981), so that pale hairlines hold beside black stems. The result is twice as wide and
// high. Pieces of `ink` that are not dark in the gray (white letters on black, turned by cleaning)
// come as they are.
Bitonal print_ink(const Gray& page, const Bitonal& ink, double dpi);

// The ink of a cleaned page as it is handed out (delivered_ink at print_factor); that of a bitonal
// scan is left as it is, to the pixel.
struct PrintedPage {
  Bitonal ink;
  Page page;  // without blocks; its pixels are those of `ink`
};
PrintedPage printed_page(const CleanResult& cleaned);

}  // namespace burnisher::clean
