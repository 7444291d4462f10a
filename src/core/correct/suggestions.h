// What a suspect word should read instead: other readings of the recogniser, its usual mistakes
// undone (rn for m), parted words, words of the document; at last the dictionary's own proposals.
#pragma once

#include <string>
#include <vector>

#include "correct/word_analysis.h"

namespace burnisher::correct {

struct Suggestion {
  std::string text;   // with the punctuation round it
  double cost = 0;    // -ln of how much speaks for it; smaller is better
  bool seen = false;  // one of the recogniser's own readings, not only a guess
  bool known = false;
};

enum class Effort {
  kReadings,    // only what the recogniser saw; microseconds
  kGuesses,     // its usual mistakes undone, words parted, too
  kDictionary,  // and the dictionary asked when little else is found; milliseconds
};

// The best first; the word as it stands is not among them.
std::vector<Suggestion> suggestions_for(const Place& place, const WordAnalysis& findings,
                                        const AnalysisContext& context, size_t most, Effort effort);

// The cost of the word as it stands, on the same scale.
double cost_as_it_stands(const WordAnalysis& findings);

}  // namespace burnisher::correct
