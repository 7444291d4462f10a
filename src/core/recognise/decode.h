// From what the network saw to characters: the best path (Graves et al. 2006). Each frame's most
// likely class is taken, repeats are joined and blanks dropped.
#pragma once

#include <map>
#include <vector>

#include "recognise/alphabet.h"
#include "recognise/posteriors.h"

namespace burnisher::recognise {

struct ReadCharacter {
  char32_t character = 0;
  double confidence = 0;  // how likely it is the right one, 0-1
  int first_frame = 0;
  int last_frame = 0;
  int peak_frame = 0;
  double network_confidence =
      0;  // the network's own probability at the peak, before any language is asked
  bool small_capital = false;  // a lower-case letter in the form of a capital
};

// Characters of barred classes (by class; may be empty) give way to the next likely one that is
// not barred, at the frames where they stand.
std::vector<ReadCharacter> best_path(const Posteriors& posteriors, const Alphabet& alphabet,
                                     const std::vector<bool>& barred = {});

// Symbols (model.h) as the characters that they stand for, each in its share of the frames.
std::vector<ReadCharacter> spelled_out(const std::vector<ReadCharacter>& characters,
                                       const std::map<char32_t, std::vector<char32_t>>& symbols);

// Mean over the characters; 0 without any.
double mean_confidence(const std::vector<ReadCharacter>& characters);

}  // namespace burnisher::recognise
