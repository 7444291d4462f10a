// Finds the real type that stands in for print: words are drawn in every face, stretched to their
// place, and laid over the ink; the face that covers it best is taken. The family is a block's,
// with the page's as a prior and the contrast of its strokes as a second witness; weight is told by
// the stroke width beside that of the page, slant by the overlap, colour from the ink.
#pragma once

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::type {

enum class Which {
  kSure,      // suspects and words that no face covers well keep their picture
  kReadable,  // words that were hardly read do, and those that no face has the characters of
};

// Sets `type` of the words of `page`. `picture` is the page's, `ink` what is printed on it.
void match(Page& page, const Picture& picture, const Bitonal& ink, Which which);

}  // namespace burnisher::type
