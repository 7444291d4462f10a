// What is known of a word, in numbers: how clearly it was seen, whether it is a word at all, what
// else it may be. Correcting tells wrong words from right ones by them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "correct/confusion_model.h"
#include "correct/document_words.h"
#include "correct/forms.h"
#include "correct/lexicon.h"

namespace burnisher::correct {

// What a word is held against.
struct AnalysisContext {
  const Lexicon& lexicon;
  const DocumentWords& document;
  const ConfusionModel& confusion_model;
};

// A word in its line. Halves of a word parted at a line's end are looked up together.
struct Place {
  const Word* word = nullptr;
  std::string other_half;   // of the next or the previous line; "": the word is whole
  bool first_half = false;  // it is the part before the hyphen
  bool sentence_start = false;
  double line_certainty = 1;           // mean confidence of the line's words
  std::vector<std::string> languages;  // that its words may be of
};

struct WordAnalysis {
  Form form;
  bool checkable = false;  // a word of a language whose dictionary is there
  bool known = false;      // right by lexicon or document, or of a kind that is not looked up
  double own_share = 1;    // of what was seen, how much speaks for the text as it is
  double rival_share = 0;  // and for the likeliest other reading that would be known
  FeatureVector features{};
};

// Whether every word of `text` (one, or several with spaces) is known.
bool known(const std::string& text, const Place& place, const AnalysisContext& context);

WordAnalysis analysis_of(const Place& place, const AnalysisContext& context);

}  // namespace burnisher::correct
