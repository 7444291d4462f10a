// The loss of connectionist temporal classification: minus the logarithm of the probability that
// the frames spell the text, whatever the places of the characters. (Graves, Fernandez, Gomez and
// Schmidhuber 2006.)
#pragma once

#include <vector>

namespace burnisher::train {

// `scores`: frames x classes, before the softmax; class 0 is the blank. Adds the loss's gradient
// with respect to the scores to `gradient` (same shape) and returns the loss. A text that does not
// fit into the frames has no gradient and loss 0.
double ctc_loss(const float* scores, int frames, int classes, const std::vector<int>& text,
                float* gradient);

// Cross-entropy against known places: every character at the frame `at[i]` (frames, from 0),
// the blank on all others with weight `blank_weight`. Adds `strength` times the gradient.
double alignment_loss(const float* scores, int frames, int classes, const std::vector<int>& text,
                      const std::vector<int>& at, double strength, double blank_weight,
                      float* gradient);

}  // namespace burnisher::train
