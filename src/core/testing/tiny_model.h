// A small network with random parameters, for tests of shape and precision.
#pragma once

#include "base/random.h"
#include "recognise/model.h"

namespace burnisher::testing {

inline recognise::Model tiny_model(uint64_t seed, const std::string& characters = "abc ") {
  recognise::Model model;
  model.plan.stem = {16, 16, 16};
  model.plan.context = 16;
  model.plan.dilations = {1, 2};
  model.frame.height = 16;
  model.frame.x_height = 6;
  model.frame.baseline = 11;
  model.alphabet = recognise::Alphabet(characters);
  model.layers = recognise::chain(model.plan, model.frame.height, model.alphabet.class_count());
  Random random(seed);
  for (const neural::ConvShape& l : model.layers) {
    const auto fill = [&](const std::string& part, std::vector<int> shape, double mean,
                          double spread) {
      size_t count = 1;
      for (int n : shape) count *= static_cast<size_t>(n);
      neural::Tensor tensor{shape, std::vector<float>(count)};
      for (float& v : tensor.values) v = static_cast<float>(mean + spread * random.normal());
      model.tensors[l.name + part] = tensor;
    };
    fill(".weight", {l.out, l.in, l.kernel_h, l.kernel_w}, 0, 0.3);
    if (!l.normalised) {
      fill(".bias", {l.out}, 0, 0.2);
      continue;
    }
    fill(".gain", {l.out}, 1, 0.2);
    fill(".shift", {l.out}, 0, 0.2);
    fill(".mean", {l.out}, 0, 0.3);
    fill(".variance", {l.out}, 1.2, 0.1);
  }
  return model;
}

}  // namespace burnisher::testing
