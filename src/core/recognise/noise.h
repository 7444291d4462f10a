// What was read but is no text: stamps, scribble, stains, specks. It is told by how clearly the
// network saw it, because a language finds words in scribble, too.
#pragma once

#include "page/page.h"

namespace burnisher::recognise {

// On a page that reads well, blocks that don't (stamps, scribble, stains, parts of pictures) are
// not text: their kind becomes noise. Their words stay, so that nothing is lost.
void set_noise_aside(Page& page);

// A page none of which reads like text: specks, grain. Its blocks become noise. Returns whether
// that was so.
bool set_blank_aside(Page& page);

// On a page strewn with specks, blocks of scraps are specks: they become noise.
void set_scraps_aside(Page& page);

// All blocks with lines become noise.
void set_all_aside(Page& page);

}  // namespace burnisher::recognise
