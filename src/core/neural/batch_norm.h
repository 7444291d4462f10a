// Batch normalisation with ReLU over channels-last activations, forward and backward (Ioffe and
// Szegedy 2015). `rows` x `channels` samples; a row is one place of one picture.
#pragma once

#include <cstddef>
#include <vector>

namespace burnisher::neural {

struct NormState {
  std::vector<float> mean, variance;
};

// out = relu(gain * (in - mean) / deviation + shift) [+ skip]. `skip` may be null.
void norm_forward(const float* in, size_t rows, size_t channels, const std::vector<float>& gain,
                  const std::vector<float>& shift, const float* skip, NormState& state, float* out);

// From the gradient of `out` to the gradients of `in`, gain and shift.
void norm_backward(const float* in, const float* out_gradient, size_t rows, size_t channels,
                   const std::vector<float>& gain, const std::vector<float>& shift,
                   const NormState& state, float* in_gradient, std::vector<float>& gain_gradient,
                   std::vector<float>& shift_gradient);

}  // namespace burnisher::neural
