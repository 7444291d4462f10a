#include "recognise/decode.h"

#include <algorithm>
#include <cmath>

namespace burnisher::recognise {

std::vector<ReadCharacter> best_path(const FrameScores& scores, const Alphabet& alphabet) {
  std::vector<ReadCharacter> read;
  int before = 0;
  for (int f = 0; f < scores.frames; ++f) {
    const float* frame = scores.frame(f);
    const int best = static_cast<int>(std::max_element(frame, frame + scores.classes) - frame);
    const double probability = std::exp(frame[best]);
    if (best != 0 && best == before) {
      ReadCharacter& last = read.back();
      last.last_frame = f;
      if (probability > last.confidence) {
        last.confidence = probability;
        last.peak_frame = f;
      }
    } else if (best != 0) {
      read.push_back({alphabet.character(best), probability, f, f, f});
    }
    before = best;
  }
  return read;
}

std::vector<ReadCharacter> best_path_without(const std::vector<bool>& barred,
                                             const FrameScores& scores, const Alphabet& alphabet) {
  std::vector<ReadCharacter> read = best_path(scores, alphabet);
  for (ReadCharacter& c : read) {
    if (!barred[static_cast<size_t>(alphabet.class_of(c.character))]) continue;
    int best = 0;
    float most = 0;
    for (int f = c.first_frame; f <= c.last_frame; ++f) {
      for (int k = 1; k < scores.classes; ++k) {
        if (barred[static_cast<size_t>(k)] || alphabet.character(k) == U' ') continue;
        if (best != 0 && scores.frame(f)[k] <= most) continue;
        best = k;
        most = scores.frame(f)[k];
        c.peak_frame = f;
      }
    }
    if (best == 0) continue;
    c.character = alphabet.character(best);
    c.confidence = std::exp(most);
  }
  return read;
}

}  // namespace burnisher::recognise
