#include "recognise/network.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

#include "base/multiversion.h"
#include "recognise/convolution.h"

namespace burnisher::recognise {
namespace {

using dnnl::memory;

constexpr int kWidthStep = 64;  // batch widths are rounded up to this, so that few shapes occur

struct FoldedLayer {
  ConvShape shape;
  std::vector<float> weight;  // out x in x kernel_h x kernel_w
  std::vector<float> bias;
};

FoldedLayer fold(const Model& model, const ConvShape& shape) {
  const auto values = [&](const char* part) { return model.tensors.at(shape.name + part).values; };
  FoldedLayer folded{shape, values(".weight"), {}};
  if (!shape.normalised) {
    folded.bias = values(".bias");
    return folded;
  }
  const auto gain = values(".gain"), shift = values(".shift");
  const auto mean = values(".mean"), variance = values(".variance");
  const size_t per_out = folded.weight.size() / static_cast<size_t>(shape.out);
  for (size_t o = 0; o < static_cast<size_t>(shape.out); ++o) {
    const float scale = gain[o] / std::sqrt(variance[o] + kNormEpsilon);
    for (size_t i = 0; i < per_out; ++i) folded.weight[o * per_out + i] *= scale;
    folded.bias.push_back(shift[o] - mean[o] * scale);
  }
  return folded;
}

// One layer made ready for one batch shape.
struct Step {
  Extent in, out;
  dnnl::convolution_forward::primitive_desc plan;
  dnnl::convolution_forward run;
  memory weight, bias;
};

struct Prepared {
  std::vector<Step> steps;
  size_t largest = 0;  // floats of the largest activation
  size_t scratch = 0;  // bytes of the largest scratch memory
};

// Shifted into the network's range: 0 on paper, 2 on ink.
void feed(const Gray& strip, int width, float* to) {
  for (int y = 0; y < strip.height(); ++y) {
    const uint8_t* row = strip.row(y);
    float* out = to + static_cast<size_t>(y) * static_cast<size_t>(width);
    for (int x = 0; x < strip.width(); ++x) out[x] = (row[x] - kPaperLevel) * 0.01f;
    std::fill(out + strip.width(), out + width, 0.f);
  }
}

BURNISHER_MULTIVERSION void add(const float* values, size_t count, float* to) {
  for (size_t i = 0; i < count; ++i) to[i] += values[i];
}

BURNISHER_MULTIVERSION void log_softmax(const float* scores, int classes, float* out) {
  float top = scores[0];
  for (int c = 1; c < classes; ++c) top = std::max(top, scores[c]);
  float sum = 0;
  for (int c = 0; c < classes; ++c) sum += std::exp(scores[c] - top);
  const float offset = top + std::log(sum);
  for (int c = 0; c < classes; ++c) out[c] = scores[c] - offset;
}

}  // namespace

struct Network::State {
  std::vector<FoldedLayer> layers;
  int height = 0, classes = 0;
  std::mutex guard;
  std::map<std::pair<int, int>, std::shared_ptr<const Prepared>> prepared;
  // Reordered weights, shared by all batch shapes that want the same layout.
  std::vector<std::vector<std::pair<memory::desc, memory>>> weights;

  memory weight_as(size_t layer, const memory::desc& wanted) {
    for (const auto& [desc, held] : weights[layer]) {
      if (desc == wanted) return held;
    }
    FoldedLayer& folded = layers[layer];
    memory plain(weights_desc(folded.shape, memory::format_tag::oihw), cpu(), folded.weight.data());
    memory blocked(wanted, cpu());
    dnnl::stream stream(cpu());
    dnnl::reorder(plain, blocked).execute(stream, plain, blocked);
    stream.wait();
    weights[layer].emplace_back(wanted, blocked);
    return blocked;
  }

  std::shared_ptr<const Prepared> prepare(int lines, int width) {
    const std::lock_guard<std::mutex> lock(guard);
    auto& slot = prepared[{lines, width}];
    if (slot) return slot;
    auto made = std::make_shared<Prepared>();
    Extent extent{lines, 1, height, width};
    made->largest = extent.count();
    for (size_t i = 0; i < layers.size(); ++i) {
      FoldedLayer& layer = layers[i];
      Step step;
      step.in = extent;
      step.out = extent = output_of(layer.shape, extent);
      made->largest = std::max(made->largest, extent.count());
      dnnl::post_ops after;
      if (layer.shape.normalised)
        after.append_eltwise(1.f, dnnl::algorithm::eltwise_relu, 0.f, 0.f);
      dnnl::primitive_attr attributes;
      attributes.set_post_ops(after);
      // The library's own scratch memory is shared by all primitives made in one thread.
      attributes.set_scratchpad_mode(dnnl::scratchpad_mode::user);
      const ConvGeometry g = geometry_of(layer.shape);
      const memory::desc bias({layer.shape.out}, memory::data_type::f32, memory::format_tag::x);
      step.plan = dnnl::convolution_forward::primitive_desc(
          {dnnl::prop_kind::forward_inference, dnnl::algorithm::convolution_direct,
           channels_last(step.in), weights_desc(layer.shape, memory::format_tag::any), bias,
           channels_last(step.out), g.strides, g.dilates, g.pad_before, g.pad_after},
          attributes, cpu());
      step.run = dnnl::convolution_forward(step.plan);
      step.weight = weight_as(i, step.plan.weights_desc());
      step.bias = memory(bias, cpu(), layer.bias.data());
      made->scratch = std::max(made->scratch, step.plan.scratchpad_desc().get_size());
      made->steps.push_back(std::move(step));
    }
    return slot = made;
  }
};

Network::Network(const Model& model) : state_(std::make_unique<State>()) {
  for (const ConvShape& shape : model.layers) state_->layers.push_back(fold(model, shape));
  state_->weights.resize(state_->layers.size());
  state_->height = model.frame.height;
  state_->classes = model.alphabet.class_count();
}

Network::~Network() = default;

std::vector<FrameScores> Network::read(const std::vector<const Gray*>& strips) const {
  if (strips.empty()) return {};
  const SingleThread alone;
  int width = 1;
  for (const Gray* strip : strips) width = std::max(width, strip->width());
  width = (width + kWidthStep - 1) / kWidthStep * kWidthStep;
  const int lines = static_cast<int>(strips.size());
  const auto prepared = state_->prepare(lines, width);
  std::vector<float> front(prepared->largest), back(prepared->largest);
  std::vector<uint8_t> scratch(prepared->scratch + 64);
  const size_t strip_size = static_cast<size_t>(state_->height) * static_cast<size_t>(width);
  for (size_t i = 0; i < strips.size(); ++i) feed(*strips[i], width, front.data() + i * strip_size);
  dnnl::stream stream(cpu());
  for (size_t i = 0; i < prepared->steps.size(); ++i) {
    const Step& step = prepared->steps[i];
    step.run.execute(
        stream, {{DNNL_ARG_SRC, memory(channels_last(step.in), cpu(), front.data())},
                 {DNNL_ARG_WEIGHTS, step.weight},
                 {DNNL_ARG_BIAS, step.bias},
                 {DNNL_ARG_SCRATCHPAD, memory(step.plan.scratchpad_desc(), cpu(), scratch.data())},
                 {DNNL_ARG_DST, memory(channels_last(step.out), cpu(), back.data())}});
    stream.wait();
    // Not a post-operation of oneDNN: a sum after the ReLU falls back to its reference code on
    // processors without AVX-512, a hundred times slower.
    if (state_->layers[i].shape.residual) add(front.data(), step.in.count(), back.data());
    front.swap(back);
  }
  const int frames = prepared->steps.back().out.w;
  std::vector<FrameScores> readings(strips.size());
  for (size_t i = 0; i < strips.size(); ++i) {
    FrameScores& reading = readings[i];
    reading.classes = state_->classes;
    reading.frames = std::min(frames, (strips[i]->width() + kFrameWidth - 1) / kFrameWidth);
    reading.log_probability.resize(static_cast<size_t>(reading.frames) *
                                   static_cast<size_t>(reading.classes));
    for (int f = 0; f < reading.frames; ++f) {
      const size_t row = i * static_cast<size_t>(frames) + static_cast<size_t>(f);
      log_softmax(front.data() + row * static_cast<size_t>(reading.classes), reading.classes,
                  reading.log_probability.data() +
                      static_cast<size_t>(f) * static_cast<size_t>(reading.classes));
    }
  }
  return readings;
}

}  // namespace burnisher::recognise
