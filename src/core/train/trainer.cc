#include "train/trainer.h"

#include <fmt/core.h>
#include <tbb/enumerable_thread_specific.h>

#include <algorithm>
#include <cmath>
#include <deque>
#include <filesystem>
#include <limits>
#include <memory>

#include "base/error.h"
#include "base/parallel.h"
#include "train/learner.h"
#include "train/rarest.h"
#include "train/run_loop.h"
#include "train/validation.h"

namespace burnisher::train {
namespace {

using recognise::Model;

constexpr double kFirstSteps = 0.04;  // share of a training from nothing that is easy
constexpr int kFirstCharacters = 24;  // longest line while the network finds its feet

// Shares of clean and medium lines (the rest is heavy) by progress: easy at first, then all, and
// mostly legible at the end so that fine distinctions are settled on clear posteriors.
compose::ScanLevel draw_level(bool first_steps, double progress, Random& random) {
  const double clean = first_steps ? 0.8 : progress < 0.85 ? 0.4 : 0.55;
  const double medium = first_steps ? 0.2 : progress < 0.85 ? 0.4 : 0.32;
  const double at = random.uniform();
  return at < clean            ? compose::ScanLevel::kClean
         : at < clean + medium ? compose::ScanLevel::kMedium
                               : compose::ScanLevel::kHeavy;
}

// The known places of the characters lead the way at the start and then let go.
double alignment_strength(int64_t step) {
  const double s = static_cast<double>(step);
  if (s < 400) return 1 - 0.85 * s / 400;
  return std::max(0.0, 0.15 * (1 - (s - 400) / 1100));
}

constexpr int kSampledLines = 4000;  // drawn to see what will be rare
constexpr size_t kRarest = 20;

class Run {
 public:
  Run(const TrainSettings& settings, bool new_letters, Progress& progress)
      : settings_(settings),
        new_letters_(new_letters),
        progress_(progress),
        alphabet_(settings.characters.empty()
                      ? recognise::script_named(settings.script).characters()
                      : settings.characters),
        learner_(settings.plan, settings.frame, alphabet_, settings.optimiser, settings.seed),
        faces_(compose::read_typeface_table(settings.faces)),
        texts_(settings.texts, alphabet_, false, "", settings.script),
        makers_([this] {
          return std::make_unique<LineMaker>(texts_, alphabet_, faces_, false, settings_.frame);
        }),
        state_(learner_.state()) {
    std::filesystem::create_directories(settings.run_folder);
    if (!settings.from.empty()) learner_.start_from(recognise::read_model(settings.from));
    if (settings.go_on) state_ = read_checkpoint(file("checkpoint.safetensors"));
    make_validation();
  }

  TrainRow to_the_end() {
    progress_.say("rarest, in 10,000 lines: " +
                  as_text(rarest(texts_, alphabet_, kSampledLines, settings_.longest_line, kRarest,
                                 settings_.seed),
                          kSampledLines));
    run_to_the_end(
        {file("checkpoint.safetensors"), "training lines", settings_.lines,
         settings_.validate_every, settings_.checkpoint_minutes},
        state_, progress_,
        [this] {
          if (static_cast<int>(waiting_.size()) < settings_.batches_per_step) make_lines();
          step();
        },
        [this] { validate(); });
    return row_;
  }

 private:
  std::string file(const char* name) const { return settings_.run_folder + "/" + name; }

  double share_done() const {
    return static_cast<double>(state_.seen) / static_cast<double>(settings_.lines);
  }

  void make_validation() {
    const TextSource kept(settings_.texts, alphabet_, true, "", settings_.script);
    const bool any_held = std::any_of(faces_.begin(), faces_.end(), [this](const auto& f) {
      return f.held && f.sets(settings_.script);
    });
    LineMaker maker(kept, alphabet_, faces_, any_held, settings_.frame);
    for (int level = 0; level < 3; ++level) {
      for (int i = 0; i < settings_.validation_lines; ++i) {
        validation_[static_cast<size_t>(level)].push_back(
            maker.make(static_cast<compose::ScanLevel>(level), settings_.longest_line,
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
        settings_.seed * 0x100000000ull + static_cast<uint64_t>(made_ + state_.seen);
    parallel_each(settings_.pool_lines, [&](int i) {
      Random random((first + static_cast<uint64_t>(i)) * 0x9e3779b97f4a7c15ull);
      const compose::ScanLevel level = draw_level(first_steps, progress, random);
      pool[static_cast<size_t>(i)] = makers_.local()->make(level, longest, random.next());
    });
    made_ += settings_.pool_lines;
    for (Batch& batch : batches_of(std::move(pool), settings_.batch_pixels, first))
      waiting_.push_back(std::move(batch));
  }

  void step() {
    std::vector<Batch> batches;
    for (int i = 0; i < settings_.batches_per_step && !waiting_.empty(); ++i) {
      batches.push_back(std::move(waiting_.front()));
      waiting_.pop_front();
    }
    const double alignment = new_letters_ ? alignment_strength(state_.optimiser.step) : 0.0;
    rate_ = learning_rate(settings_.optimiser, state_.optimiser.step, share_done());
    learner_.learn(batches, alignment, rate_);
    for (const Batch& b : batches) made_ -= static_cast<int64_t>(b.lines.size());
  }

  void validate() {
    const Model model = learner_.model();
    row_.minutes = state_.minutes;
    row_.lines = state_.seen;
    row_.steps = state_.optimiser.step;
    row_.rate = rate_;
    row_.loss = learner_.take_loss();
    row_.cer_clean = character_error_rate(model, validation_[0]);
    row_.cer_medium = character_error_rate(model, validation_[1]);
    row_.cer_heavy = character_error_rate(model, validation_[2]);
    append_log(file("log.tsv"), row_);
    write_model(file("model.safetensors"), model, true);
    progress_.say(fmt::format(
        "{:.1f} min, {} lines: loss {:.3f}, error clean {:.2f} % medium {:.2f} % heavy {:.2f} %",
        row_.minutes, row_.lines, row_.loss, 100 * row_.cer_clean, 100 * row_.cer_medium,
        100 * row_.cer_heavy));
  }

  const TrainSettings& settings_;
  bool new_letters_;
  Progress& progress_;
  recognise::Alphabet alphabet_;
  Learner learner_;
  std::vector<compose::TypefaceEntry> faces_;
  TextSource texts_;
  tbb::enumerable_thread_specific<std::unique_ptr<LineMaker>> makers_;
  RunState& state_;
  std::vector<TrainingLine> validation_[3];
  std::deque<Batch> waiting_;
  int64_t made_ = 0;  // lines made and not yet used
  double rate_ = 0;
  TrainRow row_;
};

}  // namespace

TrainRow train(const TrainSettings& wanted, Progress& progress) {
  if (wanted.lines < 1 || wanted.batch_pixels < 64 || wanted.batches_per_step < 1) {
    throw SettingsError("a training needs at least one line, 64 batch pixels and one batch a step");
  }
  TrainSettings settings = wanted;
  if (settings.script.empty()) settings.script = "Latn";
  settings.frame = recognise::script_named(settings.script).frame;
  bool new_letters = true;     // their places in the lines lead the way at first
  if (!wanted.from.empty()) {  // what is learnt further keeps its network and its alphabet
    const Model base = recognise::read_model(wanted.from);
    settings.plan = base.plan;
    const std::vector<int>&has = base.plan.dilations, &wants = wanted.plan.dilations;
    if (wants.size() > has.size() && std::equal(has.begin(), has.end(), wants.begin())) {
      settings.plan.dilations = wants;
    }
    if (wanted.script.empty()) settings.frame = base.frame;
    if (settings.characters.empty())
      settings.characters = wanted.script.empty()
                                ? base.alphabet.utf8()
                                : recognise::script_named(wanted.script).characters();
    const recognise::Alphabet letters(settings.characters);
    new_letters = false;
    for (int k = 1; k < letters.class_count(); ++k)
      new_letters = new_letters || base.alphabet.class_of(letters.character(k)) == 0;
  }
  TrainRow last;
  with_threads(settings.threads, [&] { last = Run(settings, new_letters, progress).to_the_end(); });
  return last;
}

}  // namespace burnisher::train
