// Between the order in which a line is read and typed (logical) and the order in which its
// characters are printed from left to right: the Unicode Bidirectional Algorithm (UAX 9) one way,
// its inverse the other. A recogniser sees the printed order; all text that is kept is logical.
//
// Combining marks follow their letter in both orders. The Devanagari vowel sign i, which is printed
// before the consonants it follows, stands before them in printed order.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace burnisher {

// Characters text[from .. from + count) that run in one direction.
struct DirectionRun {
  size_t from = 0;
  size_t count = 0;
  bool right_to_left = false;
};

// The runs of a line from left to right. `right_to_left`: the direction of the line as a whole.
std::vector<DirectionRun> direction_runs(const std::vector<char32_t>& text, bool right_to_left);

struct PrintedCharacter {
  char32_t character = 0;  // as it looks: a bracket in a run from right to left is the other one
  size_t source = 0;       // its index in the text
};

std::vector<PrintedCharacter> printed_order(const std::vector<char32_t>& text, bool right_to_left);

// The characters alone, of a line in its own direction.
std::vector<char32_t> as_printed(const std::vector<char32_t>& text);

// The text whose printed order this is. Where several texts are printed alike, Latin words and the
// figures after them are taken to belong together. `sources`, when wanted: for each character of
// the text its index in `printed`.
std::vector<char32_t> logical_order(const std::vector<char32_t>& printed, bool right_to_left,
                                    std::vector<size_t>* sources = nullptr);

bool is_mark(char32_t character);  // combining: vowel signs, points, accents
// Letters of scripts that run from right to left.
bool is_right_to_left(char32_t character);
bool script_runs_right_to_left(const std::string& script);  // ISO 15924
// Whether at least half of the letters are such.
bool runs_right_to_left(const std::vector<char32_t>& text);
// The same of a line that is known to be of a script (ISO 15924): one of such letters is enough
// where the script runs from right to left. `script` "": not known.
bool runs_right_to_left(const std::vector<char32_t>& text, const std::string& script);

}  // namespace burnisher
