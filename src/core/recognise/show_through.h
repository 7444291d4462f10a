// Text of the other side that shines through the paper looks like faint print, but reads in the
// mirror only.
#pragma once

#include "recognise/recognise.h"

namespace burnisher::recognise {

// Whether a page that was read, badly, is nothing but its other side: a few of its lines read
// clearly better mirrored. `picture`: of the page, upright.
bool shines_through(const Recogniser& recogniser, const Gray& picture,
                    const RecogniseSettings& settings, const Page& page);

}  // namespace burnisher::recognise
