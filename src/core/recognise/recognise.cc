#include "recognise/recognise.h"

#include <algorithm>
#include <cmath>
#include <mutex>

#include "base/error.h"
#include "recognise/character_prior.h"
#include "recognise/line_scripts.h"
#include "recognise/reader.h"

namespace burnisher::recognise {
namespace {

constexpr double kMostLost = 0.05;  // confidence a line may lose to the page's character prior

// The same line as read from its other end: what was above the letters is below.
Line turned_round(const Line& line) {
  Line other = line;
  const Point run = line.baseline.back() - line.baseline.front();
  const double length = std::max(1e-6, std::hypot(run.x, run.y));
  const Point up = Point{run.y, -run.x} * (line.x_height / length);
  for (Point& p : other.baseline) p = p + up;
  std::reverse(other.baseline.begin(), other.baseline.end());
  return other;
}

// Lines that one reader reads together.
struct Share {
  std::vector<LineTask> tasks;
  std::vector<LineReading> readings;
};

std::map<std::string, std::string> spelling_of(const std::vector<Bundle>& bundles) {
  std::map<std::string, std::string> files;
  for (const Bundle& bundle : bundles) files.insert(bundle.spelling.begin(), bundle.spelling.end());
  return files;
}

}  // namespace

struct Recogniser::State {
  struct Entry {
    Bundle bundle;
    std::once_flag loaded;
    std::unique_ptr<Reader> reader;
  };
  std::vector<std::unique_ptr<Entry>> entries;
  Languages languages;
  Precision precision;

  State(const std::vector<Bundle>& bundles, Precision of)
      : languages(spelling_of(bundles)), precision(of) {
    if (bundles.empty()) throw SettingsError("there is no bundle to read with");
    for (const Bundle& bundle : bundles) {
      entries.push_back(std::make_unique<Entry>());
      entries.back()->bundle = bundle;
    }
    reader(0);
  }

  const Reader& reader(size_t i) {
    Entry& entry = *entries[i];
    std::call_once(entry.loaded, [&] {
      entry.reader = std::make_unique<Reader>(entry.bundle, languages, precision);
    });
    return *entry.reader;
  }

  // Which bundle is to read each line: that of its script, among those wanted.
  std::vector<size_t> readers_of(const std::vector<LineReading>& readings,
                                 const std::vector<std::string>& wanted) {
    std::vector<size_t> readers(readings.size(), 0);
    const std::vector<std::string>& told = reader(0).tells_scripts();
    std::vector<std::string> known;
    for (const auto& entry : entries) {
      for (const std::string& script : entry->bundle.scripts) {
        const bool may =
            wanted.empty() || std::find(wanted.begin(), wanted.end(), script) != wanted.end();
        if (may) known.push_back(script);
      }
    }
    const std::vector<std::string> scripts = scripts_of(readings, told, known);
    for (size_t i = 0; i < readings.size(); ++i) {
      for (size_t e = entries.size(); e-- > 0;)
        if (entries[e]->bundle.reads(scripts[i])) readers[i] = e;
    }
    return readers;
  }

  void finish(const Reader& reader, const RecogniseSettings& settings, const PlaneMap& page_to_gray,
              Share& share) {
    for (const LineTask& task : share.tasks) task.line->language.clear();
    if (settings.spelling) {
      const std::vector<std::string> tags = reader.languages_of(share.readings, settings.languages);
      for (size_t i = 0; i < share.tasks.size(); ++i) share.tasks[i].line->language = tags[i];
      reader.spell(tags, settings.beam_search, {}, share.readings);
    }
    for (size_t i = 0; i < share.tasks.size(); ++i)
      reader.write(share.readings[i], page_to_gray, *share.tasks[i].line);
  }
};

Recogniser::Recogniser(const std::vector<Bundle>& bundles, Precision precision)
    : state_(std::make_unique<State>(bundles, precision)) {}
Recogniser::Recogniser(const std::string& model_path, Precision precision)
    : Recogniser(std::vector<Bundle>{read_bundle(model_path)}, precision) {}
Recogniser::~Recogniser() = default;

const Languages& Recogniser::languages() const {
  return state_->languages;
}

void Recogniser::read(const Gray& gray, const PlaneMap& page_to_gray,
                      const RecogniseSettings& settings, Page& page) const {
  std::vector<Line*> lines;
  for (Block& block : page.blocks) {
    for (Line& line : block.lines) lines.push_back(&line);
  }
  read(gray, page_to_gray, settings, lines);
  read_round(gray, page_to_gray, settings, page);
}

void Recogniser::read_round(const Gray& gray, const PlaneMap& page_to_gray,
                            const RecogniseSettings& settings, Page& page) const {
  const auto sum = [](const std::vector<Line>& lines) {
    double total = 0;
    for (const Line& line : lines) total += line.confidence * bounds(line.baseline).height();
    return total;
  };
  for (Block& block : page.blocks) {
    if (block.lines.empty() || block.kind == BlockKind::kTable ||
        !std::all_of(block.lines.begin(), block.lines.end(),
                     [](const Line& line) { return line.runs_up_or_down(); }))
      continue;
    std::vector<Line> others;
    for (const Line& line : block.lines) others.push_back(turned_round(line));
    std::reverse(others.begin(), others.end());
    std::vector<Line*> lines;
    for (Line& line : others) lines.push_back(&line);
    read(gray, page_to_gray, settings, lines);
    if (sum(others) > sum(block.lines)) block.lines = std::move(others);
  }
}

void Recogniser::read(const Gray& gray, const PlaneMap& page_to_gray,
                      const RecogniseSettings& settings, const std::vector<Line*>& lines) const {
  std::vector<LineTask> tasks;
  for (Line* line : lines) {
    if (line->baseline.size() >= 2 && line->x_height > 1) {
      tasks.push_back({line, place_of(*line, page_to_gray), 1});
    }
  }
  std::vector<LineReading> first = state_->reader(0).read(gray, tasks);
  const std::vector<size_t> readers = state_->readers_of(first, settings.scripts);
  std::vector<Share> shares(state_->entries.size());
  for (size_t i = 0; i < tasks.size(); ++i) {
    Share& share = shares[readers[i]];
    share.tasks.push_back(tasks[i]);
    if (readers[i] == 0) share.readings.push_back(std::move(first[i]));
  }
  for (size_t r = 0; r < shares.size(); ++r) {
    Share& share = shares[r];
    if (share.tasks.empty()) continue;
    const Reader& reader = state_->reader(r);
    if (r > 0) share.readings = reader.read(gray, share.tasks);
    reader.look_again(gray, share.tasks, settings.second_look, share.readings);
    state_->finish(reader, settings, page_to_gray, share);
  }
}

void Recogniser::settle(const Gray& gray, const PlaneMap& page_to_gray,
                        const RecogniseSettings& settings, Page& page) const {
  const Reader& reader = state_->reader(0);
  const std::vector<bool> implausible = implausible_characters(page, reader.alphabet());
  std::vector<LineTask> tasks;
  std::vector<std::string> tags;
  for (Line* line : lines_with(implausible, reader.alphabet(), page)) {
    if (line->baseline.size() < 2 || line->x_height <= 1) continue;
    if (line->script != reader.bundle().scripts.front()) continue;
    tasks.push_back({line, place_of(*line, page_to_gray), 1});
    tags.push_back(settings.spelling ? line->language : "");
  }
  std::vector<LineReading> again = reader.read(gray, tasks);
  reader.spell(tags, settings.beam_search, implausible, again);
  for (size_t i = 0; i < tasks.size(); ++i) {
    // A line that was read better at another size keeps that reading.
    if (again[i].confidence < tasks[i].line->confidence - kMostLost) continue;
    reader.write(again[i], page_to_gray, *tasks[i].line);
  }
  settle_primes(page);
  if (settings.modern_s) modernise_s(page);
}

}  // namespace burnisher::recognise
