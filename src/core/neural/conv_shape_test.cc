#include "neural/conv_shape.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "neural/convolution.h"

namespace burnisher::neural {
namespace {

ConvShape small_layer() {
  ConvShape layer;
  layer.name = "a";
  layer.in = 2;
  layer.out = 3;
  layer.kernel_h = layer.kernel_w = 1;
  layer.pad_h = 0;
  return layer;
}

Tensors tensors_of(const ConvShape& layer) {
  Tensors tensors;
  tensors["a.weight"] = {{layer.out, layer.in, 1, 1}, {1, 2, 3, 4, 5, 6}};
  tensors["a.gain"] = {{3}, {1, 2, 0.5f}};
  tensors["a.shift"] = {{3}, {0, 1, -1}};
  tensors["a.mean"] = {{3}, {0.5f, -1, 2}};
  tensors["a.variance"] = {{3}, {4, 1, 0.25f}};
  return tensors;
}

TEST(FoldedWeights, GiveWhatConvolutionAndNormalisationGive) {
  const ConvShape layer = small_layer();
  const Tensors tensors = tensors_of(layer);
  const FoldedWeights folded = neural::folded(layer, tensors);
  const float input[] = {0.7f, -1.3f};
  for (size_t o = 0; o < 3; ++o) {
    const auto at = [&](const char* part) { return tensors.at(part).values[o]; };
    const auto& w = tensors.at("a.weight").values;
    const float convolved = w[2 * o] * input[0] + w[2 * o + 1] * input[1];
    const float expected =
        (convolved - at("a.mean")) / std::sqrt(at("a.variance") + kNormEpsilon) * at("a.gain") +
        at("a.shift");
    const float got =
        folded.weight[2 * o] * input[0] + folded.weight[2 * o + 1] * input[1] + folded.bias[o];
    EXPECT_NEAR(got, expected, 1e-4) << o;
  }
}

TEST(FoldedWeights, ALayerWithABiasKeepsIt) {
  ConvShape layer = small_layer();
  layer.normalised = false;
  Tensors tensors;
  tensors["a.weight"] = {{3, 2, 1, 1}, {1, 2, 3, 4, 5, 6}};
  tensors["a.bias"] = {{3}, {7, 8, 9}};
  EXPECT_EQ(folded(layer, tensors).bias, (std::vector<float>{7, 8, 9}));
  EXPECT_EQ(folded(layer, tensors).weight, tensors["a.weight"].values);
}

TEST(CheckTensors, NamesWhatIsMissingOrOfAnotherShape) {
  const ConvShape layer = small_layer();
  Tensors tensors = tensors_of(layer);
  EXPECT_NO_THROW(check_tensors({layer}, tensors));
  const auto refused = [&](const std::string& name) {
    try {
      check_tensors({layer}, tensors);
      ADD_FAILURE() << "accepted without " << name;
    } catch (const FormatError& error) {
      EXPECT_NE(std::string(error.what()).find(name), std::string::npos) << error.what();
    }
  };
  tensors["a.gain"].shape = {4};
  refused("a.gain");
  tensors.erase("a.gain");
  refused("a.gain");
  tensors = tensors_of(layer);
  tensors["a.weight"].shape = {2, 3, 1, 1};
  refused("a.weight");
}

TEST(ConvGeometry, DilationStrideAndPaddingGiveTheSize) {
  ConvShape layer = small_layer();
  layer.kernel_h = layer.kernel_w = 3;
  layer.dilation_h = layer.dilation_w = layer.pad_h = 4;
  const TensorShape same = output_of(layer, {1, 2, 20, 30});
  EXPECT_EQ(same.h, 20);
  EXPECT_EQ(same.w, 30);
  EXPECT_EQ(same.c, 3);
  layer.dilation_h = layer.dilation_w = layer.pad_h = 1;
  layer.stride_h = layer.stride_w = 2;
  const TensorShape half = output_of(layer, {1, 2, 20, 30});
  EXPECT_EQ(half.h, 10);
  EXPECT_EQ(half.w, 15);
}

}  // namespace
}  // namespace burnisher::neural
