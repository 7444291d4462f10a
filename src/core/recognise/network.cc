#include "recognise/network.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>
#include <numeric>
#include <unordered_map>

#include "base/multiversion.h"
#include "base/parallel.h"
#include "neural/convolution.h"
#include "recognise/quantise.h"

namespace burnisher::recognise {
namespace {

using dnnl::memory;
using neural::channels_last;
using neural::ConvGeometry;
using neural::cpu;
using neural::Numbers;
using neural::SingleThread;
using neural::TensorShape;
using neural::weights_desc;

// Batch widths, pixels. Kernels are prepared for each, so that they are few; the steps cost at most
// an eighth of the work above 512 pixels.
constexpr int kWidths[] = {64,   128,  192,  256,  320,  384,  448,  512,  640,  768, 896,
                           1024, 1152, 1280, 1536, 1792, 2048, 2560, 3072, 3584, 4096};
constexpr int kWidest = 4096;  // pixels; wider strips are read in pieces

constexpr float kNoLetter = -0.693f;  // ln 1/2: from then on a frame has no letter

int batch_width(int width) {
  for (const int w : kWidths) {
    if (w >= width) return w;
  }
  return (width + kWidest - 1) / kWidest * kWidest;
}

struct FoldedLayer {
  ConvShape shape;
  std::vector<float> weight, bias;
  ByteWeights bytes;  // empty: the layer counts in floating point
  bool eight_bit() const { return !bytes.values.empty(); }
};

// One layer made ready for one batch shape.
struct Step {
  TensorShape in, out;
  memory::desc source, target;
  dnnl::convolution_forward::primitive_desc plan;
  dnnl::convolution_forward run;
  memory weight, bias;
};

struct Prepared {
  std::vector<Step> steps;
  size_t largest = 0;  // floats of the largest activation
  size_t scratch = 0;  // bytes of the largest scratch memory
};

// What a batch works in. Kept for the next one: new memory from the system costs as much time as
// several layers.
struct Buffers {
  std::vector<float> front, back;
  std::vector<int32_t> sums;
  std::vector<uint8_t> bytes, scratch;

  void fit(const Prepared& prepared, bool eight_bit) {
    const auto at_least = [](auto& buffer, size_t size) {
      if (buffer.size() < size) buffer.resize(size);
    };
    at_least(front, prepared.largest);
    at_least(back, prepared.largest);
    at_least(sums, eight_bit ? prepared.largest : 0);
    at_least(bytes, eight_bit ? prepared.largest : 0);
    at_least(scratch, prepared.scratch + 64);
  }
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

// Tells a line's script from the last layer before the head: a linear layer over each frame's
// channels; class 0 is "no letter".
struct ScriptHead {
  size_t scripts = 0, channels = 0;
  std::vector<float> weight, bias;  // (1 + scripts) x channels

  void add_frame(const float* context, FrameScores& reading) const {
    reading.script_frames.resize(reading.script_frames.size() + scripts, 0.f);
    std::vector<float> scores(scripts + 1);
    for (size_t s = 0; s <= scripts; ++s)
      scores[s] = std::inner_product(context, context + channels, &weight[s * channels], bias[s]);
    log_softmax(scores.data(), static_cast<int>(scores.size()), scores.data());
    if (scores[0] > kNoLetter) return;
    std::vector<float>& sums = reading.script_log_probability;
    if (sums.empty()) sums.assign(scripts, 0.f);
    float* frame = &reading.script_frames[reading.script_frames.size() - scripts];
    for (size_t s = 0; s < scripts; ++s) sums[s] += frame[s] = scores[s + 1];
  }
};

}  // namespace

Precision precision_of_processor() {
  return multiplies_bytes() ? Precision::kInt8 : Precision::kFloat32;
}

struct Network::State {
  template <class Use>
  void run(const std::vector<const Gray*>& strips, size_t last, const Use& use);

  std::vector<FoldedLayer> layers;
  ScriptHead script_head;
  int height = 0, classes = 0;
  size_t most_prepared = kAllWidths;
  std::mutex guard;
  struct Kept {
    std::shared_ptr<const Prepared> prepared;
    uint64_t last_used = 0;
  };
  std::map<std::pair<int, int>, Kept> prepared;  // by lines and width
  uint64_t uses = 0;
  // Reordered weights, shared by all batch shapes that want the same layout.
  std::vector<std::vector<std::pair<memory::desc, memory>>> weights;

  std::vector<std::unique_ptr<Buffers>> idle;

  std::unique_ptr<Buffers> take_buffers(const Prepared& wanted) {
    std::unique_ptr<Buffers> buffers;
    {
      const std::lock_guard<std::mutex> lock(guard);
      if (!idle.empty()) {
        buffers = std::move(idle.back());
        idle.pop_back();
      }
    }
    if (!buffers) buffers = std::make_unique<Buffers>();
    buffers->fit(wanted, std::any_of(layers.begin(), layers.end(),
                                     [](const FoldedLayer& l) { return l.eight_bit(); }));
    return buffers;
  }

  void give_back(std::unique_ptr<Buffers> buffers) {
    const std::lock_guard<std::mutex> lock(guard);
    idle.push_back(std::move(buffers));
  }

  memory weight_as(size_t layer, const memory::desc& wanted) {
    for (const auto& [desc, held] : weights[layer]) {
      if (desc == wanted) return held;
    }
    FoldedLayer& folded = layers[layer];
    void* values = folded.weight.data();
    if (folded.eight_bit()) values = folded.bytes.values.data();
    memory plain(weights_desc(folded.shape, memory::format_tag::oihw,
                              folded.eight_bit() ? Numbers::s8 : Numbers::f32),
                 cpu(), values);
    memory blocked(wanted, cpu());
    dnnl::stream stream(cpu());
    neural::reorder(plain, blocked, stream);
    weights[layer].emplace_back(wanted, blocked);
    return blocked;
  }

  Step step_of(size_t index, const TensorShape& in) {
    FoldedLayer& layer = layers[index];
    Step step;
    step.in = in;
    step.out = output_of(layer.shape, in);
    const bool bytes = layer.eight_bit();
    step.source = channels_last(step.in, bytes ? Numbers::u8 : Numbers::f32);
    step.target = channels_last(step.out, bytes ? Numbers::s32 : Numbers::f32);
    const memory::desc weight =
        weights_desc(layer.shape, memory::format_tag::any, bytes ? Numbers::s8 : Numbers::f32);
    const memory::desc bias({layer.shape.out}, Numbers::f32, memory::format_tag::x);
    dnnl::post_ops after;
    if (layer.shape.normalised && !bytes)
      after.append_eltwise(1.f, dnnl::algorithm::eltwise_relu, 0.f, 0.f);
    dnnl::primitive_attr attributes = neural::own_scratch();
    attributes.set_post_ops(after);
    const ConvGeometry g = geometry_of(layer.shape);
    const auto kind = dnnl::prop_kind::forward_inference;
    const auto algorithm = dnnl::algorithm::convolution_direct;
    const auto description =
        bytes ? dnnl::convolution_forward::desc(kind, algorithm, step.source, weight, step.target,
                                                g.strides, g.dilates, g.pad_before, g.pad_after)
              : dnnl::convolution_forward::desc(kind, algorithm, step.source, weight, bias,
                                                step.target, g.strides, g.dilates, g.pad_before,
                                                g.pad_after);
    step.plan = {description, attributes, cpu()};
    step.run = dnnl::convolution_forward(step.plan);
    step.weight = weight_as(index, step.plan.weights_desc());
    step.bias = memory(bias, cpu(), layer.bias.data());
    return step;
  }

  std::shared_ptr<const Prepared> prepare(int lines, int width) {
    const std::lock_guard<std::mutex> lock(guard);
    const auto known = prepared.find({lines, width});
    if (known != prepared.end()) {
      known->second.last_used = ++uses;
      return known->second.prepared;
    }
    const std::lock_guard<std::recursive_mutex> alone(neural::preparing());
    if (prepared.size() >= most_prepared) {
      prepared.erase(std::min_element(
          prepared.begin(), prepared.end(),
          [](const auto& a, const auto& b) { return a.second.last_used < b.second.last_used; }));
    }
    auto made = std::make_shared<Prepared>();
    TensorShape shape{lines, 1, height, width};
    made->largest = shape.count();
    for (size_t i = 0; i < layers.size(); ++i) {
      made->steps.push_back(step_of(i, shape));
      const Step& step = made->steps.back();
      shape = step.out;
      made->largest = std::max(made->largest, shape.count());
      made->scratch = std::max(made->scratch, step.plan.scratchpad_desc().get_size());
    }
    prepared[{lines, width}] = {made, ++uses};
    return made;
  }

  // What lies beyond the ends of the lines becomes zero, as beyond the batch itself: otherwise
  // padding would come to life through the layers' biases, and be more for some than for others.
  static void clear_padding(const TensorShape& shape, const std::vector<int>& widths,
                            float* values) {
    const auto channels = static_cast<size_t>(shape.c), width = static_cast<size_t>(shape.w);
    for (size_t n = 0; n < widths.size(); ++n) {
      const auto own = static_cast<size_t>(widths[n]);
      for (size_t h = 0; h < static_cast<size_t>(shape.h); ++h) {
        float* row = values + (n * static_cast<size_t>(shape.h) + h) * width * channels;
        std::fill(row + own * channels, row + width * channels, 0.f);
      }
    }
  }

  // One layer over all lines: from `front`, with `back` and `bytes` to work in, to `front`.
  void execute(size_t index, const Step& step, Buffers& buffers) const {
    const FoldedLayer& layer = layers[index];
    float *front = buffers.front.data(), *back = buffers.back.data();
    const auto lines = static_cast<size_t>(step.in.n);
    const size_t each_in = step.in.count() / lines, each_out = step.out.count() / lines;
    std::vector<float> scales;
    void *source = front, *target = back;
    if (layer.eight_bit()) {
      target = buffers.sums.data();
      source = buffers.bytes.data();
      for (size_t i = 0; i < lines; ++i)
        scales.push_back(
            quantise(front + i * each_in, each_in, buffers.bytes.data() + i * each_in));
    }
    dnnl::stream stream(cpu());
    std::unordered_map<int, memory> arguments = {
        {DNNL_ARG_SRC, memory(step.source, cpu(), source)},
        {DNNL_ARG_WEIGHTS, step.weight},
        {DNNL_ARG_SCRATCHPAD, memory(step.plan.scratchpad_desc(), cpu(), buffers.scratch.data())},
        {DNNL_ARG_DST, memory(step.target, cpu(), target)}};
    if (!layer.eight_bit()) arguments[DNNL_ARG_BIAS] = step.bias;
    step.run.execute(stream, arguments);
    stream.wait();
    if (layer.eight_bit()) {
      const auto channels = static_cast<size_t>(layer.shape.out);
      for (size_t i = 0; i < lines; ++i) {
        finish(buffers.sums.data() + i * each_out, each_out / channels, channels,
               {layer.bytes.scale.data(), layer.bias.data(), scales[i], layer.shape.normalised,
                layer.shape.residual ? front + i * each_in : nullptr},
               back + i * each_out);
      }
    } else if (layer.shape.residual) {
      // Not a post-operation of oneDNN: a sum after the ReLU falls back to its reference code on
      // processors without AVX-512, a hundred times slower.
      add(front, step.in.count(), back);
    }
    buffers.front.swap(buffers.back);
  }
};

Network::Network(const Model& model, Precision precision, size_t most_prepared)
    : state_(std::make_unique<State>()) {
  state_->most_prepared = most_prepared;
  state_->layers.resize(model.layers.size());
  parallel_each(static_cast<int>(model.layers.size()), [&](int i) {
    const ConvShape& shape = model.layers[static_cast<size_t>(i)];
    neural::FoldedWeights folded = neural::folded(shape, model.tensors);
    FoldedLayer layer{shape, std::move(folded.weight), std::move(folded.bias), {}};
    // The first layer's input is signed; the last one's scores are confidences. Both are cheap.
    const bool inner = i > 0 && shape.normalised;
    if (precision == Precision::kInt8 && inner)
      layer.bytes = quantised(layer.weight, static_cast<size_t>(shape.out), largest_byte_weight());
    state_->layers[static_cast<size_t>(i)] = std::move(layer);
  });
  state_->weights.resize(state_->layers.size());
  state_->height = model.frame.height;
  state_->classes = model.alphabet.class_count();
  ScriptHead& scripts = state_->script_head;
  scripts.scripts = model.scripts().size();
  if (scripts.scripts == 0) return;
  scripts.channels = static_cast<size_t>(model.plan.context);
  scripts.weight = model.tensors.at("scripts.weight").values;
  scripts.bias = model.tensors.at("scripts.bias").values;
}

Network::~Network() = default;

// The layers before `last`, and then what `use` makes of their results in the buffers.
template <class Use>
void Network::State::run(const std::vector<const Gray*>& strips, size_t last, const Use& use) {
  const SingleThread alone;
  std::vector<int> widths;  // of the lines, as they shrink from layer to layer
  for (const Gray* strip : strips) widths.push_back(strip->width());
  const int width = batch_width(*std::max_element(widths.begin(), widths.end()));
  const auto ready = prepare(static_cast<int>(strips.size()), width);
  std::unique_ptr<Buffers> buffers = take_buffers(*ready);
  const size_t strip_size = static_cast<size_t>(height) * static_cast<size_t>(width);
  for (size_t i = 0; i < strips.size(); ++i)
    feed(*strips[i], width, buffers->front.data() + i * strip_size);
  for (size_t i = 0; i < last; ++i) {
    const Step& step = ready->steps[i];
    execute(i, step, *buffers);
    const ConvShape& layer = layers[i].shape;
    for (int& w : widths) w = output_of(layer, {1, step.in.c, step.in.h, w}).w;
    clear_padding(step.out, widths, buffers->front.data());
  }
  use(*ready, *buffers, widths);
  give_back(std::move(buffers));
}

std::vector<FrameScores> Network::read(const std::vector<const Gray*>& strips) const {
  if (strips.empty()) return {};
  std::vector<FrameScores> readings(strips.size());
  const size_t head = state_->layers.size() - 1;
  state_->run(strips, head,
              [&](const Prepared& ready, Buffers& buffers, const std::vector<int>& widths) {
                const Step& step = ready.steps[head];
                const auto frames = static_cast<size_t>(step.out.w);
                const auto classes = static_cast<size_t>(state_->classes);
                const ScriptHead& scripts = state_->script_head;
                for (size_t i = 0; i < strips.size() && scripts.scripts > 0; ++i) {
                  for (size_t f = 0; f < static_cast<size_t>(widths[i]); ++f)
                    scripts.add_frame(buffers.front.data() + (i * frames + f) * scripts.channels,
                                      readings[i]);
                }
                state_->execute(head, step, buffers);
                for (size_t i = 0; i < strips.size(); ++i) {
                  FrameScores& reading = readings[i];
                  reading.classes = state_->classes;
                  reading.frames = widths[i];
                  reading.log_probability.resize(static_cast<size_t>(reading.frames) * classes);
                  for (size_t f = 0; f < static_cast<size_t>(reading.frames); ++f)
                    log_softmax(buffers.front.data() + (i * frames + f) * classes, state_->classes,
                                reading.log_probability.data() + f * classes);
                }
              });
  return readings;
}

void Network::rest() const {
  const std::lock_guard<std::mutex> lock(state_->guard);
  state_->prepared.clear();
  state_->idle.clear();
}

std::vector<float> Network::context_of(const Gray& strip) const {
  std::vector<float> context;
  const size_t head = state_->layers.size() - 1;
  state_->run(
      {&strip}, head, [&](const Prepared& ready, Buffers& buffers, const std::vector<int>& widths) {
        const auto count =
            static_cast<size_t>(widths[0]) * static_cast<size_t>(ready.steps[head].in.c);
        context.assign(buffers.front.begin(), buffers.front.begin() + static_cast<long>(count));
      });
  return context;
}

}  // namespace burnisher::recognise
