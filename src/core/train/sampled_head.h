// The loss of a network whose classes are too many to be scored at every frame: softmax
// cross-entropy at the frames that matter alone. A rendered line's characters have known places:
// the frames at their middles say them, those between say nothing, and what lies between these two
// may say either, so that the best path joins what one character's frames say (CTC's decoding:
// Graves, Fernandez, Gomez and Schmidhuber 2006).
#pragma once

#include <vector>

#include "base/random.h"
#include "train/line_maker.h"

namespace burnisher::train {

struct FrameTarget {
  int frame = 0;
  int klass = 0;  // 0: nothing
};

// At most two for each character of a line of `frames` frames.
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
// Adds to `context_gradient` (same shape as `context`) and overwrites `gradient`. Returns the summed
// loss of the targets.
double sampled_head_loss(const HeadView& head, const std::vector<float>& context,
                         const std::vector<FrameTarget>& targets,
                         std::vector<float>& context_gradient, HeadGradient& gradient);

}  // namespace burnisher::train
