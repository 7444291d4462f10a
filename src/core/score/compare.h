// A result's text against the truth: error rates, what was read as what, and how much of it is the
// reading order's fault. Any run of white space equals one space; both sides are taken in NFC.
#pragma once

#include <map>
#include <string>
#include <vector>

namespace burnisher::score {

// What stood there and what was read; one of them is 0 for insertions and omissions.
struct Confusion {
  char32_t truth = 0, read = 0;
  bool operator<(const Confusion& o) const {
    return truth != o.truth ? truth < o.truth : read < o.read;
  }
};

enum class CharacterClass { kLower, kUpper, kAccented, kDigit, kPunctuation, kSpace };
const char* name_of(CharacterClass klass);
CharacterClass class_of(char32_t character);

struct Comparison {
  int characters = 0, character_errors = 0;
  int words = 0, word_errors = 0;
  int words_read = 0, words_in_common = 0;  // whatever their order
  int lines_missing = 0, lines_extra = 0;   // without a counterpart that shares half their words
  std::map<Confusion, int> confusions;
  struct ClassErrors {
    int characters = 0, errors = 0;
  };
  std::map<CharacterClass, ClassErrors> classes;  // insertions count for none

  double cer() const;  // share of characters; above 1 when more is inserted than stood there
  double wer() const;
  double order_free() const;  // F1 of the words in common, 0-1
  void add(const Comparison& more);
};

// The cheapest alignment of the two texts, in order: pairs of equal characters, too. White space is
// as in `compare`, composed likewise.
std::vector<Confusion> aligned(const std::string& read, const std::string& truth);

Comparison compare(const std::string& read, const std::string& truth);

}  // namespace burnisher::score
