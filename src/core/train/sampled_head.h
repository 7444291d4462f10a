// The loss of a network whose classes are too many to be scored at every frame: softmax
// cross-entropy at the frames that matter alone. The place of each character of a rendered line is
// known: the frame at its middle says it, those next to that may say it or nothing, all others say
// nothing: what CTC (Graves, Fernandez, Gomez and Schmidhuber 2006) comes to by itself, and is
// decoded as.
#pragma once

#include <vector>

#include "base/random.h"
#include "train/line_maker.h"

namespace burnisher::train {

struct FrameTarget {
  int frame = 0;
  int klass = 0;  // 0: nothing
};

// At most three for each character of a line of `frames` frames.
std::vector<FrameTarget> frame_targets(const TrainingLine& line, int frames, Random& random);

// A linear layer: classes x channels, row by row, and a bias for each class.
struct HeadView {
  const std::vector<float>& weight;
  const std::vector<float>& bias;
};

struct HeadGradient {
  std::vector<float> weight, bias;
};

// `context`: frames x channels of a batch; `targets`: their frames count through the whole batch.
// Adds to `context_gradient` (same shape as `context`) and overwrites `gradient`. Returns the
// summed loss of the targets.
double sampled_head_loss(const HeadView& head, const std::vector<float>& context,
                         const std::vector<FrameTarget>& targets,
                         std::vector<float>& context_gradient, HeadGradient& gradient);

}  // namespace burnisher::train
