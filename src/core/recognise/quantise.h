// Eight-bit precision for convolutions: weights are signed bytes with one scale for every output
// channel, what flows between layers are unsigned bytes with one scale for every line, found from
// the line itself, so that neither calibration is needed nor a line's reading depends on the lines
// it is read with (after Jacob et al. 2018, with dynamic ranges).
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

namespace burnisher::recognise {

struct ByteWeights {
  std::vector<int8_t> values;
  std::vector<float> scale;  // of each output channel: weight = value * scale
};

// `weight`: output channels x the rest. Values reach from -largest to largest.
ByteWeights quantised(const std::vector<float>& weight, size_t outputs, int largest);

// The processor multiplies bytes without losing carries, and fast.
bool multiplies_bytes();
// Processors without such instructions add two products in 16 bits first: there weights have to
// stay below 64.
int largest_byte_weight();

// Values of at least 0 as bytes; returns the scale: value = byte * scale.
float quantise(const float* values, size_t count, uint8_t* to);

// What becomes of the sums of a convolution, `channels` of them for each of `positions`.
struct Finish {
  const float* channel_scale;
  const float* bias;
  float scale;          // of the bytes that went in
  bool rectified;       // ReLU
  const float* before;  // added at the end: the layer's input, or null
};
void finish(const int32_t* sums, size_t positions, size_t channels, const Finish& how, float* to);

}  // namespace burnisher::recognise
