// Reading with a language's habits of spelling in mind: a beam search over the texts that
// the frames may spell (Graves and Jaitly 2014; Hannun et al. 2014), weighed with a language model.
//
// The language has a say only where the network is in doubt: its weight falls with the network's
// certainty, only characters that the network saw can be chosen, and figures and whatever stands
// in one word with them (codes, bearings, prices) are read as seen.
#pragma once

#include <vector>

#include "recognise/decode.h"
#include "recognise/language_model.h"

namespace burnisher::recognise {

struct BeamSearchSettings {
  double weight = 0.7;          // of the language model's logarithms
  double certain_weight = 0.3;  // share of it that is left where the network is certain
  double sign_weight = 0.2;     // the same for signs
  double bonus = 1.9;           // a character, so that long texts don't lose to short ones
  float least = -9;             // the language's logarithms are not taken below
  size_t beams = 8;
};

// `barred` (may be empty): classes that are not to be read.
std::vector<ReadCharacter> beam_search(const Posteriors& posteriors, const Alphabet& alphabet,
                                       const LanguageModel& language,
                                       const BeamSearchSettings& settings,
                                       const std::vector<bool>& barred = {});

}  // namespace burnisher::recognise
