// A recogniser's model: the shape of its network, its parameters, its alphabet and the frame its
// strips are cut to. The network is a chain of convolutions that shrinks the strip to a row of
// frames, each with a score for every class (LeCun et al. 1998; CTC: Graves et al. 2006):
//   stem      convolutions that shrink height and width,
//   collapse  one convolution over the whole remaining height,
//   context   residual 1-D convolutions along the line (He et al. 2016),
//   head      a 1x1 convolution to the classes.
// Beside the head there may be a second one for the scripts (train/script_trainer.h).
// All but the heads are followed by batch normalisation (Ioffe and Szegedy 2015) and ReLU.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "neural/conv_shape.h"
#include "recognise/alphabet.h"
#include "recognise/strip.h"

namespace burnisher::recognise {

using neural::ConvShape;

struct NetworkPlan {
  std::vector<int> stem = {32, 64, 96};
  int context = 192;
  std::vector<int> dilations = {1, 2, 1, 3, 1, 6, 1};
};

// The chain for strips of `height` pixels. One frame is 4 strip pixels wide.
std::vector<ConvShape> chain(const NetworkPlan& plan, int height, int classes);
constexpr int kFrameWidth = 4;  // strip pixels: the stem halves the width twice

using Symbols = std::map<char32_t, std::vector<char32_t>>;

struct Model {
  NetworkPlan plan;
  StripFrame frame;
  Alphabet alphabet;
  std::vector<ConvShape> layers;
  neural::Tensors tensors;
  std::map<std::string, std::string> record;  // how it was trained, as text

  // The scripts (ISO 15924) that the model tells apart, from the tensors scripts.weight and
  // scripts.bias; none when it was never taught to.
  std::vector<std::string> scripts() const;
  // Characters of the alphabet that stand for more than they are: a glyph too narrow for the
  // characters that it says (an abbreviation written as {que}) is one class. In printed order.
  Symbols symbols() const;
  void set_symbols(const Symbols& symbols);
};

// Reads and checks a model file. Throws InputError/FormatError.
Model read_model(const std::string& path);
void write_model(const std::string& path, const Model& model, bool half);

}  // namespace burnisher::recognise
