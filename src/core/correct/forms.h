// What a printed word is, without the punctuation round it: a word of a language, a number, a date,
// an address... Only words of a language are looked up; figures and codes are never spelled.
#pragma once

#include <string>
#include <vector>

namespace burnisher::correct {

enum class FormKind {
  kWord,          // letters; may have apostrophes and hyphens within
  kNumber,        // 412  3.14  1,200  29.97  ½
  kOrdinal,       // 3rd  14th
  kAmount,        // £12  $3.50  40%
  kMeasure,       // 12m  300mm  45°17'32"
  kDate,          // 14.11.1923  1923-11-14  1914-18
  kRoman,         // XIV  iv
  kAbbreviation,  // e.g.  N.W.  J.  Nov.
  kAddress,       // URLs and mail addresses
  kCode,          // B-12  F7  AB123: capitals and figures
  kSigns,         // no letter and no figure
  kOdd,           // a mixture that no word is made of: l9O5, gall0ns, THe
};

struct Form {
  FormKind kind = FormKind::kSigns;
  std::string before, core, after;  // punctuation, the word itself, punctuation
};

Form form_of(const std::string& word);

// Parts of a compound, as in "light-house" or "l'eau"; the core itself when there is nothing to
// part it at.
std::vector<std::string> parts_of(const std::string& core);

// The kinds that may be looked up in a lexicon, and wrong for not being in it.
bool is_spelled(FormKind kind);

}  // namespace burnisher::correct
