#include "teach/lesson.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "base/error.h"
#include "base/unicode.h"
#include "recognise/alphabet.h"

namespace burnisher::teach {
namespace {

// Strip pixels that two cores learn from in about three minutes (1.4 million a minute).
constexpr double kPixels = 4e6;
constexpr int kFewestRounds = 4, kMostRounds = 40;
constexpr int kPatience = 8;  // rounds
// As many glyphs are put into composed lines as were named, and so many at least.
constexpr size_t kLeastComposed = 2000, kMostComposed = 12000;
constexpr size_t kOfComposedLine = 20;  // glyphs, about
// Of the letters that were named: so many new ones, and the head is learnt as from nothing.
constexpr double kMostlyNew = 0.5;
constexpr double kRateOfNew = 1.5e-3;
constexpr double kRateOfSome = 8e-4;  // where a few classes are new

// Signs that every alphabet has.
std::string common_signs() {
  std::string signs;
  for (char c = ' '; c <= '~'; ++c)
    if (std::isalpha(static_cast<unsigned char>(c)) == 0) signs += c;
  return signs;
}

double width_of(const train::Example& example, const recognise::StripFrame& frame) {
  const Box run = bounds(example.place.baseline);
  return (run.width() / example.place.x_height + 1.2) * frame.x_height;
}

// The share of all characters (by kind) that the model does not know.
double share_of_new(const std::vector<train::Example>& examples,
                    const recognise::Alphabet& alphabet) {
  std::set<char32_t> kinds;
  for (const train::Example& e : examples)
    for (const char32_t c : e.text)
      if (is_letter(c)) kinds.insert(c);
  const auto fresh = std::count_if(kinds.begin(), kinds.end(),
                                   [&](char32_t c) { return alphabet.class_of(c) == 0; });
  return kinds.empty() ? 0 : static_cast<double>(fresh) / static_cast<double>(kinds.size());
}

}  // namespace

LessonReport learn_from(const TypeCase& type_case, const std::vector<Naming>& namings,
                        std::vector<train::Example> transcribed, const LessonSettings& settings,
                        Progress& progress) {
  const recognise::Model base = recognise::read_model(settings.from);
  const std::vector<Naming> all = with_sure_readings(type_case, namings);
  CaseExamples named = examples_of(type_case, all, base.symbols());
  LessonReport report;
  report.lost = named.lost;
  report.symbols = named.symbols;
  report.read = all.size() - namings.size();
  report.glyphs = named.glyphs - report.read;
  std::vector<train::Example> learnt = std::move(named.runs), kept_back;
  std::move(named.lines.begin(), named.lines.end(), std::back_inserter(learnt));
  std::move(transcribed.begin(), transcribed.end(), std::back_inserter(learnt));
  std::set<std::string> lines;
  for (const train::Example& e : learnt) lines.insert(e.page);
  report.lines = lines.size();
  if (lines.size() < 2)
    throw InputError(fmt::format(
        "glyphs of {} {} are named; to learn and to measure, those of two at least are needed",
        lines.size(), lines.size() == 1 ? "line" : "lines"));
  train::keep_back(settings.kept_back, learnt, kept_back);
  std::set<std::string> held;
  for (const train::Example& e : kept_back) held.insert(e.page);
  const std::vector<Naming> told = with_typed_glyphs(type_case, all);
  const size_t glyphs = named.glyphs + told.size() - all.size();
  if (glyphs > 0) {
    const size_t wanted = std::clamp(glyphs, kLeastComposed, kMostComposed);
    std::vector<train::Example> composed =
        composed_lines(type_case, told, report.symbols, held,
                       static_cast<int>(wanted / kOfComposedLine), settings.seed);
    std::move(composed.begin(), composed.end(), std::back_inserter(learnt));
  }
  train::RoundSettings rounds;
  rounds.from = settings.from;
  rounds.run_folder = settings.run_folder;
  rounds.seed = settings.seed;
  rounds.threads = settings.threads;
  rounds.patience = kPatience;
  rounds.optimiser = train::round_optimiser();
  if (share_of_new(learnt, base.alphabet) > kMostlyNew) {
    // Of a script that the model does not read: its own letters would only stand in the way.
    rounds.optimiser.peak_rate = kRateOfNew;
    rounds.characters = common_signs() + train::missing_characters(learnt, common_signs());
  }
  if (rounds.characters.empty() && !train::missing_characters(learnt, base.alphabet.utf8()).empty())
    rounds.optimiser.peak_rate = kRateOfSome;
  rounds.likened = read_before(type_case, with_typed_glyphs(type_case, namings), report.symbols);
  double pixels = 0;
  for (const train::Example& e : learnt) pixels += width_of(e, base.frame);
  rounds.most_rounds = std::clamp(static_cast<int>(std::lround(kPixels / std::max(1.0, pixels))),
                                  kFewestRounds, kMostRounds);
  if (settings.most_rounds > 0) rounds.most_rounds = settings.most_rounds;
  report.rounds = train::train_in_rounds(learnt, kept_back, rounds, progress);
  const std::string path = settings.run_folder + "/model.safetensors";
  recognise::Model model = recognise::read_model(path);
  model.set_symbols(report.symbols);
  model.record["taught"] = fmt::format("{} glyphs on {} lines", report.glyphs, report.lines);
  recognise::write_model(path, model, true);
  return report;
}

}  // namespace burnisher::teach
