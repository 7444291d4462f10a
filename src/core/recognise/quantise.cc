#include "recognise/quantise.h"

#include <algorithm>
#include <cmath>

#include <dnnl.hpp>

#include "base/multiversion.h"

namespace burnisher::recognise {
namespace {

// Independent lanes, so that the compiler may use wide registers without reordering a single sum.
BURNISHER_MULTIVERSION float largest_of(const float* values, size_t count) {
  constexpr size_t kLanes = 32;  // floats: two of the widest registers
  float lanes[kLanes] = {};
  size_t i = 0;
  for (; i + kLanes <= count; i += kLanes) {
    for (size_t k = 0; k < kLanes; ++k) lanes[k] = std::max(lanes[k], values[i + k]);
  }
  float largest = 0;
  for (; i < count; ++i) largest = std::max(largest, values[i]);
  for (float lane : lanes) largest = std::max(largest, lane);
  return largest;
}

BURNISHER_MULTIVERSION void to_bytes(const float* values, size_t count, float factor, uint8_t* to) {
  for (size_t i = 0; i < count; ++i)
    to[i] = static_cast<uint8_t>(static_cast<int>(std::max(values[i], 0.f) * factor + 0.5f));
}

}  // namespace

ByteWeights quantised(const std::vector<float>& weight, size_t outputs, int largest) {
  ByteWeights bytes;
  bytes.values.resize(weight.size());
  const size_t each = weight.size() / outputs;
  for (size_t o = 0; o < outputs; ++o) {
    float most = 0;
    for (size_t i = 0; i < each; ++i) most = std::max(most, std::fabs(weight[o * each + i]));
    const float scale = most > 0 ? most / static_cast<float>(largest) : 1;
    bytes.scale.push_back(scale);
    for (size_t i = 0; i < each; ++i)
      bytes.values[o * each + i] = static_cast<int8_t>(std::lround(weight[o * each + i] / scale));
  }
  return bytes;
}

bool multiplies_bytes() {
  switch (dnnl::get_effective_cpu_isa()) {
    case dnnl::cpu_isa::avx2_vnni:
    case dnnl::cpu_isa::avx512_core_vnni:
    case dnnl::cpu_isa::avx512_core_bf16:
    case dnnl::cpu_isa::avx512_core_amx:
      return true;
    default:
      return false;
  }
}

int largest_byte_weight() {
  return multiplies_bytes() ? 127 : 63;
}

float quantise(const float* values, size_t count, uint8_t* to) {
  const float largest = largest_of(values, count);
  const float scale = largest > 0 ? largest / 255 : 1;
  to_bytes(values, count, 1 / scale, to);
  return scale;
}

BURNISHER_MULTIVERSION void finish(const int32_t* sums, size_t positions, size_t channels,
                                   const Finish& how, float* to) {
  const float floor = how.rectified ? 0 : -INFINITY;
  for (size_t p = 0; p < positions; ++p) {
    const int32_t* from = sums + p * channels;
    float* out = to + p * channels;
    for (size_t c = 0; c < channels; ++c) {
      const float value =
          static_cast<float>(from[c]) * (how.scale * how.channel_scale[c]) + how.bias[c];
      out[c] = std::max(value, floor);
    }
    if (how.before == nullptr) continue;
    const float* before = how.before + p * channels;
    for (size_t c = 0; c < channels; ++c) out[c] += before[c];
  }
}

}  // namespace burnisher::recognise
