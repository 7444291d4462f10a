// Pages with real type in place of print.
#pragma once

#include "page/page.h"
#include "pdf/picture.h"
#include "raster/image.h"

namespace burnisher::run {

// Takes what lies in picture blocks out of the ink: halftones and photographs belong to the paper.
void leave_pictures(const Page& page, Bitonal& ink);

// The picture of a page for the faces hybrid and reset; the page's words get their type.
pdf::PagePicture set_page(Picture picture, Bitonal ink, Page& page,
                          const pdf::PictureSettings& settings);

}  // namespace burnisher::run
