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

}  // namespace burnisher::recognise
