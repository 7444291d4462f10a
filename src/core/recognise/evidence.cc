#include "recognise/evidence.h"

#include <algorithm>

namespace burnisher::recognise {

Evidence::Evidence(const FrameScores& scores) {
  for (int f = 0; f < scores.frames; ++f) {
    const float* frame = scores.frame(f);
    const size_t start = seen_.size();
    for (int k = 0; k < scores.classes; ++k) {
      if (frame[k] > kImpossible) seen_.push_back({static_cast<uint16_t>(k), frame[k]});
    }
    std::sort(seen_.begin() + static_cast<long>(start), seen_.end(),
              [](const Seen& a, const Seen& b) { return a.log_probability > b.log_probability; });
    first_.push_back(static_cast<uint32_t>(seen_.size()));
  }
}

float Evidence::of(int frame, int klass) const {
  for (const Seen* s = begin(frame); s != end(frame); ++s) {
    if (s->klass == klass) return s->log_probability;
  }
  return kImpossible;
}

}  // namespace burnisher::recognise
