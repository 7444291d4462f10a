// Whether confidences mean what they say: of the words read with confidence 0.8, eight in ten
// should be right. Expected calibration error after Naeini, Cooper and Hauskrecht 2015.
#pragma once

#include <array>
#include <string>
#include <utility>
#include <vector>

namespace burnisher::score {

struct Certainty {
  struct Step {
    int words = 0, right = 0;
    double confidence = 0;  // sum over the words
  };
  std::array<Step, 10> steps;  // by confidence: 0-0.1, 0.1-0.2, ...

  // Mean distance between confidence and share of right words, weighted by the words. 0-1.
  double error() const;
  int words() const;
  void add(const Certainty& more);
};

// `read`: words with their confidences, in reading order. A word is right when the best alignment
// with the truth's words pairs it with the same word.
Certainty certainty_of(const std::vector<std::pair<std::string, double>>& read,
                       const std::string& truth);

}  // namespace burnisher::score
