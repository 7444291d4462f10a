// A network as it is trained: forward and backward passes over a batch of pictures (strips of
// lines, or a page), on oneDNN convolutions with our own batch normalisation between them. One
// object belongs to one thread.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "neural/conv_shape.h"

namespace burnisher::train {

using ParameterMap = std::map<std::string, std::vector<float>>;

// Means and variances of one batch, layer by layer, for the running statistics.
struct BatchStatistics {
  std::vector<std::vector<float>> mean, variance;  // per normalised layer
};

class TrainableNetwork {
 public:
  explicit TrainableNetwork(const std::vector<neural::ConvShape>& layers);
  ~TrainableNetwork();

  // `strips`: lines x height x width samples, already in the network's range. Returns scores:
  // lines x rows x frames x classes (strips of lines shrink to one row), or what the last layer
  // gives where that is no head.
  const std::vector<float>& forward(const ParameterMap& parameters,
                                    const std::vector<float>& strips, int lines, int height,
                                    int width);
  int frames() const;
  const BatchStatistics& statistics() const;

  // `score_gradient`: same shape as the scores. Overwrites `gradient` (same names as the
  // parameters). Follows a call of forward with the same parameters.
  void backward(const ParameterMap& parameters, const std::vector<float>& score_gradient,
                ParameterMap& gradient);

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace burnisher::train
