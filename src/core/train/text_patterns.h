// What print has that prose lacks, and what printers do to letters: patterns of numbers, dates,
// codes and addresses, abbreviations, typographic quotes, the long s, capitals.
#pragma once

#include <string>
#include <vector>

#include "base/random.h"

namespace burnisher::train {

// A date, a price, a code, an address, a bearing, ... drawn anew.
std::vector<char32_t> figure_of_print(Random& random);
// "No.", "viz.", "z. B.", "XIV" ...
std::vector<char32_t> abbreviation(Random& random);
// Of a pattern: # becomes a digit, 9 a digit without 0, A a capital letter, a a small letter;
// everything else stands for itself. Now and then the letters do, too.
std::vector<char32_t> filled(const std::string& pattern, Random& random);

// Straight quotes and double hyphens as a printer sets them.
void make_typographic(std::vector<char32_t>& line, Random& random);
// Old printing: long s everywhere but at the end of a word.
void use_long_s(std::vector<char32_t>& line);
void capitalise(std::vector<char32_t>& line);
// The first letter of every word.
void capitalise_words(std::vector<char32_t>& line);

}  // namespace burnisher::train
