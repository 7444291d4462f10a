// Words of a line changed, so that what was read before is not lost.
#pragma once

#include <string>

#include "page/page.h"

namespace burnisher::correct {

// Puts `text` in the place of a word. Several words share its box by their lengths; "" removes it.
void replace_word(Line& line, size_t word, const std::string& text, CorrectedBy by);

// What was read stands again where repairs were made.
void take_back_repairs(Page& page);

}  // namespace burnisher::correct
