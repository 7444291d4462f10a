#include "layout/page_network.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

#include "neural/activations.h"
#include "neural/batch_norm.h"
#include "neural/convolution.h"

namespace burnisher::layout {
namespace {

using dnnl::memory;
using neural::channels_last;
using neural::ConvShape;
using neural::cpu;
using neural::TensorShape;
using neural::weights_desc;

// Page shapes whose kernels are kept: pages of a document have one or two.
constexpr size_t kMostPrepared = 4;

struct Step {
  TensorShape in, out;
  dnnl::convolution_forward::primitive_desc plan;
  dnnl::convolution_forward run;
  memory weight;
};

int filled_up(int size) {
  return (size + kPageStep - 1) / kPageStep * kPageStep;
}

}  // namespace

struct PageNetwork::State {
  std::vector<ConvShape> layers;
  neural::Tensors tensors;
  std::mutex mutex;
  std::map<std::pair<int, int>, std::shared_ptr<const std::vector<Step>>> prepared;

  std::vector<float>& values(const ConvShape& layer, const char* part) {
    return tensors.at(layer.name + part).values;
  }

  std::shared_ptr<const std::vector<Step>> steps_for(int height, int width) {
    const std::lock_guard<std::mutex> lock(mutex);
    auto& found = prepared[{height, width}];
    if (found) return found;
    const std::lock_guard<std::recursive_mutex> alone(neural::preparing());
    auto steps = std::make_shared<std::vector<Step>>();
    TensorShape shape{1, 1, height, width};
    dnnl::stream stream(cpu());
    for (size_t i = 0; i < layers.size(); ++i) {
      const ConvShape& layer = layers[i];
      Step step;
      step.in = shape;
      step.out = shape = output_of(layer, shape);
      if (layer.doubled) shape = {1, shape.c, 2 * shape.h, 2 * shape.w};
      const neural::ConvGeometry g = geometry_of(layer);
      step.plan = {{dnnl::prop_kind::forward_inference, dnnl::algorithm::convolution_direct,
                    channels_last(step.in), weights_desc(layer, memory::format_tag::any),
                    channels_last(step.out), g.strides, g.dilates, g.pad_before, g.pad_after},
                   neural::own_scratch(),
                   cpu()};
      step.run = dnnl::convolution_forward(step.plan);
      memory plain(weights_desc(layer, memory::format_tag::oihw), cpu(),
                   values(layer, ".weight").data());
      step.weight = memory(step.plan.weights_desc(), cpu());
      neural::reorder(plain, step.weight, stream);
      steps->push_back(std::move(step));
    }
    stream.wait();
    found = steps;
    while (prepared.size() > kMostPrepared) {
      const auto oldest = prepared.begin()->first == std::make_pair(height, width)
                              ? std::next(prepared.begin())
                              : prepared.begin();
      prepared.erase(oldest);
    }
    return steps;
  }
};

PageNetwork::PageNetwork(const PageModel& model) : state_(std::make_unique<State>()) {
  state_->layers = page_layers(model.plan);
  state_->tensors = model.tensors;
}

PageNetwork::~PageNetwork() = default;

MapGrid PageNetwork::read(const Gray& page) const {
  const neural::SingleThread alone;
  const int width = filled_up(page.width()), height = filled_up(page.height());
  const auto steps = state_->steps_for(height, width);
  // What lies beyond the page is paper of no ink.
  std::vector<float> input(static_cast<size_t>(width) * static_cast<size_t>(height), 0.f);
  for (int y = 0; y < page.height(); ++y) {
    float* to = input.data() + static_cast<size_t>(y) * static_cast<size_t>(width);
    for (int x = 0; x < page.width(); ++x) to[x] = page_sample(page.row(y)[x]);
  }
  std::vector<std::vector<float>> outputs(steps->size());
  std::vector<bool> needed(steps->size(), false);  // by a later layer's skip
  for (const ConvShape& layer : state_->layers) {
    if (layer.skip >= 0) needed[static_cast<size_t>(layer.skip)] = true;
  }
  dnnl::stream stream(cpu());
  for (size_t i = 0; i < steps->size(); ++i) {
    const ConvShape& layer = state_->layers[i];
    const Step& step = (*steps)[i];
    std::vector<float>& before = i == 0 ? input : outputs[i - 1];
    outputs[i].resize(step.out.count());
    memory scratch(step.plan.scratchpad_desc(), cpu());
    step.run.execute(stream,
                     {{DNNL_ARG_SCRATCHPAD, scratch},
                      {DNNL_ARG_SRC, memory(channels_last(step.in), cpu(), before.data())},
                      {DNNL_ARG_WEIGHTS, step.weight},
                      {DNNL_ARG_DST, memory(channels_last(step.out), cpu(), outputs[i].data())}});
    stream.wait();
    float* out = outputs[i].data();
    const size_t channels = static_cast<size_t>(layer.out), cells = step.out.count() / channels;
    if (layer.normalised) {
      neural::NormState norm;
      neural::norm_forward(out, {cells, channels, static_cast<size_t>(layer.norm_group)},
                           state_->values(layer, ".gain"), state_->values(layer, ".shift"),
                           layer.residual ? before.data() : nullptr, norm, out);
    } else {
      const std::vector<float>& bias = state_->values(layer, ".bias");
      for (size_t k = 0; k < step.out.count(); ++k) out[k] += bias[k % channels];
    }
    if (layer.doubled) {
      std::vector<float> large(4 * step.out.count());
      neural::double_size(outputs[i].data(), step.out, large.data());
      outputs[i].swap(large);
    }
    if (layer.skip >= 0)
      neural::add(outputs[static_cast<size_t>(layer.skip)].data(), outputs[i].size(),
                  outputs[i].data());
    if (i > 0 && !needed[i - 1]) std::vector<float>().swap(outputs[i - 1]);
  }
  MapGrid grid;
  grid.width = width / kCellPixels;
  grid.height = height / kCellPixels;
  grid.values = std::move(outputs.back());
  for (size_t cell = 0; cell < grid.values.size(); cell += kPageMaps) {
    for (size_t k = 0; k < kShareMaps; ++k)
      grid.values[cell + k] = 1 / (1 + std::exp(-grid.values[cell + k]));
  }
  return grid;
}

}  // namespace burnisher::layout
