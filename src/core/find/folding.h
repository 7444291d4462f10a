// Text as a search compares it: what is the same to the person who searches becomes equal.
#pragma once

#include <string>
#include <string_view>
#include <utility>

namespace burnisher::find {

// What a search takes for the same. Hyphens, dashes and apostrophes of all kinds are alike always;
// soft hyphens count for nothing.
struct Folding {
  bool ignore_case = false;
  // Accents, breathings, Hebrew points, Arabic vowel signs; ø is o, ł is l. Vowel signs of Indic
  // scripts are letters and stay.
  bool ignore_accents = false;
  // How a word was spelled at its time: long s, u and v, i and j, ß and ss, ligatures; Arabic
  // letters that stand for one another, tatweel and the digits of any script; Hebrew final forms;
  // Cyrillic letters of before 1918; hyphens within words.
  bool ignore_spelling = false;

  bool operator==(const Folding& other) const {
    return ignore_case == other.ignore_case && ignore_accents == other.ignore_accents &&
           ignore_spelling == other.ignore_spelling;
  }
};

// Folds character by character; keeps what it worked out. One for each thread.
class Folder {
 public:
  explicit Folder(const Folding& folding);
  // `text`: UTF-8.
  std::u32string folded(std::string_view text);
  void append(char32_t character, std::u32string& to);

 private:
  const std::u32string& folded(char32_t character);
  std::u32string worked_out(char32_t character) const;

  Folding folding_;
  char32_t plain_[0x80];  // of ASCII that becomes one character; 0: anything else
  std::u32string table_[0x3000];
  bool known_[0x3000] = {};
  std::u32string other_;
};

// Letters, digits and the marks on them.
bool in_word(char32_t character);

// Signs that are neither letter, digit nor mark, taken off both ends; all of them where nothing
// else would be left. The place of what is left, in characters: first and behind the last.
std::pair<size_t, size_t> core_of(const std::u32string& word);

}  // namespace burnisher::find
