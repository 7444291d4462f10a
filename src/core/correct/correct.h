// The stage `correct`: words that may be wrong are found and ranked, and those that are certainly
// wrong are mended, on all pages of a document. Nothing else of the pages changes.
#pragma once

#include <string>
#include <vector>

#include "correct/surroundings.h"

namespace burnisher::correct {

enum class Repair {
  kOff,
  kSafe,  // only where reading and lexicon agree on one word
  kAll,   // wherever the best suggestion is likelier than what was read
};

struct CorrectSettings {
  Repair repair = Repair::kSafe;
  double limit = 0;  // error_probability from which on a word is a suspect; 0: as learnt
  std::vector<std::string> languages;  // empty: those of the lines
};

// A correction that was made. `line`: the whole line as it reads now.
struct Change {
  std::string file;
  int page = 1;
  Box box;
  std::string before, after, line;
  std::string reason;  // in words
};

struct CorrectReport {
  int words = 0;
  int suspects = 0, unsure = 0, unknown = 0, odd = 0;
  std::vector<Change> changes;
  std::vector<std::string> without_dictionary;  // languages of the text that none is installed for
};

// Words that a person has settled or that were repaired before stay as they are, so that giving a
// result back to this function changes nothing; with kOff repairs are taken back. Page numbers and
// noise are not looked at.
CorrectReport correct(const std::vector<Page*>& pages, const Lexicon& lexicon,
                      const ConfusionModel& confusion_model, const CorrectSettings& settings);

// The suspects of a document again, with the suggestions a person chooses from.
struct Suspect {
  size_t page = 0;  // place in `pages`
  Spot spot;
  std::vector<std::string> suggestions;
};
std::vector<Suspect> suspects_of(const std::vector<const Page*>& pages, const Lexicon& lexicon,
                                 const ConfusionModel& confusion_model,
                                 const std::vector<std::string>& languages,
                                 size_t most_suggestions);

}  // namespace burnisher::correct
