// What the network saw of a line, without what is as good as impossible: for every frame the
// classes that may stand there. Small enough to keep for a whole page.
#pragma once

#include <cstdint>
#include <vector>

#include "recognise/network.h"

namespace burnisher::recognise {

constexpr float kImpossible = -8;  // ln of the least probability that is kept

struct Seen {
  uint16_t klass = 0;
  float log_probability = 0;
};

class Evidence {
 public:
  Evidence() = default;
  explicit Evidence(const FrameScores& scores);

  int frames() const { return static_cast<int>(first_.size()) - 1; }
  // The classes seen at a frame, the likeliest first; never none.
  const Seen* begin(int frame) const { return seen_.data() + first_[static_cast<size_t>(frame)]; }
  const Seen* end(int frame) const { return seen_.data() + first_[static_cast<size_t>(frame) + 1]; }
  // kImpossible for classes not kept.
  float of(int frame, int klass) const;

 private:
  std::vector<uint32_t> first_ = {0};
  std::vector<Seen> seen_;
};

}  // namespace burnisher::recognise
