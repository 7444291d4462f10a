// Roman numbers, as front matter is paged with: "xiv".
#pragma once

#include <string>

namespace burnisher {

// In small letters; `value` from 1.
std::string roman_text(int value);
// Of small letters; 0 for what is no roman number.
int roman_value(const std::string& text);

}  // namespace burnisher
