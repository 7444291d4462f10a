#include "train/learner.h"

#include <fmt/core.h>
#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "base/parallel.h"
#include "neural/convolution.h"
#include "train/ctc.h"
#include "train/network_state.h"
#include "train/sampled_head.h"

namespace burnisher::train {
namespace {

using neural::ConvShape;
using recognise::Alphabet;
using recognise::kFrameWidth;
using recognise::Model;

constexpr int kWidthStep = 32;     // batch widths are rounded up to this
constexpr int kMostScored = 2000;  // classes; where there are more, chosen frames alone are scored
// Of layers added to a trained network: they begin as almost nothing.
constexpr float kNewBlockGain = 0.05f;
constexpr double kBlankAlignmentWeight = 0.35;  // of blank frames in the alignment loss

struct BatchResult {
  ParameterMap gradient;
  BatchStatistics statistics;
  double loss = 0;
  int64_t characters = 0;
};

// Context convolutions that the base model lacks begin as next to nothing, so that the deeper
// network reads as the base did before it learns more.
void quieten_new_layers(const Model& base, const std::vector<ConvShape>& layers, RunState& state) {
  for (const ConvShape& l : layers) {
    if (base.tensors.count(l.name + ".gain") == 0 && l.residual) {
      std::fill(state.parameters[l.name + ".gain"].begin(),
                state.parameters[l.name + ".gain"].end(), kNewBlockGain);
    }
  }
}

// The base's parameters of the head, class by class in the new alphabet's order. A class it did
// not know begins as the one it is likened to, or as the mean of all: likely nowhere, wherever the
// scores as a whole may lie.
void take_over_head(const Model& base, const Alphabet& alphabet,
                    const std::map<char32_t, char32_t>& likened, const std::string& name,
                    RunState& state) {
  std::vector<float>& weight = state.parameters.at(name + ".weight");
  std::vector<float>& bias = state.parameters.at(name + ".bias");
  const std::vector<float>& old_weight = base.tensors.at(name + ".weight").values;
  const std::vector<float>& old_bias = base.tensors.at(name + ".bias").values;
  const size_t in = weight.size() / bias.size();
  std::vector<float> mean_weight(in, 0.f);
  float mean_bias = 0;
  for (size_t k = 0; k < old_bias.size(); ++k) {
    const float share = 1.f / static_cast<float>(old_bias.size());
    for (size_t i = 0; i < in; ++i) mean_weight[i] += share * old_weight[k * in + i];
    mean_bias += share * old_bias[k];
  }
  for (int k = 0; k < alphabet.class_count(); ++k) {
    int old = k == 0 ? 0 : base.alphabet.class_of(alphabet.character(k));
    if (k > 0 && old == 0) {
      const auto like = likened.find(alphabet.character(k));
      if (like != likened.end()) old = base.alphabet.class_of(like->second);
    }
    const auto to = static_cast<size_t>(k), from = static_cast<size_t>(old);
    if (k > 0 && old == 0) {
      std::copy(mean_weight.begin(), mean_weight.end(),
                weight.begin() + static_cast<long>(to * in));
      bias[to] = mean_bias;
      continue;
    }
    std::copy_n(old_weight.begin() + static_cast<long>(from * in), in,
                weight.begin() + static_cast<long>(to * in));
    bias[to] = old_bias[from];
  }
}

// In the network's range, with paper beyond their ends.
std::vector<float> samples_of(const Batch& batch, int height) {
  const size_t strip_size = static_cast<size_t>(height) * static_cast<size_t>(batch.width);
  std::vector<float> strips(strip_size * batch.lines.size(), 0.f);
  for (size_t i = 0; i < batch.lines.size(); ++i) {
    const Gray& strip = batch.lines[i].strip;
    for (int y = 0; y < height; ++y) {
      float* to = strips.data() + i * strip_size + static_cast<size_t>(y * batch.width);
      for (int x = 0; x < strip.width(); ++x)
        to[x] = (strip.row(y)[x] - recognise::kPaperLevel) * 0.01f;
    }
  }
  return strips;
}

int frames_of(const TrainingLine& line, int frames) {
  return std::min(frames, (line.strip.width() + kFrameWidth - 1) / kFrameWidth);
}

BatchResult gradient_of(const Batch& batch, const ParameterMap& parameters, double alignment,
                        int height, TrainableNetwork& network) {
  const neural::SingleThread alone;
  const int lines = static_cast<int>(batch.lines.size());
  const std::vector<float>& scores =
      network.forward(parameters, samples_of(batch, height), lines, height, batch.width);
  const int frames = network.frames();
  const int classes = static_cast<int>(scores.size()) / (lines * frames);
  std::vector<float> score_gradient(scores.size(), 0.f);
  BatchResult result;
  for (size_t i = 0; i < batch.lines.size(); ++i) {
    const TrainingLine& line = batch.lines[i];
    const size_t start = i * static_cast<size_t>(frames) * static_cast<size_t>(classes);
    const int used = frames_of(line, frames);
    result.loss +=
        ctc_loss(scores.data() + start, used, classes, line.classes, score_gradient.data() + start);
    result.characters += static_cast<int64_t>(line.classes.size());
    if (alignment <= 0) continue;
    std::vector<int> at;
    for (float centre : line.centres)
      at.push_back(static_cast<int>(std::floor(centre / kFrameWidth)));
    alignment_loss(scores.data() + start, used, classes, line.classes, at, alignment,
                   kBlankAlignmentWeight, score_gradient.data() + start);
  }
  network.backward(parameters, score_gradient, result.gradient);
  result.statistics = network.statistics();
  return result;
}

// `network`: without its head, whose name is `head`.
BatchResult sampled_gradient_of(const Batch& batch, const ParameterMap& parameters,
                                const std::string& head, uint64_t seed, int height,
                                TrainableNetwork& network) {
  const neural::SingleThread alone;
  const std::vector<float>& context =
      network.forward(parameters, samples_of(batch, height), static_cast<int>(batch.lines.size()),
                      height, batch.width);
  const int frames = network.frames();
  std::vector<FrameTarget> targets;
  BatchResult result;
  Random random(seed);
  for (size_t i = 0; i < batch.lines.size(); ++i) {
    const TrainingLine& line = batch.lines[i];
    for (FrameTarget target : frame_targets(line, frames_of(line, frames), random)) {
      target.frame += static_cast<int>(i) * frames;
      targets.push_back(target);
    }
    result.characters += static_cast<int64_t>(line.classes.size());
  }
  std::vector<float> context_gradient(context.size(), 0.f);
  HeadGradient gradient;
  result.loss = sampled_head_loss({parameters.at(head + ".weight"), parameters.at(head + ".bias")},
                                  context, targets, context_gradient, gradient);
  network.backward(parameters, context_gradient, result.gradient);
  result.gradient[head + ".weight"] = std::move(gradient.weight);
  result.gradient[head + ".bias"] = std::move(gradient.bias);
  result.statistics = network.statistics();
  return result;
}

}  // namespace

std::vector<Batch> batches_of(std::vector<TrainingLine> lines, int pixels, uint64_t seed) {
  std::stable_sort(lines.begin(), lines.end(), [](const TrainingLine& a, const TrainingLine& b) {
    return a.strip.width() < b.strip.width();
  });
  std::vector<Batch> batches;
  for (TrainingLine& line : lines) {
    const int width = (line.strip.width() + kWidthStep - 1) / kWidthStep * kWidthStep;
    const bool full =
        batches.empty() || static_cast<int>(batches.back().lines.size() + 1) * width > pixels;
    if (full) batches.emplace_back();
    batches.back().width = width;
    batches.back().lines.push_back(std::move(line));
  }
  Random random(seed);
  for (size_t i = batches.size(); i > 1; --i)
    std::swap(batches[i - 1], batches[static_cast<size_t>(random.index(i))]);
  return batches;
}

struct Learner::Machinery {
  Machinery(const recognise::NetworkPlan& wanted_plan, const recognise::StripFrame& wanted_frame,
            const Alphabet& wanted_alphabet, const OptimiserSettings& wanted_optimiser,
            uint64_t wanted_seed)
      : plan(wanted_plan),
        frame(wanted_frame),
        alphabet(wanted_alphabet),
        layers(chain(plan, frame.height, alphabet.class_count())),
        optimiser(wanted_optimiser),
        seed(wanted_seed),
        sampled(alphabet.class_count() > kMostScored),
        networks([this] {
          return std::make_unique<TrainableNetwork>(
              std::vector<ConvShape>(layers.begin(), layers.end() - (sampled ? 1 : 0)));
        }) {
    initialise(layers, seed, state);
    // The blank is the likeliest class of all.
    state.parameters.at(layers.back().name + ".bias")[0] = 1.f;
  }

  recognise::NetworkPlan plan;
  recognise::StripFrame frame;
  Alphabet alphabet;
  std::vector<ConvShape> layers;
  OptimiserSettings optimiser;
  uint64_t seed;
  bool sampled;
  tbb::enumerable_thread_specific<std::unique_ptr<TrainableNetwork>> networks;
  RunState state;
  double loss = 0;
  int64_t characters = 0;
};

Learner::Learner(const recognise::NetworkPlan& plan, const recognise::StripFrame& frame,
                 const Alphabet& alphabet, const OptimiserSettings& optimiser, uint64_t seed)
    : machinery_(std::make_unique<Machinery>(plan, frame, alphabet, optimiser, seed)) {}
Learner::~Learner() = default;

RunState& Learner::state() {
  return machinery_->state;
}

void Learner::start_from(const Model& base, const std::map<char32_t, char32_t>& likened) {
  RunState& state = machinery_->state;
  quieten_new_layers(base, machinery_->layers, state);
  const std::string head = machinery_->layers.back().name;
  for (const auto& [name, tensor] : base.tensors) {
    // What tells scripts apart was learnt from layers that now change.
    if (name.compare(0, head.size() + 1, head + ".") == 0 || name.rfind("scripts.", 0) == 0)
      continue;
    auto& group = state.statistics.count(name) ? state.statistics : state.parameters;
    const auto found = group.find(name);
    if (found == group.end() || found->second.size() != tensor.values.size())
      throw SettingsError("the model to start from has another network (" + name + ")");
    found->second = tensor.values;
  }
  take_over_head(base, machinery_->alphabet, likened, head, state);
}

void Learner::learn(const std::vector<Batch>& batches, double alignment, double rate) {
  Machinery& m = *machinery_;
  std::vector<BatchResult> results(batches.size());
  parallel_each(static_cast<int>(batches.size()), [&](int i) {
    const auto b = static_cast<size_t>(i);
    TrainableNetwork& network = *m.networks.local();
    results[b] =
        m.sampled ? sampled_gradient_of(batches[b], m.state.parameters, m.layers.back().name,
                                        (m.seed << 32) + static_cast<uint64_t>(m.state.seen + i),
                                        m.frame.height, network)
                  : gradient_of(batches[b], m.state.parameters, alignment, m.frame.height, network);
  });
  // Joined in the order of the batches, so that the sum does not depend on the threads.
  ParameterMap gradient;
  int64_t characters = 0;
  for (BatchResult& r : results) {
    characters += r.characters;
    m.loss += r.loss;
    add_gradient(r.gradient, gradient);
    follow(m.layers, r.statistics, m.state);
  }
  for (auto& [name, values] : gradient) {
    for (float& g : values) g /= static_cast<float>(characters);
  }
  update(m.optimiser, rate, gradient, m.state.parameters, m.state.optimiser);
  average_in(m.optimiser, m.state.parameters, m.state.optimiser);
  average_in(m.optimiser, m.state.statistics, m.state.optimiser);
  m.characters += characters;
  for (const Batch& b : batches) m.state.seen += static_cast<int64_t>(b.lines.size());
}

double Learner::take_loss() {
  Machinery& m = *machinery_;
  const double loss = m.loss / static_cast<double>(std::max<int64_t>(1, m.characters));
  m.loss = 0;
  m.characters = 0;
  return loss;
}

Model Learner::model() const {
  const RunState& state = machinery_->state;
  Model model;
  model.plan = machinery_->plan;
  model.frame = machinery_->frame;
  model.alphabet = machinery_->alphabet;
  model.layers = machinery_->layers;
  model.tensors = averaged(model.layers, state);
  model.record = {{"lines", std::to_string(state.seen)},
                  {"steps", std::to_string(state.optimiser.step)},
                  {"minutes", fmt::format("{:.1f}", state.minutes)},
                  {"seed", std::to_string(machinery_->seed)}};
  return model;
}

}  // namespace burnisher::train
