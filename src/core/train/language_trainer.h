// From text to a language model (see recognise/language_model.h): sequences of characters are
// counted, discounted (Ney, Essen and Kneser 1994) and pruned to a size by what each of them adds
// (after Seymore and Rosenfeld 1996).
#pragma once

#include <string>
#include <vector>

namespace burnisher::train {

struct LanguageSettings {
  std::string tag;                   // BCP 47, such as "de"
  std::vector<std::string> running;  // files of text, a paragraph a line
  std::vector<std::string> words;    // files of words, one a line
  int order = 7;                     // characters in the longest sequence
  size_t most_bytes = 1200000;       // size of the file at most
};

struct LanguageReport {
  size_t characters = 0;  // learnt from
  size_t sequences = 0;   // kept
  double bits = 0;        // a character of the kept-back end of the running text (the last 7 %)
  size_t kept_back = 0;   // characters that `bits` was measured on
};

// Throws InputError/SettingsError/OutputError.
LanguageReport train_language_model(const LanguageSettings& settings, const std::string& path);

}  // namespace burnisher::train
