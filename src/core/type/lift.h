// Takes words that are set in type out of a page's ink.
#pragma once

#include "page/page.h"
#include "raster/image.h"

namespace burnisher::type {

// The ink of all words of `page` that have a type: their letters, without rules that cross or
// touch them.
Bitonal ink_of_set_words(const Page& page, const Bitonal& ink);

}  // namespace burnisher::type
