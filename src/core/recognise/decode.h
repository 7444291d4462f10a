// From what the network saw to characters: the best path (Graves et al. 2006). Each frame's most
// likely class is taken, repeats are joined and blanks dropped.
#pragma once

#include <vector>

#include "recognise/alphabet.h"
#include "recognise/evidence.h"

namespace burnisher::recognise {

struct ReadCharacter {
  char32_t character = 0;
  double confidence = 0;  // probability at the character's peak, 0-1
  int first_frame = 0;
  int last_frame = 0;
  int peak_frame = 0;
};

// Characters of barred classes (by class; may be empty) give way to the next likely one that is
// not barred, at the frames where they stand.
std::vector<ReadCharacter> best_path(const Evidence& evidence, const Alphabet& alphabet,
                                     const std::vector<bool>& barred = {});

// Mean over the characters; 0 without any.
double mean_confidence(const std::vector<ReadCharacter>& characters);

// Mean over the words, weighted by their length; a word is as sure as its least sure character.
// Single characters count as unsure: letters that lie on their side are read as such.
double mean_word_confidence(const std::vector<ReadCharacter>& characters);

}  // namespace burnisher::recognise
