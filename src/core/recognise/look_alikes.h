// Letters that look alike in Latin, Cyrillic and Greek (A and А, o and о, P and Ρ): which of them a
// word has, its other letters say.
#pragma once

#include "page/page.h"

namespace burnisher::recognise {

// In every word of the line the look-alikes become letters of the script that its other letters are
// of; in words of nothing but look-alikes from two scripts, and single letters, those of the line's
// script.
void settle_look_alikes(Line& line);

}  // namespace burnisher::recognise
