// Inference: strips in, log-probabilities of every class for every frame out. Batch normalisation
// is folded into the convolutions. Safe to call from many threads at once.
#pragma once

#include <memory>
#include <vector>

#include "recognise/model.h"

namespace burnisher::recognise {

// One line's reading: frames x classes, natural logarithms.
struct FrameScores {
  int frames = 0;
  int classes = 0;
  std::vector<float> log_probability;
  // How surely the line is of each of Model::scripts(), summed over the frames where a letter is:
  // natural logarithms. Empty when the model does not tell scripts, or the line has no letters.
  std::vector<float> script_log_probability;
  // The same for every frame, frames x scripts; zeros where no letter is.
  std::vector<float> script_frames;
  const float* frame(int f) const {
    return log_probability.data() + static_cast<size_t>(f) * static_cast<size_t>(classes);
  }
};

enum class Precision {
  kFloat32,  // 32-bit floating point throughout
  kInt8,     // all layers but the first in bytes (see quantise.h)
};
// Bytes where the processor has instructions for them.
Precision precision_of_processor();

class Network {
 public:
  static constexpr size_t kAllWidths = 24;  // those of single lines
  // `most_prepared`: batch shapes whose kernels are kept, each some megabytes.
  explicit Network(const Model& model, Precision precision = precision_of_processor(),
                   size_t most_prepared = kAllWidths);
  ~Network();
  Network(const Network&) = delete;
  Network& operator=(const Network&) = delete;

  // Strips may differ in width; results are in the order of the strips, and each the same (but for
  // the rounding of floats) as if it were read alone: what lies beyond a strip's own end is held at
  // zero in every layer. All are computed at the width of the widest;
  // there is nothing to gain over reading them one by one (kernels_bench, ReadLines).
  std::vector<FrameScores> read(const std::vector<const Gray*>& strips) const;

  // Gives back the memory that the next strips would be read faster with.
  void rest() const;

  // What the layers before the head make of one strip: frames x channels. For heads to learn from.
  std::vector<float> context_of(const Gray& strip) const;

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::recognise
