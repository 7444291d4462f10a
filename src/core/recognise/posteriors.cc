#include "recognise/posteriors.h"

#include <algorithm>

namespace burnisher::recognise {

Posteriors::Posteriors(const FrameScores& scores) {
  for (int f = 0; f < scores.frames; ++f) {
    const float* frame = scores.frame(f);
    const size_t start = seen_.size();
    for (int k = 0; k < scores.classes; ++k) {
      if (frame[k] > kLeastLogPosterior) seen_.push_back({static_cast<uint16_t>(k), frame[k]});
    }
    std::sort(seen_.begin() + static_cast<long>(start), seen_.end(),
              [](const ClassPosterior& a, const ClassPosterior& b) {
                return a.log_probability > b.log_probability;
              });
    seen_.resize(std::min(seen_.size(), start + kMostClasses));
    first_.push_back(static_cast<uint32_t>(seen_.size()));
  }
  seen_.shrink_to_fit();
}

float Posteriors::of(int frame, int klass) const {
  for (const ClassPosterior* s = begin(frame); s != end(frame); ++s) {
    if (s->klass == klass) return s->log_probability;
  }
  return kLeastLogPosterior;
}

}  // namespace burnisher::recognise
