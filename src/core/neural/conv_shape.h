// The shape of a convolutional network: a chain of layers, each a convolution, all but the last
// followed by batch normalisation (Ioffe and Szegedy 2015) and ReLU; and its parameters by name.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "neural/tensor_file.h"

namespace burnisher::neural {

struct ConvShape {
  std::string name;
  int in = 1, out = 1;
  int kernel_h = 3, kernel_w = 3;
  int stride_h = 1, stride_w = 1;
  int dilation_h = 1, dilation_w = 1;
  int pad_h = 1;
  bool residual = false;   // the input is added to the output (He et al. 2016)
  bool normalised = true;  // batch normalisation and ReLU; the head has a bias instead
  // Channels that are normalised together by the picture's own mean and variance, in training and
  // after (group normalisation: Wu and He 2018); 0: each by the running ones of the training.
  int norm_group = 0;
  bool doubled = false;  // the output is made twice as high and wide, sample by sample,
  int skip = -1;         // and the output of this layer is added then (Ronneberger 2015)
  int pad_w() const { return dilation_w * (kernel_w - 1) / 2; }
};

constexpr float kNormEpsilon = 1e-3f;  // added to variances; the trainer and the model agree on it

// NAME.weight, and NAME.gain, NAME.shift, NAME.mean, NAME.variance (normalised layers) or
// NAME.bias.
using Tensors = std::map<std::string, Tensor>;

// Throws FormatError naming the tensor that is missing or of another shape.
void check_tensors(const std::vector<ConvShape>& layers, const Tensors& tensors);

// Batch normalisation folded into the convolution before it.
struct FoldedWeights {
  std::vector<float> weight;  // out x in x kernel_h x kernel_w
  std::vector<float> bias;
};
FoldedWeights folded(const ConvShape& layer, const Tensors& tensors);

}  // namespace burnisher::neural
