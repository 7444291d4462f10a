// Lines that the picture's edge cuts along their length: what is left of them reads as other
// letters.
#pragma once

#include "page/page.h"

namespace burnisher::recognise {

// Lines whose band between baseline and x-height runs off the scan (or the page) along most of its
// length, and that don't read clearly, become blocks of noise; they keep their words. Returns how
// many.
int set_cut_lines_aside(Page& page);

}  // namespace burnisher::recognise
