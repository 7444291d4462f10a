#include "train/page_trainer.h"

#include <fmt/core.h>
#include <tbb/enumerable_thread_specific.h>

#include <cmath>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "base/error.h"
#include "base/parallel.h"
#include "compose/page_maker.h"
#include "neural/convolution.h"
#include "train/network_state.h"
#include "train/page_texts.h"
#include "train/run_loop.h"

namespace burnisher::train {
namespace {

using layout::kPageMaps;
using layout::kShareMaps;
using layout::MapGrid;

// What a missed cell weighs against a wrongly seen one: maps of thin things are mostly empty, line
// ends are what keeps columns apart, and tables and marks are rare.
constexpr float kPresent[kShareMaps] = {1.5f, 3, 6, 3, 2, 2, 2, 5, 1};
constexpr float kAxisWeight = 4;      // text is a tenth of a page
constexpr double kRightAxis = 0.866;  // cosine of 30 degrees, of twice the angle
constexpr uint64_t kValidationSeed = 0x70616765ull;

const char* const kLogHead = "minutes\tpages\trate\tloss\taxis";

struct PageResult {
  ParameterMap gradient;
  double loss = 0;
};

PageResult gradient_of(const TrainingPage& page, const ParameterMap& parameters,
                       TrainableNetwork& network) {
  const neural::SingleThread alone;
  std::vector<float> input(page.page.samples().size());
  for (size_t i = 0; i < input.size(); ++i) input[i] = layout::page_sample(page.page.samples()[i]);
  const std::vector<float>& scores =
      network.forward(parameters, input, 1, page.page.height(), page.page.width());
  PageResult result;
  std::vector<float> score_gradient;
  result.loss = page_loss(page.truth, scores, score_gradient);
  network.backward(parameters, score_gradient, result.gradient);
  return result;
}

class PageRun {
 public:
  PageRun(const PageTrainSettings& settings, Progress& progress)
      : settings_(settings),
        progress_(progress),
        layers_(layout::page_layers(settings.plan)),
        faces_(compose::read_typeface_table(settings.faces)),
        texts_(settings.texts, false),
        makers_(
            [this] { return std::make_unique<compose::PageMaker>(maker_settings(false, texts_)); }),
        networks_([this] { return std::make_unique<TrainableNetwork>(layers_); }) {
    std::filesystem::create_directories(settings.run_folder);
    initialise(layers_, settings.seed, state_);
    if (!settings.from.empty()) start_from(layout::read_page_model(settings.from));
    if (settings.go_on) state_ = read_checkpoint(file("checkpoint.safetensors"));
    make_validation();
  }

  PageTrainRow to_the_end() {
    run_to_the_end(
        {file("checkpoint.safetensors"), "training pages", settings_.pages,
         settings_.validate_every, settings_.checkpoint_minutes},
        state_, progress_, [this] { step(); }, [this] { validate(); });
    return row_;
  }

 private:
  std::string file(const char* name) const { return settings_.run_folder + "/" + name; }

  void start_from(const layout::PageModel& base) {
    for (const auto& [name, tensor] : base.tensors) {
      if (state_.parameters.count(name) > 0) state_.parameters.at(name) = tensor.values;
    }
  }

  compose::PageMakerSettings maker_settings(bool held, const PageTexts& texts) const {
    compose::PageMakerSettings s;
    s.faces = faces_;
    s.held = held;
    s.texts = texts.pages();
    return s;
  }

  void make_validation() {
    const PageTexts held_texts(settings_.texts, true);
    const bool any_held =
        std::any_of(faces_.begin(), faces_.end(), [](const auto& f) { return f.held; });
    compose::PageMaker maker(maker_settings(any_held, held_texts));
    for (int i = 0; i < settings_.validation_pages; ++i)
      validation_.push_back(training_page(maker.make(kValidationSeed + static_cast<uint64_t>(i))));
  }

  void step() {
    const uint64_t first = settings_.seed * 0x100000000ull + static_cast<uint64_t>(state_.seen);
    std::vector<PageResult> results(static_cast<size_t>(settings_.pages_per_step));
    parallel_each(settings_.pages_per_step, [&](int i) {
      const uint64_t seed = first + static_cast<uint64_t>(i);
      const compose::ComposedPage composed = makers_.local()->make(seed);
      Random random(seed ^ 0x77696e646f77ull);
      const bool wide = composed.scan.width() > composed.scan.height();
      const TrainingPage page =
          varied_window(composed, wide ? settings_.window_height : settings_.window_width,
                        wide ? settings_.window_width : settings_.window_height, random);
      results[static_cast<size_t>(i)] = gradient_of(page, state_.parameters, *networks_.local());
    });
    // Joined in the order of the pages, so that the sum does not depend on the threads.
    ParameterMap gradient;
    for (PageResult& r : results) {
      loss_ += r.loss;
      add_gradient(r.gradient, gradient);
    }
    for (auto& [name, values] : gradient) {
      for (float& g : values) g /= static_cast<float>(settings_.pages_per_step);
    }
    const double done = static_cast<double>(state_.seen) / static_cast<double>(settings_.pages);
    rate_ = learning_rate(settings_.optimiser, state_.optimiser.step, done);
    update(settings_.optimiser, rate_, gradient, state_.parameters, state_.optimiser);
    average_in(settings_.optimiser, state_.parameters, state_.optimiser);
    state_.seen += settings_.pages_per_step;
    pages_since_ += settings_.pages_per_step;
  }

  void validate() {
    layout::PageModel model;
    model.plan = settings_.plan;
    model.tensors = averaged(layers_, state_);
    model.record = {{"pages", std::to_string(state_.seen)},
                    {"minutes", fmt::format("{:.1f}", state_.minutes)},
                    {"seed", std::to_string(settings_.seed)}};
    write_page_model(file("pages.safetensors"), model);
    row_ = {state_.minutes, state_.seen, rate_,
            loss_ / static_cast<double>(std::max<int64_t>(1, pages_since_)),
            map_quality(layout::PageNetwork(model), validation_)};
    loss_ = 0;
    pages_since_ = 0;
    append_log();
    std::string seen;
    for (size_t k = 0; k < kShareMaps; ++k)
      seen += fmt::format(" {} {:.1f}", layout::kPageMapNames[k], 100 * row_.quality.f1[k]);
    progress_.say(fmt::format("{:.1f} min, {} pages: loss {:.3f}, axis {:.1f} %, F1 %:{}",
                              row_.minutes, row_.pages, row_.loss, 100 * row_.quality.axis, seen));
  }

  void append_log() const {
    const std::string path = file("pages.tsv");
    const bool fresh = !std::ifstream(path).good();
    std::ofstream log(path, std::ios::app);
    if (fresh) {
      log << kLogHead;
      for (size_t k = 0; k < kShareMaps; ++k) log << '\t' << layout::kPageMapNames[k];
      log << '\n';
    }
    log << fmt::format("{:.2f}\t{}\t{:.3g}\t{:.4f}\t{:.2f}", row_.minutes, row_.pages, row_.rate,
                       row_.loss, 100 * row_.quality.axis);
    for (const double f1 : row_.quality.f1) log << fmt::format("\t{:.2f}", 100 * f1);
    log << '\n';
    if (!log) throw OutputError(path + ": the training log cannot be written");
  }

  const PageTrainSettings& settings_;
  Progress& progress_;
  std::vector<neural::ConvShape> layers_;
  std::vector<compose::TypefaceEntry> faces_;
  PageTexts texts_;
  tbb::enumerable_thread_specific<std::unique_ptr<compose::PageMaker>> makers_;
  tbb::enumerable_thread_specific<std::unique_ptr<TrainableNetwork>> networks_;
  RunState state_;
  std::vector<TrainingPage> validation_;
  double loss_ = 0;
  int64_t pages_since_ = 0;
  double rate_ = 0;
  PageTrainRow row_;
};

}  // namespace

double page_loss(const MapGrid& truth, const std::vector<float>& scores,
                 std::vector<float>& gradient) {
  gradient.assign(scores.size(), 0.f);
  const size_t cells = scores.size() / kPageMaps;
  const float share = 1.f / static_cast<float>(cells);
  double loss = 0;
  for (size_t cell = 0; cell < cells; ++cell) {
    const float *z = scores.data() + cell * kPageMaps, *t = truth.values.data() + cell * kPageMaps;
    float* g = gradient.data() + cell * kPageMaps;
    for (size_t k = 0; k < kShareMaps; ++k) {
      const float p = 1 / (1 + std::exp(-z[k]));
      const float weight = 1 + (kPresent[k] - 1) * t[k];
      g[k] = share * weight * (p - t[k]);
      // Cross-entropy from the score, which never takes the logarithm of nothing.
      loss += weight * (std::max(z[k], 0.f) - z[k] * t[k] + std::log1p(std::exp(-std::abs(z[k]))));
    }
    if (t[layout::kAxisCosMap] == 0 && t[layout::kAxisSinMap] == 0) continue;
    for (const size_t k : {size_t{layout::kAxisCosMap}, size_t{layout::kAxisSinMap}}) {
      const float off = z[k] - t[k];
      g[k] = share * kAxisWeight * off;
      loss += 0.5f * kAxisWeight * off * off;
    }
  }
  return loss / static_cast<double>(cells);
}

MapQuality map_quality(const layout::PageNetwork& network, const std::vector<TrainingPage>& pages) {
  struct Counts {
    std::array<int64_t, kShareMaps> both{}, seen{}, there{};
    int64_t text = 0, right = 0;
  };
  std::vector<Counts> counts(pages.size());
  parallel_each(static_cast<int>(pages.size()), [&](int i) {
    const TrainingPage& page = pages[static_cast<size_t>(i)];
    const MapGrid grid = network.read(page.page);
    Counts& c = counts[static_cast<size_t>(i)];
    for (size_t cell = 0; cell < grid.values.size(); cell += kPageMaps) {
      const float *p = grid.values.data() + cell, *t = page.truth.values.data() + cell;
      for (size_t k = 0; k < kShareMaps; ++k) {
        c.both[k] += p[k] > 0.5f && t[k] > 0.5f;
        c.seen[k] += p[k] > 0.5f;
        c.there[k] += t[k] > 0.5f;
      }
      if (t[layout::kBandMap] < 0.5f) continue;
      const double x = p[layout::kAxisCosMap], y = p[layout::kAxisSinMap];
      ++c.text;
      c.right +=
          x * t[layout::kAxisCosMap] + y * t[layout::kAxisSinMap] > kRightAxis * std::hypot(x, y);
    }
  });
  Counts all;
  for (const Counts& c : counts) {
    for (size_t k = 0; k < kShareMaps; ++k) {
      all.both[k] += c.both[k];
      all.seen[k] += c.seen[k];
      all.there[k] += c.there[k];
    }
    all.text += c.text;
    all.right += c.right;
  }
  MapQuality quality;
  for (size_t k = 0; k < kShareMaps; ++k)
    quality.f1[k] = 2.0 * static_cast<double>(all.both[k]) /
                    static_cast<double>(std::max<int64_t>(1, all.seen[k] + all.there[k]));
  quality.axis =
      static_cast<double>(all.right) / static_cast<double>(std::max<int64_t>(1, all.text));
  return quality;
}

PageTrainRow train_pages(const PageTrainSettings& wanted, Progress& progress) {
  PageTrainSettings settings = wanted;
  if (!wanted.from.empty()) settings.plan = layout::read_page_model(wanted.from).plan;
  if (settings.pages < 1 || settings.pages_per_step < 1 || settings.validation_pages < 1)
    throw SettingsError("a training needs at least one page, one a step and one to measure with");
  if (settings.window_width % layout::kPageStep != 0 ||
      settings.window_height % layout::kPageStep != 0)
    throw SettingsError(
        fmt::format("the window's sides must be multiples of {}", layout::kPageStep));
  PageTrainRow last;
  with_threads(settings.threads, [&] { last = PageRun(settings, progress).to_the_end(); });
  return last;
}

std::vector<PageTrainRow> read_page_log(const std::string& path) {
  std::ifstream log(path);
  std::vector<PageTrainRow> rows;
  std::string line;
  std::getline(log, line);
  while (std::getline(log, line)) {
    std::istringstream fields(line);
    PageTrainRow row;
    fields >> row.minutes >> row.pages >> row.rate >> row.loss >> row.quality.axis;
    for (double& f1 : row.quality.f1) fields >> f1;
    row.quality.axis /= 100;
    for (double& f1 : row.quality.f1) f1 /= 100;
    if (fields) rows.push_back(row);
  }
  return rows;
}

}  // namespace burnisher::train
