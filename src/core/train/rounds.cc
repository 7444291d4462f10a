#include "train/rounds.h"

#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <set>

#include "base/error.h"
#include "base/files.h"
#include "base/parallel.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "recognise/decode.h"
#include "recognise/network.h"
#include "score/compare.h"
#include "train/learner.h"

namespace burnisher::train {
namespace {

using recognise::Alphabet;
using recognise::Model;

constexpr int kBatch = 8;  // lines read together when measuring

// Lines whose text can be spelled in the frames their strip has.
bool fits(const TrainingLine& line) {
  int needed = 0;
  for (size_t i = 0; i < line.classes.size(); ++i)
    needed += 1 + (i > 0 && line.classes[i] == line.classes[i - 1]);
  return !line.classes.empty() && needed <= line.strip.width() / recognise::kFrameWidth;
}

std::vector<std::string> readings_of(const Model& model, const std::vector<Gray>& strips) {
  const recognise::Network network(model, recognise::Precision::kFloat32);
  std::vector<std::string> texts(strips.size());
  const int batches = (static_cast<int>(strips.size()) + kBatch - 1) / kBatch;
  parallel_each(batches, [&](int b) {
    const size_t first = static_cast<size_t>(b) * kBatch;
    const size_t last = std::min(strips.size(), first + kBatch);
    std::vector<const Gray*> together;
    for (size_t i = first; i < last; ++i) together.push_back(&strips[i]);
    const auto scores = network.read(together);
    for (size_t i = first; i < last; ++i) {
      std::vector<char32_t> text;
      for (const auto& c : best_path(recognise::Posteriors(scores[i - first]), model.alphabet))
        text.push_back(c.character);
      texts[i] = encode_utf8(logical_order(text, runs_right_to_left(text)));
    }
  });
  return texts;
}

score::Comparison compared(const std::vector<Example>& examples,
                           const std::vector<std::string>& texts) {
  score::Comparison all;
  for (size_t i = 0; i < examples.size(); ++i)
    all.add(score::compare(texts[i], encode_utf8(examples[i].text)));
  return all;
}

class Rounds {
 public:
  Rounds(const std::vector<Example>& learnt, const std::vector<Example>& kept_back,
         const RoundSettings& settings, Progress& progress)
      : learnt_(learnt), kept_back_(kept_back), settings_(settings), progress_(progress) {
    std::filesystem::create_directories(settings.run_folder);
    recognise::NetworkPlan plan = settings.plan;
    recognise::StripFrame frame = settings.frame;
    std::string characters = settings.characters;
    Model base;
    if (!settings.from.empty()) {
      base = recognise::read_model(settings.from);
      plan = base.plan;
      frame = base.frame;
    }
    if (characters.empty()) {
      const std::string known = base.alphabet.utf8();
      report_.added = missing_characters(learnt, known);
      characters = known + report_.added;
    }
    frame_ = frame;
    alphabet_ = Alphabet(characters);
    learner_ = std::make_unique<Learner>(plan, frame, alphabet_, settings.optimiser, settings.seed);
    if (!settings.from.empty()) learner_->start_from(base, settings.likened);
    for (const Example& e : kept_back) strips_.push_back(strip_of(e, frame));
    started_ = std::chrono::steady_clock::now();
    if (!settings.from.empty()) {
      measure(0, base);
      best_model_ = base;
      best_cer_ = report_.rounds.back().cer;
    }
  }

  RoundsReport to_the_end() {
    int since_best = 0;
    for (int number = 1; number <= settings_.most_rounds; ++number) {
      one_round(number);
      const Model model = learner_->model();
      measure(number, model);
      Round& round = report_.rounds.back();
      // Where it reads as well, it has learnt more; but that is no reason to go on.
      round.best = round.cer <= best_cer_;
      since_best = round.cer < best_cer_ ? 0 : since_best + 1;
      if (round.best) {
        best_cer_ = round.cer;
        best_model_ = model;
        write_model(file("model.safetensors"), model, true);
      }
      tell(round);
      if (since_best >= settings_.patience) {
        progress_.say(fmt::format("no better for {} rounds: this is the end", since_best));
        break;
      }
    }
    write_model(file("model.safetensors"), best_model_, true);
    const std::vector<std::string> texts = readings_of(best_model_, strips_);
    for (size_t i = 0; i < kept_back_.size(); ++i)
      report_.lines.push_back({&kept_back_[i], texts[i]});
    return std::move(report_);
  }

 private:
  std::string file(const char* name) const { return settings_.run_folder + "/" + name; }

  double minutes() const {
    const std::chrono::duration<double> passed = std::chrono::steady_clock::now() - started_;
    return passed.count() / 60;
  }

  void one_round(int number) {
    std::vector<TrainingLine> lines(learnt_.size());
    parallel_each(static_cast<int>(learnt_.size()), [&](int i) {
      const auto k = static_cast<size_t>(i);
      Random random((settings_.seed * 1000003 + static_cast<uint64_t>(number)) * 0x9e3779b9ull + k);
      lines[k] = varied(learnt_[k], frame_, alphabet_, random);
    });
    lines.erase(std::remove_if(lines.begin(), lines.end(),
                               [](const TrainingLine& line) { return !fits(line); }),
                lines.end());
    if (lines.empty()) throw InputError("none of the transcribed lines fits its picture");
    report_.learnt_lines = lines.size();
    std::vector<Batch> batches = batches_of(std::move(lines), settings_.batch_pixels,
                                            settings_.seed + static_cast<uint64_t>(number));
    for (size_t at = 0; at < batches.size();) {
      const size_t end =
          std::min(batches.size(), at + static_cast<size_t>(settings_.batches_per_step));
      const std::vector<Batch> together(
          std::make_move_iterator(batches.begin() + static_cast<long>(at)),
          std::make_move_iterator(batches.begin() + static_cast<long>(end)));
      const double done =
          (number - 1 + static_cast<double>(at) / static_cast<double>(batches.size())) /
          settings_.most_rounds;
      learner_->learn(together, 0,
                      learning_rate(settings_.optimiser, learner_->state().optimiser.step, done));
      at = end;
      progress_.advance("training rounds", done * settings_.most_rounds, settings_.most_rounds);
    }
  }

  void measure(int number, const Model& model) {
    const score::Comparison now = compared(kept_back_, readings_of(model, strips_));
    Round round;
    round.number = number;
    round.minutes = minutes();
    round.loss = number == 0 ? 0 : learner_->take_loss();
    round.cer = now.cer();
    round.wer = now.wer();
    report_.rounds.push_back(round);
    if (number == 0)
      progress_.say(fmt::format("before: CER {:.2f} %, WER {:.2f} % on {} kept-back lines",
                                100 * round.cer, 100 * round.wer, kept_back_.size()));
    std::string table = "round\tminutes\tloss\tcer_percent\twer_percent\n";
    for (const Round& r : report_.rounds)
      table += fmt::format("{}\t{:.2f}\t{:.4f}\t{:.3f}\t{:.3f}\n", r.number, r.minutes, r.loss,
                           100 * r.cer, 100 * r.wer);
    write_file(file("rounds.tsv"), table);
  }

  void tell(const Round& r) {
    const double left = r.minutes / r.number * (settings_.most_rounds - r.number);
    progress_.say(fmt::format(
        "round {}: loss {:.3f}, CER {:.2f} %, WER {:.2f} %, best {:.2f} %; {:.1f} min, at most "
        "{:.1f} left",
        r.number, r.loss, 100 * r.cer, 100 * r.wer, 100 * best_cer_, r.minutes, left));
  }

  const std::vector<Example>&learnt_, &kept_back_;
  const RoundSettings& settings_;
  Progress& progress_;
  recognise::StripFrame frame_;
  Alphabet alphabet_;
  std::unique_ptr<Learner> learner_;
  std::vector<Gray> strips_;
  Model best_model_;
  double best_cer_ = 1e9;
  RoundsReport report_;
  std::chrono::steady_clock::time_point started_;
};

}  // namespace

OptimiserSettings round_optimiser() {
  OptimiserSettings settings;
  settings.peak_rate = 4e-4;
  settings.warm_up_steps = 30;
  settings.last_share = 0.05;
  settings.average_keep = 0.97;
  return settings;
}

void keep_back(double share, std::vector<Example>& learnt, std::vector<Example>& kept_back) {
  std::set<std::string> pages;
  for (const Example& e : learnt) pages.insert(e.page);
  const bool by_line = pages.size() < 2;
  const size_t units = by_line ? learnt.size() : pages.size();
  const double every = 1 / std::clamp(share, 1e-6, 0.9);
  std::set<std::string> held;
  size_t number = 0;
  // Evenly drawn: one where the share so far reaches the next whole number.
  const auto falls = [&](size_t i) {
    const auto at = [&](size_t k) {
      return std::floor((static_cast<double>(k) + every / 2) / every);
    };
    return at(i + 1) > at(i) || (units * share < 1 && i + 1 == units);
  };
  for (const std::string& page : pages) {
    if (!by_line && falls(number)) held.insert(page);
    ++number;
  }
  std::vector<Example> stay;
  for (size_t i = 0; i < learnt.size(); ++i) {
    const bool back = by_line ? falls(i) : held.count(learnt[i].page) > 0;
    (back ? kept_back : stay).push_back(std::move(learnt[i]));
  }
  learnt = std::move(stay);
}

RoundsReport train_in_rounds(const std::vector<Example>& learnt,
                             const std::vector<Example>& kept_back, const RoundSettings& settings,
                             Progress& progress) {
  if (learnt.empty() || kept_back.empty()) {
    throw InputError(fmt::format(
        "there are {} transcribed lines to learn from and {} to measure with; both are needed: "
        "give more pages, or keep back fewer or more of them with --validate",
        learnt.size(), kept_back.size()));
  }
  RoundsReport report;
  with_threads(settings.threads,
               [&] { report = Rounds(learnt, kept_back, settings, progress).to_the_end(); });
  return report;
}

}  // namespace burnisher::train
