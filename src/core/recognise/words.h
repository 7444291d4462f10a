// From read characters to words with boxes: each word's box is the ink of the strip between its
// neighbours' spaces, taken back to the page.
#pragma once

#include <vector>

#include "page/page.h"
#include "recognise/decode.h"
#include "recognise/strip.h"

namespace burnisher::recognise {

// `map`: from strip pixels to those of the picture the strip was cut from, the unstraightened scan;
// `page_to_gray`: from page pixels to these. Characters in reading order.
std::vector<Word> words_of(const std::vector<ReadCharacter>& characters, const Gray& strip,
                           const StripMap& map, const StripFrame& frame,
                           const PlaneMap& page_to_gray);

}  // namespace burnisher::recognise
