// What the network saw of a line, without what is as good as impossible: for every frame the
// classes that may stand there. Small enough to keep for a whole page.
#pragma once

#include <cstdint>
#include <vector>

#include "recognise/network.h"

namespace burnisher::recognise {

// Classes kept of a frame: print has seldom more than five, scribble would have a hundred.
constexpr size_t kMostClasses = 24;
constexpr float kLeastLogPosterior = -8;  // ln of the least probability that is kept

struct ClassPosterior {
  uint16_t klass = 0;
  float log_probability = 0;
};

class Posteriors {
 public:
  Posteriors() = default;
  explicit Posteriors(const FrameScores& scores);

  int frames() const { return static_cast<int>(first_.size()) - 1; }
  // The classes seen at a frame, the likeliest first; never none.
  const ClassPosterior* begin(int frame) const {
    return seen_.data() + first_[static_cast<size_t>(frame)];
  }
  const ClassPosterior* end(int frame) const {
    return seen_.data() + first_[static_cast<size_t>(frame) + 1];
  }
  // kLeastLogPosterior for classes not kept.
  float of(int frame, int klass) const;

 private:
  std::vector<uint32_t> first_ = {0};
  std::vector<ClassPosterior> seen_;
};

}  // namespace burnisher::recognise
