#include "neural/conv_shape.h"

#include <cmath>

#include "base/error.h"

namespace burnisher::neural {

void check_tensors(const std::vector<ConvShape>& layers, const Tensors& tensors) {
  const auto expect = [&](const std::string& name, const std::vector<int>& shape) {
    const auto found = tensors.find(name);
    if (found == tensors.end() || found->second.shape != shape) {
      throw FormatError("tensor " + name + " is missing or has another shape");
    }
  };
  for (const ConvShape& l : layers) {
    expect(l.name + ".weight", {l.out, l.in, l.kernel_h, l.kernel_w});
    if (!l.normalised) expect(l.name + ".bias", {l.out});
    for (const char* part : {".gain", ".shift"}) {
      if (l.normalised) expect(l.name + part, {l.out});
    }
    for (const char* part : {".mean", ".variance"}) {
      if (l.normalised && l.norm_group == 0) expect(l.name + part, {l.out});
    }
  }
}

FoldedWeights folded(const ConvShape& layer, const Tensors& tensors) {
  const auto values = [&](const char* part) { return tensors.at(layer.name + part).values; };
  FoldedWeights out{values(".weight"), {}};
  if (!layer.normalised) {
    out.bias = values(".bias");
    return out;
  }
  const auto gain = values(".gain"), shift = values(".shift");
  const auto mean = values(".mean"), variance = values(".variance");
  const size_t per_out = out.weight.size() / static_cast<size_t>(layer.out);
  for (size_t o = 0; o < static_cast<size_t>(layer.out); ++o) {
    const float scale = gain[o] / std::sqrt(variance[o] + kNormEpsilon);
    for (size_t i = 0; i < per_out; ++i) out.weight[o * per_out + i] *= scale;
    out.bias.push_back(shift[o] - mean[o] * scale);
  }
  return out;
}

}  // namespace burnisher::neural
