// The parameters of a network in training: how they begin, what each batch adds to them, and what
// is kept in the end. The same for lines and for pages.
#pragma once

#include "neural/conv_shape.h"
#include "train/run_files.h"
#include "train/trainable.h"

namespace burnisher::train {

// He et al. 2015; the head starts near indifference.
void initialise(const std::vector<neural::ConvShape>& layers, uint64_t seed, RunState& state);

// Moves the running means and variances towards those of a batch.
void follow(const std::vector<neural::ConvShape>& layers, const BatchStatistics& batch,
            RunState& state);

// Adds up gradients name by name.
void add_gradient(const ParameterMap& gradient, ParameterMap& sum);

// The running mean of parameters and statistics; what has none yet as it is.
neural::Tensors averaged(const std::vector<neural::ConvShape>& layers, const RunState& state);

}  // namespace burnisher::train
