// Pages that a person, or another program, changed in a job's PAGE XML.
#pragma once

#include "page/page.h"

namespace burnisher::run {

// `changed`: as the file is now; `ours`: as it was written or read before. What stays is told by
// place: lines that lie where one of ours lay keep what stands in them, and words that say
// something else than ours did are the person's, who is never corrected. Lines that lie elsewhere
// but say what one of ours said were moved, not typed: their words go, so that they are read again
// (read_missing). Lines with a text of their own keep it.
void take_persons_word(const Page& ours, Page& changed);

}  // namespace burnisher::run
