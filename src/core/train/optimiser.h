// AdamW (Kingma and Ba 2015; Loshchilov and Hutter 2019) with a warm-up, a cosine decay, a limit on
// the gradient's length, and a running mean of the parameters that is what gets evaluated.
#pragma once

#include "train/trainable.h"

namespace burnisher::train {

struct OptimiserSettings {
  double peak_rate = 2e-3;
  double last_share = 0.01;  // of the peak rate, at the end
  int warm_up_steps = 200;
  double beta1 = 0.9, beta2 = 0.98;
  double weight_decay = 1e-3;  // on convolution weights only
  double longest_gradient = 3.0;
  double average_keep = 0.998;  // share kept of the running mean at each step
};

struct OptimiserState {
  ParameterMap first, second;  // moments
  ParameterMap average;        // running mean of parameters and of batch statistics
  int64_t step = 0;
};

// The learning rate at step `step` when `progress` (0-1) of the training is done.
double learning_rate(const OptimiserSettings& settings, int64_t step, double progress);

// One update. `gradient` is scaled down in place when it is too long. Returns its length before.
double update(const OptimiserSettings& settings, double rate, ParameterMap& gradient,
              ParameterMap& parameters, OptimiserState& state);

// Moves the running mean towards `values` (parameters, or running batch statistics).
void average_in(const OptimiserSettings& settings, const ParameterMap& values,
                OptimiserState& state);

}  // namespace burnisher::train
