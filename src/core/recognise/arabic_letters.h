// Letters of Arabic script that look alike: yeh and kaf are encoded apart for Arabic and for
// Persian and Urdu, though they are printed alike but for some forms, and so are most digits. Which
// of them a text has, its language says.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::recognise {

// The same letters as the language (BCP 47) writes them. What looks different stays as it is: a
// yeh with dots at the end of an Arabic word, a digit of another form.
std::vector<char32_t> in_letters_of(const std::string& language, const std::vector<char32_t>& text);

// All words of the line and their other readings. A line of no known language goes by the letters
// that only Persian and Urdu have.
void settle_arabic_letters(Line& line);

}  // namespace burnisher::recognise
