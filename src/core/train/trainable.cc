#include "train/trainable.h"

#include <algorithm>

#include "neural/activations.h"
#include "neural/batch_norm.h"
#include "neural/convolution.h"

namespace burnisher::train {

using dnnl::memory;
using neural::add;
using neural::channels_last;
using neural::ConvShape;
using neural::cpu;
using neural::double_size;
using neural::halve_gradient;
using neural::norm_backward;
using neural::norm_forward;
using neural::NormState;
using neural::TensorShape;

namespace {

// The primitives of one layer for one batch shape. Weight layouts are oneDNN's choice.
struct Step {
  TensorShape in, out;
  dnnl::convolution_forward::primitive_desc forward_plan;
  dnnl::convolution_forward forward;
  dnnl::convolution_backward_data::primitive_desc data_plan;
  dnnl::convolution_backward_data data;
  dnnl::convolution_backward_weights::primitive_desc weights_plan;
  dnnl::convolution_backward_weights weights;
};

// The shape a layer hands on.
TensorShape given_by(const ConvShape& layer, const TensorShape& out) {
  const int times = layer.doubled ? 2 : 1;
  return {out.n, out.c, out.h * times, out.w * times};
}

std::vector<Step> make_steps(const std::vector<ConvShape>& layers, TensorShape shape) {
  std::vector<Step> steps;
  for (const ConvShape& layer : layers) {
    Step step;
    step.in = shape;
    step.out = output_of(layer, shape);
    shape = given_by(layer, step.out);
    const neural::ConvGeometry g = geometry_of(layer);
    const memory::desc in = channels_last(step.in), out = channels_last(step.out);
    const memory::desc weights = weights_desc(layer, memory::format_tag::any);
    const auto direct = dnnl::algorithm::convolution_direct;
    step.forward_plan = {{dnnl::prop_kind::forward_training, direct, in, weights, out, g.strides,
                          g.dilates, g.pad_before, g.pad_after},
                         cpu()};
    step.forward = dnnl::convolution_forward(step.forward_plan);
    if (!steps.empty()) {  // nobody wants the gradient of the strip itself
      step.data_plan = {{direct, in, weights, out, g.strides, g.dilates, g.pad_before, g.pad_after},
                        cpu(),
                        step.forward_plan};
      step.data = dnnl::convolution_backward_data(step.data_plan);
    }
    step.weights_plan = {
        {direct, in, weights, out, g.strides, g.dilates, g.pad_before, g.pad_after},
        cpu(),
        step.forward_plan};
    step.weights = dnnl::convolution_backward_weights(step.weights_plan);
    steps.push_back(std::move(step));
  }
  return steps;
}

void grow(std::vector<float>& buffer, size_t count) {
  if (buffer.size() < count) buffer.resize(count);
}

neural::NormShape norm_shape(const ConvShape& layer, size_t rows) {
  return {rows, static_cast<size_t>(layer.out), static_cast<size_t>(std::max(1, layer.norm_group))};
}

}  // namespace

struct TrainableNetwork::State {
  std::vector<ConvShape> layers;
  std::map<std::vector<int>, std::vector<Step>> prepared;
  std::vector<Step>* steps = nullptr;  // of the latest forward pass
  std::vector<float> strips;
  std::vector<std::vector<float>> convolved, activated;  // per layer
  std::vector<std::vector<float>> given;                 // of doubled layers: what they hand on
  std::vector<std::vector<float>> gradients;             // of what each layer hands on
  std::vector<NormState> norms;
  std::vector<float> scores;
  std::vector<float> halved_gradient, convolved_gradient, input_gradient;
  BatchStatistics statistics;
  dnnl::stream stream{cpu()};

  std::vector<float>& output(size_t layer) {
    return layers[layer].doubled ? given[layer] : activated[layer];
  }

  memory weights_as(const ConvShape& layer, const ParameterMap& parameters,
                    const memory::desc& wanted) {
    auto* plain = const_cast<float*>(parameters.at(layer.name + ".weight").data());
    memory held(weights_desc(layer, memory::format_tag::oihw), cpu(), plain);
    if (held.get_desc() == wanted) return held;
    memory blocked(wanted, cpu());
    neural::reorder(held, blocked, stream);
    return blocked;
  }
};

TrainableNetwork::TrainableNetwork(const std::vector<ConvShape>& layers)
    : state_(std::make_unique<State>()) {
  state_->layers = layers;
  state_->convolved.resize(layers.size());
  state_->activated.resize(layers.size());
  state_->given.resize(layers.size());
  state_->gradients.resize(layers.size());
  state_->norms.resize(layers.size());
}

TrainableNetwork::~TrainableNetwork() = default;

int TrainableNetwork::frames() const {
  return state_->steps->back().out.w;
}
const BatchStatistics& TrainableNetwork::statistics() const {
  return state_->statistics;
}

const std::vector<float>& TrainableNetwork::forward(const ParameterMap& parameters,
                                                    const std::vector<float>& strips, int lines,
                                                    int height, int width) {
  State& s = *state_;
  auto& steps = s.prepared[{lines, height, width}];
  if (steps.empty()) {
    const std::lock_guard<std::recursive_mutex> alone(neural::preparing());
    steps = make_steps(s.layers, {lines, 1, height, width});
  }
  s.steps = &steps;
  s.strips = strips;
  s.statistics = {};
  float* input = s.strips.data();
  for (size_t i = 0; i < steps.size(); ++i) {
    const ConvShape& layer = s.layers[i];
    const Step& step = steps[i];
    grow(s.convolved[i], step.out.count());
    memory out(channels_last(step.out), cpu(), s.convolved[i].data());
    step.forward.execute(
        s.stream,
        {{DNNL_ARG_SRC, memory(channels_last(step.in), cpu(), input)},
         {DNNL_ARG_WEIGHTS, s.weights_as(layer, parameters, step.forward_plan.weights_desc())},
         {DNNL_ARG_DST, out}});
    s.stream.wait();
    const size_t channels = static_cast<size_t>(layer.out), rows = step.out.count() / channels;
    if (!layer.normalised) {
      const std::vector<float>& bias = parameters.at(layer.name + ".bias");
      s.scores.assign(s.convolved[i].begin(),
                      s.convolved[i].begin() + static_cast<long>(step.out.count()));
      for (size_t r = 0; r < rows; ++r) {
        for (size_t c = 0; c < channels; ++c) s.scores[r * channels + c] += bias[c];
      }
      break;
    }
    grow(s.activated[i], step.out.count());
    norm_forward(s.convolved[i].data(), norm_shape(layer, rows),
                 parameters.at(layer.name + ".gain"), parameters.at(layer.name + ".shift"),
                 layer.residual ? input : nullptr, s.norms[i], s.activated[i].data());
    s.statistics.mean.push_back(s.norms[i].mean);
    s.statistics.variance.push_back(s.norms[i].variance);
    if (layer.doubled) {
      grow(s.given[i], 4 * step.out.count());
      double_size(s.activated[i].data(), step.out, s.given[i].data());
    }
    input = s.output(i).data();
    if (layer.skip >= 0)
      add(s.output(static_cast<size_t>(layer.skip)).data(), given_by(layer, step.out).count(),
          input);
  }
  if (s.layers.back().normalised)
    s.scores.assign(input, input + given_by(s.layers.back(), steps.back().out).count());
  return s.scores;
}

void TrainableNetwork::backward(const ParameterMap& parameters,
                                const std::vector<float>& score_gradient, ParameterMap& gradient) {
  State& s = *state_;
  const std::vector<Step>& steps = *s.steps;
  std::vector<bool> begun(steps.size(), false);  // whether the gradient holds anything yet
  const auto add_to = [&](size_t layer, const float* values) {
    const size_t count = given_by(s.layers[layer], steps[layer].out).count();
    if (begun[layer]) {
      add(values, count, s.gradients[layer].data());
    } else {
      s.gradients[layer].assign(values, values + count);
      begun[layer] = true;
    }
  };
  add_to(steps.size() - 1, score_gradient.data());
  for (size_t i = steps.size(); i-- > 0;) {
    const ConvShape& layer = s.layers[i];
    const Step& step = steps[i];
    const size_t channels = static_cast<size_t>(layer.out), rows = step.out.count() / channels;
    float* gradient_here = s.gradients[i].data();
    if (layer.skip >= 0) add_to(static_cast<size_t>(layer.skip), gradient_here);
    if (layer.doubled) {
      grow(s.halved_gradient, step.out.count());
      halve_gradient(gradient_here, step.out, s.halved_gradient.data());
      gradient_here = s.halved_gradient.data();
    }
    float* convolved_gradient = gradient_here;
    if (layer.normalised) {
      grow(s.convolved_gradient, step.out.count());
      convolved_gradient = s.convolved_gradient.data();
      norm_backward(s.convolved[i].data(), gradient_here, norm_shape(layer, rows),
                    parameters.at(layer.name + ".gain"), parameters.at(layer.name + ".shift"),
                    s.norms[i], convolved_gradient, gradient[layer.name + ".gain"],
                    gradient[layer.name + ".shift"]);
    } else {
      std::vector<float>& bias = gradient[layer.name + ".bias"];
      bias.assign(channels, 0.f);
      for (size_t r = 0; r < rows; ++r) {
        for (size_t c = 0; c < channels; ++c) bias[c] += convolved_gradient[r * channels + c];
      }
    }
    float* input = i == 0 ? s.strips.data() : s.output(i - 1).data();
    memory in(channels_last(step.in), cpu(), input);
    memory out_gradient(channels_last(step.out), cpu(), convolved_gradient);

    std::vector<float>& weight_gradient = gradient[layer.name + ".weight"];
    weight_gradient.resize(parameters.at(layer.name + ".weight").size());
    memory blocked(step.weights_plan.diff_weights_desc(), cpu());
    step.weights.execute(
        s.stream,
        {{DNNL_ARG_SRC, in}, {DNNL_ARG_DIFF_DST, out_gradient}, {DNNL_ARG_DIFF_WEIGHTS, blocked}});
    memory plain(weights_desc(layer, memory::format_tag::oihw), cpu(), weight_gradient.data());
    neural::reorder(blocked, plain, s.stream);
    s.stream.wait();
    if (i == 0) break;

    grow(s.input_gradient, step.in.count());
    memory in_gradient(channels_last(step.in), cpu(), s.input_gradient.data());
    step.data.execute(s.stream, {{DNNL_ARG_DIFF_DST, out_gradient},
                                 {DNNL_ARG_WEIGHTS,
                                  s.weights_as(layer, parameters, step.data_plan.weights_desc())},
                                 {DNNL_ARG_DIFF_SRC, in_gradient}});
    s.stream.wait();
    add_to(i - 1, s.input_gradient.data());
    if (layer.residual) add_to(i - 1, s.gradients[i].data());
  }
}

}  // namespace burnisher::train
