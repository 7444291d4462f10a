// Normalisation with ReLU over channels-last activations, forward and backward: each channel by its
// own mean and variance (Ioffe and Szegedy 2015), or several neighbouring ones by those they have
// together (Wu and He 2018).
#pragma once

#include <cstddef>
#include <vector>

namespace burnisher::neural {

struct NormShape {
  size_t rows = 0;  // places of the pictures
  size_t channels = 0;
  size_t group = 1;  // channels that are normalised together; a divisor of `channels`
};

struct NormState {
  std::vector<float> mean, variance;  // by channel; the same for all of a group
};

// out = relu(gain * (in - mean) / deviation + shift) [+ skip]. `skip` may be null.
void norm_forward(const float* in, const NormShape& shape, const std::vector<float>& gain,
                  const std::vector<float>& shift, const float* skip, NormState& state, float* out);

// From the gradient of `out` to the gradients of `in`, gain and shift.
void norm_backward(const float* in, const float* out_gradient, const NormShape& shape,
                   const std::vector<float>& gain, const std::vector<float>& shift,
                   const NormState& state, float* in_gradient, std::vector<float>& gain_gradient,
                   std::vector<float>& shift_gradient);

}  // namespace burnisher::neural
