#include "train/confusion_trainer.h"

#include <fmt/core.h>
#include <tbb/enumerable_thread_specific.h>

#include <Eigen/Dense>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <sstream>

#include "base/error.h"
#include "base/parallel.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "correct/word_analysis.h"
#include "score/compare.h"
#include "train/line_maker.h"

namespace burnisher::train {
namespace {

constexpr int kLongestLine = 72;          // characters
constexpr size_t kMostMisreadings = 500;  // kept, the commonest first
constexpr int kFewestTimes = 3;           // rarer ones are chance
constexpr double kPenalty = 1.0;          // of large weights
constexpr double kLeastPrecision = 0.55;  // of suspects, where the limit is set
constexpr int kKeptOdd = 10;              // every tenth line counts whatever is in it
constexpr int kSteps = 25;                // of Newton's method; it stands still after ten

using Text = std::u32string;

// Lines of pages as they come: mostly good, some worn.
compose::ScanLevel level_of(int line) {
  const int kind = line % 20;
  return kind < 11   ? compose::ScanLevel::kClean
         : kind < 19 ? compose::ScanLevel::kMedium
                     : compose::ScanLevel::kHeavy;
}

struct ReadWord {
  correct::FeatureVector features;
  bool wrong = false;
};

struct ReadLine {
  std::vector<ReadWord> words;
  std::vector<score::Confusion> pairs;
};

// What was read of each word and whether it is the word that stood there: all its characters and
// the spaces round it.
std::vector<bool> wrong_words(const std::vector<score::Confusion>& pairs) {
  std::vector<bool> wrong(1, false);
  bool carried = false;  // an error at the space belongs to both sides
  for (const score::Confusion& pair : pairs) {
    const bool error = pair.truth != pair.read;
    if (error) wrong.back() = true;
    if (pair.read == U' ') {
      carried = error;
      wrong.push_back(carried);
    }
  }
  return wrong;
}

// Texts to train on are full of identifiers and codes, which printed pages have few of: lines with
// an odd mixture or an unknown small word count seldom, so that such words are suspicious.
bool is_everyday(const std::string& text, const std::string& language,
                 const correct::Lexicon& lexicon) {
  std::istringstream stream(text);
  for (std::string word; stream >> word;) {
    const correct::Form form = correct::form_of(word);
    if (form.kind == correct::FormKind::kOdd) return false;
    if (!correct::is_spelled(form.kind) || word.back() == '-') continue;
    if (!is_upper(decode_utf8(form.core).front()) && !lexicon.knows(form.core, {language}))
      return false;
  }
  return true;
}

ReadLine read_line(const TrainingLine& made, const recognise::Recogniser& recogniser,
                   const recognise::StripFrame& frame, const correct::AnalysisContext& context,
                   const std::string& language, bool keep_odd) {
  Line line;
  line.x_height = frame.x_height;
  const double baseline = frame.baseline;
  line.baseline = {{2, baseline}, {made.strip.width() - 2.0, baseline}};
  recognise::RecogniseSettings settings;
  settings.languages = {language};
  recogniser.read(made.strip, Affine{}, settings, {&line});
  ReadLine read;
  std::string text;
  double certainty = 0;
  for (const Word& word : line.words) {
    text += (text.empty() ? "" : " ") + word.text;
    certainty += word.confidence / static_cast<double>(line.words.size());
  }
  if (text.empty()) return read;
  const std::string truth =
      encode_utf8(logical_order(made.text, runs_right_to_left(made.text, line.script)));
  read.pairs = score::aligned(text, truth);
  if (!keep_odd && !is_everyday(truth, language, context.lexicon)) return read;
  const std::vector<bool> wrong = wrong_words(read.pairs);
  for (size_t i = 0; i < line.words.size() && i < wrong.size(); ++i) {
    // The other half of a word parted at the line's end is not there.
    const std::string& word = line.words[i].text;
    if (i + 1 == line.words.size() && word.back() == '-') continue;
    correct::Place place;
    place.word = &line.words[i];
    place.sentence_start = i == 0;
    place.line_certainty = certainty;
    place.languages = {language};
    read.words.push_back({correct::analysis_of(place, context).features, wrong[i]});
  }
  return read;
}

// Runs of errors, at most two characters on either side, and how often their truth stood there.
class Counts {
 public:
  void add(const std::vector<score::Confusion>& pairs) {
    for (size_t i = 0; i < pairs.size(); ++i) {
      if (pairs[i].truth != 0) ++there_[Text(1, pairs[i].truth)];
      if (i > 0 && pairs[i].truth != 0 && pairs[i - 1].truth != 0)
        ++there_[Text{pairs[i - 1].truth, pairs[i].truth}];
      ++places_;
    }
    for (size_t i = 0; i < pairs.size();) {
      if (pairs[i].truth == pairs[i].read) {
        ++i;
        continue;
      }
      Text truth, read;
      for (; i < pairs.size() && pairs[i].truth != pairs[i].read; ++i) {
        if (pairs[i].truth != 0) truth += pairs[i].truth;
        if (pairs[i].read != 0) read += pairs[i].read;
      }
      const bool letters = truth.find(U' ') == Text::npos && read.find(U' ') == Text::npos;
      if (letters && truth.size() <= 2 && read.size() <= 2) ++errors_[{truth, read}];
    }
  }

  std::vector<correct::Confusion> confusions() const {
    std::vector<correct::Confusion> list;
    for (const auto& [pair, count] : errors_) {
      if (count < kFewestTimes) continue;
      const auto& [truth, read] = pair;
      const auto there = there_.find(truth);
      // What is read where nothing stood may be anywhere.
      const double chances = truth.empty()           ? places_
                             : there == there_.end() ? count
                                                     : there->second;
      list.push_back({truth, read, -std::log((count + 0.5) / (chances + 1.0))});
    }
    std::sort(list.begin(), list.end(), [](const auto& a, const auto& b) {
      return a.cost != b.cost ? a.cost < b.cost : a.truth + a.read < b.truth + b.read;
    });
    if (list.size() > kMostMisreadings) list.resize(kMostMisreadings);
    return list;
  }

 private:
  std::map<Text, int> there_;
  std::map<std::pair<Text, Text>, int> errors_;
  int places_ = 0;
};

correct::FeatureVector fitted(const std::vector<ReadWord>& words) {
  constexpr auto kSize = static_cast<Eigen::Index>(correct::kFeatures);
  Eigen::VectorXd weights = Eigen::VectorXd::Zero(kSize);
  for (int step = 0; step < kSteps; ++step) {
    Eigen::VectorXd gradient = -kPenalty * weights;
    Eigen::MatrixXd curvature = kPenalty * Eigen::MatrixXd::Identity(kSize, kSize);
    for (const ReadWord& word : words) {
      const Eigen::Map<const Eigen::VectorXd> features(word.features.data(), kSize);
      const double p = 1 / (1 + std::exp(-weights.dot(features)));
      gradient += ((word.wrong ? 1.0 : 0.0) - p) * features;
      curvature += p * (1 - p) * features * features.transpose();
    }
    weights += curvature.ldlt().solve(gradient);
  }
  correct::FeatureVector result{};
  for (size_t i = 0; i < result.size(); ++i) result[i] = weights(static_cast<Eigen::Index>(i));
  return result;
}

// The least doubt from which on suspects are right to suspect often enough.
double limit_for(const correct::ConfusionModel& confusion_model,
                 const std::vector<ReadWord>& words) {
  std::vector<std::pair<double, bool>> ranked;
  for (const ReadWord& word : words)
    ranked.emplace_back(confusion_model.error_probability(word.features), word.wrong);
  std::sort(ranked.begin(), ranked.end(), std::greater<>());
  double limit = 0.5;
  int wrong = 0;
  for (size_t i = 0; i < ranked.size(); ++i) {
    wrong += ranked[i].second;
    if (wrong >= kLeastPrecision * static_cast<double>(i + 1)) limit = ranked[i].first;
  }
  return limit;
}

void measure(const std::vector<ReadWord>& words, ConfusionTrainerReport& report) {
  int suspects = 0, found = 0, wrong = 0;
  for (const ReadWord& word : words) {
    const bool suspect =
        report.confusion_model.error_probability(word.features) >= report.confusion_model.limit;
    suspects += suspect;
    wrong += word.wrong;
    found += suspect && word.wrong;
  }
  report.precision = static_cast<double>(found) / std::max(1, suspects);
  report.recall = static_cast<double>(found) / std::max(1, wrong);
}

}  // namespace

ConfusionTrainerReport learn_confusion_model(const ConfusionTrainerSettings& settings,
                                             const recognise::Model& model,
                                             const recognise::Recogniser& recogniser,
                                             const correct::Lexicon& lexicon, Progress& progress) {
  if (!lexicon.has(settings.language)) {
    throw SettingsError("no dictionary is installed for '" + settings.language +
                        "'; without one nothing can be learnt about unknown words");
  }
  const std::vector<compose::TypefaceEntry> faces = compose::read_typeface_table(settings.faces);
  const TextSource texts(settings.texts, model.alphabet, false, settings.language,
                         script_of_language(settings.language));
  tbb::enumerable_thread_specific<std::unique_ptr<LineMaker>> makers([&] {
    return std::make_unique<LineMaker>(texts, model.alphabet, faces, false, model.frame);
  });
  const correct::DocumentWords no_document;
  const correct::ConfusionModel no_confusions;
  const correct::AnalysisContext context{lexicon, no_document, no_confusions};
  std::vector<ReadLine> lines(static_cast<size_t>(settings.lines));
  std::atomic<int> done{0};
  const auto make_and_read = [&](int i) {
    const TrainingLine made = makers.local()->make(
        level_of(i), kLongestLine, settings.seed * 1000003 + static_cast<uint64_t>(i));
    lines[static_cast<size_t>(i)] =
        read_line(made, recogniser, model.frame, context, settings.language, i % kKeptOdd == 0);
    progress.advance("lines", ++done, settings.lines);
  };
  with_threads(settings.threads, [&] { parallel_each(settings.lines, make_and_read); });
  ConfusionTrainerReport report;
  Counts counts;
  std::vector<ReadWord> words;
  for (const ReadLine& line : lines) {
    counts.add(line.pairs);
    words.insert(words.end(), line.words.begin(), line.words.end());
  }
  const size_t kept = words.size() / 5;
  const std::vector<ReadWord> held(words.end() - static_cast<long>(kept), words.end());
  words.resize(words.size() - kept);
  report.words = static_cast<int>(words.size());
  for (const ReadWord& word : words) report.wrong += word.wrong;
  report.confusion_model.confusions = counts.confusions();
  report.confusion_model.weights = fitted(words);
  report.confusion_model.limit = limit_for(report.confusion_model, words);
  measure(held, report);
  report.confusion_model.record = {{"lines", std::to_string(settings.lines)},
                                   {"language", settings.language},
                                   {"seed", std::to_string(settings.seed)},
                                   {"words", std::to_string(report.words)},
                                   {"wrong", std::to_string(report.wrong)},
                                   {"precision", fmt::format("{:.3f}", report.precision)},
                                   {"recall", fmt::format("{:.3f}", report.recall)}};
  return report;
}

}  // namespace burnisher::train
