#include "train/trainer.h"

#include <fmt/core.h>
#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <deque>
#include <filesystem>
#include <limits>
#include <memory>

#include "base/error.h"
#include "base/parallel.h"
#include "recognise/convolution.h"
#include "train/ctc.h"
#include "train/line_maker.h"
#include "train/run_files.h"
#include "train/validation.h"

namespace burnisher::train {
namespace {

using recognise::ConvShape;
using recognise::kFrameWidth;
using recognise::Model;

constexpr int kWidthStep = 32;  // batch widths are rounded up to this
constexpr float kStatisticsMomentum = 0.05f;
constexpr float kNewBlockGain = 0.05f;
constexpr double kBlankAlignmentWeight = 0.35;
constexpr double kFirstSteps = 0.04;  // share of a training from nothing that is easy
constexpr int kFirstCharacters = 24;  // longest line while the network finds its feet

// Shares of clean and medium lines (the rest is heavy) by progress: easy at first, then all, and
// mostly legible at the end so that fine distinctions are settled on clear evidence.
ScanLevel draw_level(bool first_steps, double progress, Random& random) {
  const double clean = first_steps ? 0.8 : progress < 0.85 ? 0.4 : 0.55;
  const double medium = first_steps ? 0.2 : progress < 0.85 ? 0.4 : 0.32;
  const double at = random.uniform();
  return at < clean            ? ScanLevel::kClean
         : at < clean + medium ? ScanLevel::kMedium
                               : ScanLevel::kHeavy;
}

// The known places of the characters lead the way at the start and then let go.
double alignment_strength(int64_t step) {
  const double s = static_cast<double>(step);
  if (s < 400) return 1 - 0.85 * s / 400;
  return std::max(0.0, 0.15 * (1 - (s - 400) / 1100));
}

struct Batch {
  std::vector<TrainingLine> lines;
  int width = 0;
};

struct BatchResult {
  ParameterMap gradient;
  BatchStatistics statistics;
  double loss = 0;
  int64_t characters = 0;
};

// One thread's share of the machinery.
struct Worker {
  Worker(const TextSource& texts, const recognise::Alphabet& alphabet,
         const std::vector<FaceEntry>& faces, const recognise::StripFrame& frame,
         const std::vector<ConvShape>& layers)
      : maker(texts, alphabet, faces, false, frame), network(layers) {}
  LineMaker maker;
  TrainableNetwork network;
};

void initialise(const std::vector<ConvShape>& layers, uint64_t seed, RunState& state) {
  Random random(seed);
  for (const ConvShape& l : layers) {
    const size_t fan_in = static_cast<size_t>(l.in * l.kernel_h * l.kernel_w);
    const size_t out = static_cast<size_t>(l.out);
    auto& weight = state.parameters[l.name + ".weight"];
    weight.resize(fan_in * out);
    // He et al. 2015; the head starts near indifference.
    const double spread = l.normalised ? std::sqrt(2.0 / static_cast<double>(fan_in)) : 0.02;
    for (float& w : weight) w = static_cast<float>(spread * random.normal());
    if (l.normalised) {
      state.parameters[l.name + ".gain"].assign(out, l.residual ? 0.5f : 1.f);
      state.parameters[l.name + ".shift"].assign(out, 0.f);
      state.statistics[l.name + ".mean"].assign(out, 0.f);
      state.statistics[l.name + ".variance"].assign(out, 1.f);
    } else {
      state.parameters[l.name + ".bias"].assign(out, 0.f);
      state.parameters[l.name + ".bias"][0] = 1.f;
    }
  }
}

// Context convolutions that the base model lacks begin as next to nothing, so that the deeper
// network reads as the base did before it learns more.
void start_from(const Model& base, const std::vector<ConvShape>& layers, RunState& state) {
  for (const ConvShape& l : layers) {
    if (base.tensors.count(l.name + ".gain") == 0 && l.residual) {
      std::fill(state.parameters[l.name + ".gain"].begin(),
                state.parameters[l.name + ".gain"].end(), kNewBlockGain);
    }
  }
  for (const auto& [name, tensor] : base.tensors) {
    auto& group = state.statistics.count(name) ? state.statistics : state.parameters;
    const auto found = group.find(name);
    if (found == group.end() || found->second.size() != tensor.values.size()) {
      throw SettingsError("the model to start from has another network or alphabet (" + name + ")");
    }
    found->second = tensor.values;
  }
}

Model averaged_model(const TrainSettings& settings, const recognise::Alphabet& alphabet,
                     const std::vector<ConvShape>& layers, const RunState& state) {
  Model model;
  model.plan = settings.plan;
  model.frame = settings.frame;
  model.alphabet = alphabet;
  model.layers = layers;
  for (const ConvShape& l : layers) {
    const auto put = [&](const std::string& part, const std::vector<int>& shape) {
      const std::string name = l.name + part;
      const auto mean = state.optimiser.average.find(name);
      const bool known = mean != state.optimiser.average.end();
      const auto& now = state.parameters.count(name) ? state.parameters : state.statistics;
      model.tensors[name] = {shape, known ? mean->second : now.at(name)};
    };
    put(".weight", {l.out, l.in, l.kernel_h, l.kernel_w});
    if (!l.normalised) put(".bias", {l.out});
    for (const char* part : {".gain", ".shift", ".mean", ".variance"}) {
      if (l.normalised) put(part, {l.out});
    }
  }
  model.record = {{"lines", std::to_string(state.lines)},
                  {"steps", std::to_string(state.optimiser.step)},
                  {"minutes", fmt::format("{:.1f}", state.minutes)},
                  {"seed", std::to_string(settings.seed)}};
  return model;
}

BatchResult gradient_of(const Batch& batch, const ParameterMap& parameters, double alignment,
                        int height, TrainableNetwork& network) {
  const recognise::SingleThread alone;
  const int lines = static_cast<int>(batch.lines.size());
  const size_t strip_size = static_cast<size_t>(height) * static_cast<size_t>(batch.width);
  std::vector<float> strips(strip_size * batch.lines.size(), 0.f);
  for (size_t i = 0; i < batch.lines.size(); ++i) {
    const Gray& strip = batch.lines[i].strip;
    for (int y = 0; y < height; ++y) {
      float* to = strips.data() + i * strip_size + static_cast<size_t>(y * batch.width);
      for (int x = 0; x < strip.width(); ++x) {
        to[x] = (strip.row(y)[x] - recognise::kPaperLevel) * 0.01f;
      }
    }
  }
  const std::vector<float>& scores =
      network.forward(parameters, strips, lines, height, batch.width);
  const int frames = network.frames();
  const int classes = static_cast<int>(scores.size()) / (lines * frames);
  std::vector<float> score_gradient(scores.size(), 0.f);
  BatchResult result;
  for (size_t i = 0; i < batch.lines.size(); ++i) {
    const TrainingLine& line = batch.lines[i];
    const size_t start = i * static_cast<size_t>(frames) * static_cast<size_t>(classes);
    const int used = std::min(frames, (line.strip.width() + kFrameWidth - 1) / kFrameWidth);
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

class Run {
 public:
  Run(const TrainSettings& settings, Progress& progress)
      : settings_(settings),
        progress_(progress),
        alphabet_(settings.characters.empty() ? recognise::latin_characters()
                                              : settings.characters),
        layers_(chain(settings.plan, settings.frame.height, alphabet_.class_count())),
        faces_(read_face_table(settings.faces)),
        texts_(settings.texts, alphabet_, false),
        workers_([this] {
          return std::make_unique<Worker>(texts_, alphabet_, faces_, settings_.frame, layers_);
        }) {
    std::filesystem::create_directories(settings.run_folder);
    initialise(layers_, settings.seed, state_);
    if (!settings.from.empty()) start_from(recognise::read_model(settings.from), layers_, state_);
    if (settings.go_on) state_ = read_checkpoint(file("checkpoint.safetensors"));
    make_validation();
  }

  TrainRow to_the_end() {
    started_ = std::chrono::steady_clock::now();
    minutes_before_ = state_.minutes;
    double checkpoint_at = minutes() + settings_.checkpoint_minutes;
    int64_t validate_at = state_.lines + settings_.validate_every;
    while (state_.lines < settings_.lines) {
      if (static_cast<int>(waiting_.size()) < settings_.batches_per_step) make_lines();
      step();
      progress_.advance("training lines", static_cast<double>(state_.lines),
                        static_cast<double>(settings_.lines));
      if (state_.lines >= validate_at) {
        validate();
        validate_at = state_.lines + settings_.validate_every;
      }
      if (minutes() >= checkpoint_at) {
        write_checkpoint(file("checkpoint.safetensors"), state_);
        checkpoint_at = minutes() + settings_.checkpoint_minutes;
      }
    }
    validate();
    write_checkpoint(file("checkpoint.safetensors"), state_);
    return row_;
  }

 private:
  std::string file(const char* name) const { return settings_.run_folder + "/" + name; }

  double minutes() {
    const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - started_;
    return state_.minutes = minutes_before_ + passed.count() / 60;
  }

  double share_done() const {
    return static_cast<double>(state_.lines) / static_cast<double>(settings_.lines);
  }

  void make_validation() {
    const TextSource kept(settings_.texts, alphabet_, true);
    const bool any_held =
        std::any_of(faces_.begin(), faces_.end(), [](const auto& f) { return f.held; });
    LineMaker maker(kept, alphabet_, faces_, any_held, settings_.frame);
    for (int level = 0; level < 3; ++level) {
      for (int i = 0; i < settings_.validation_lines; ++i) {
        validation_[static_cast<size_t>(level)].push_back(
            maker.make(static_cast<ScanLevel>(level), settings_.longest_line,
                       0x76616c69ull + static_cast<uint64_t>(level * 100000 + i)));
      }
    }
  }

  // Makes one pool of lines and cuts it into batches of like width.
  void make_lines() {
    std::vector<TrainingLine> pool(static_cast<size_t>(settings_.pool_lines));
    const double progress = share_done();
    const bool first_steps = settings_.from.empty() && progress < kFirstSteps;
    const int longest =
        first_steps ? std::min(kFirstCharacters, settings_.longest_line) : settings_.longest_line;
    const uint64_t first =
        settings_.seed * 0x100000000ull + static_cast<uint64_t>(made_ + state_.lines);
    parallel_each(settings_.pool_lines, [&](int i) {
      Random random((first + static_cast<uint64_t>(i)) * 0x9e3779b97f4a7c15ull);
      const ScanLevel level = draw_level(first_steps, progress, random);
      pool[static_cast<size_t>(i)] = workers_.local()->maker.make(level, longest, random.next());
    });
    made_ += settings_.pool_lines;
    std::sort(pool.begin(), pool.end(), [](const TrainingLine& a, const TrainingLine& b) {
      return a.strip.width() < b.strip.width();
    });
    std::vector<Batch> batches;
    for (TrainingLine& line : pool) {
      const int width = (line.strip.width() + kWidthStep - 1) / kWidthStep * kWidthStep;
      const bool full =
          batches.empty() ||
          static_cast<int>(batches.back().lines.size() + 1) * width > settings_.batch_pixels;
      if (full) batches.emplace_back();
      batches.back().width = width;
      batches.back().lines.push_back(std::move(line));
    }
    Random random(first);
    for (size_t i = batches.size(); i > 1; --i) {
      std::swap(batches[i - 1], batches[static_cast<size_t>(random.index(i))]);
    }
    for (Batch& batch : batches) waiting_.push_back(std::move(batch));
  }

  void step() {
    std::vector<Batch> batches;
    for (int i = 0; i < settings_.batches_per_step && !waiting_.empty(); ++i) {
      batches.push_back(std::move(waiting_.front()));
      waiting_.pop_front();
    }
    std::vector<BatchResult> results(batches.size());
    const double alignment =
        settings_.from.empty() ? alignment_strength(state_.optimiser.step) : 0.0;
    parallel_each(static_cast<int>(batches.size()), [&](int i) {
      const auto b = static_cast<size_t>(i);
      results[b] = gradient_of(batches[b], state_.parameters, alignment, settings_.frame.height,
                               workers_.local()->network);
    });
    // Joined in the order of the batches, so that the sum does not depend on the threads.
    ParameterMap gradient;
    int64_t characters = 0;
    for (BatchResult& r : results) {
      characters += r.characters;
      loss_ += r.loss;
      for (auto& [name, values] : r.gradient) {
        std::vector<float>& sum = gradient[name];
        if (sum.empty()) sum.assign(values.size(), 0.f);
        for (size_t i = 0; i < values.size(); ++i) sum[i] += values[i];
      }
      follow(r.statistics);
    }
    for (auto& [name, values] : gradient) {
      for (float& g : values) g /= static_cast<float>(characters);
    }
    rate_ = learning_rate(settings_.optimiser, state_.optimiser.step, share_done());
    update(settings_.optimiser, rate_, gradient, state_.parameters, state_.optimiser);
    average_in(settings_.optimiser, state_.parameters, state_.optimiser);
    average_in(settings_.optimiser, state_.statistics, state_.optimiser);
    characters_ += characters;
    for (const Batch& b : batches) {
      state_.lines += static_cast<int64_t>(b.lines.size());
      made_ -= static_cast<int64_t>(b.lines.size());
    }
  }

  void follow(const BatchStatistics& batch) {
    size_t k = 0;
    for (const ConvShape& l : layers_) {
      if (!l.normalised) continue;
      const auto blend = [](std::vector<float>& running, const std::vector<float>& now) {
        for (size_t i = 0; i < now.size(); ++i) {
          running[i] += kStatisticsMomentum * (now[i] - running[i]);
        }
      };
      blend(state_.statistics[l.name + ".mean"], batch.mean[k]);
      blend(state_.statistics[l.name + ".variance"], batch.variance[k]);
      ++k;
    }
  }

  void validate() {
    const Model model = averaged_model(settings_, alphabet_, layers_, state_);
    row_.minutes = minutes();
    row_.lines = state_.lines;
    row_.steps = state_.optimiser.step;
    row_.rate = rate_;
    row_.loss = loss_ / static_cast<double>(std::max<int64_t>(1, characters_));
    row_.cer_clean = character_error_rate(model, validation_[0]);
    row_.cer_medium = character_error_rate(model, validation_[1]);
    row_.cer_heavy = character_error_rate(model, validation_[2]);
    loss_ = 0;
    characters_ = 0;
    append_log(file("log.tsv"), row_);
    write_model(file("model.safetensors"), model, true);
    progress_.say(fmt::format(
        "{:.1f} min, {} lines: loss {:.3f}, error clean {:.2f} % medium {:.2f} % heavy {:.2f} %",
        row_.minutes, row_.lines, row_.loss, 100 * row_.cer_clean, 100 * row_.cer_medium,
        100 * row_.cer_heavy));
  }

  const TrainSettings& settings_;
  Progress& progress_;
  recognise::Alphabet alphabet_;
  std::vector<ConvShape> layers_;
  std::vector<FaceEntry> faces_;
  TextSource texts_;
  tbb::enumerable_thread_specific<std::unique_ptr<Worker>> workers_;
  RunState state_;
  std::vector<TrainingLine> validation_[3];
  std::deque<Batch> waiting_;
  int64_t made_ = 0;  // lines made and not yet used
  double loss_ = 0, rate_ = 0;
  int64_t characters_ = 0;
  std::chrono::steady_clock::time_point started_;
  double minutes_before_ = 0;
  TrainRow row_;
};

}  // namespace

TrainRow train(const TrainSettings& wanted, Progress& progress) {
  if (wanted.lines < 1 || wanted.batch_pixels < 64 || wanted.batches_per_step < 1) {
    throw SettingsError("a training needs at least one line, 64 batch pixels and one batch a step");
  }
  TrainSettings settings = wanted;
  if (!wanted.from.empty()) {  // what is learnt further keeps its network and its alphabet
    const Model base = recognise::read_model(wanted.from);
    settings.plan = base.plan;
    const std::vector<int>&has = base.plan.dilations, &wants = wanted.plan.dilations;
    if (wants.size() > has.size() && std::equal(has.begin(), has.end(), wants.begin())) {
      settings.plan.dilations = wants;
    }
    settings.frame = base.frame;
    settings.characters = base.alphabet.utf8();
  }
  TrainRow last;
  with_threads(settings.threads, [&] { last = Run(settings, progress).to_the_end(); });
  return last;
}

}  // namespace burnisher::train
