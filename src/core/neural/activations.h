// What happens to activations between convolutions, channels last.
#pragma once

#include <cstddef>

#include "neural/convolution.h"

namespace burnisher::neural {

void add(const float* values, size_t count, float* to);

// Every sample of `from` (of shape `shape`) four times: twice as high and wide.
void double_size(const float* from, const TensorShape& shape, float* to);

// The way back of a gradient: the sum of the four.
void halve_gradient(const float* from, const TensorShape& shape, float* to);

}  // namespace burnisher::neural
