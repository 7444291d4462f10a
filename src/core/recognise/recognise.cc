#include "recognise/recognise.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "base/parallel.h"
#include "base/unicode.h"
#include "raster/turn.h"
#include "recognise/character_prior.h"
#include "recognise/decode.h"
#include "recognise/readings.h"
#include "recognise/strip_leaders.h"
#include "recognise/words.h"

namespace burnisher::recognise {
namespace {

constexpr double kBendStep = 3;  // x-heights between points of a baseline on a bent scan
constexpr double kMargin = 0.6;  // x-heights of strip beyond the line's ends
constexpr double kOtherSizes[] = {0.84, 1.2};
// Longer strips are read in pieces that overlap by more than the network sees to either side
// (54 frames with the shipped model's dilations), so that the seams don't show. Pixels, multiples
// of a frame's width.
constexpr int kPiece = 4096, kPieceOverlap = 512;
constexpr double kCertain = 0.97;     // of a character: no language needs to be asked
constexpr size_t kMostReadings = 12;  // of a word; the rest is below a thousandth
constexpr double kMostLost = 0.05;    // confidence a line may lose to the page's character prior
constexpr double kWorthIt = 0.02;     // gain in confidence that another size must bring

struct LineTask {
  Line* line = nullptr;
  LinePlace place;    // in pixels of the picture that is sampled
  double factor = 1;  // on the x-height
};

// A line as read, with what is needed to read it again with a language in mind.
struct Reading {
  Gray strip;
  std::vector<StripLeader> leaders;  // of the strip: not read as letters
  std::optional<StripMap> map;
  Posteriors posteriors;
  std::vector<ReadCharacter> characters;
  double confidence = 0;  // mean over the characters as the network alone reads them

  bool doubtful() const {
    return std::any_of(characters.begin(), characters.end(),
                       [](const ReadCharacter& c) { return c.confidence < kCertain; });
  }
};

LinePlace place_of(const Line& line, const PlaneMap& page_to_gray) {
  LinePlace place;
  const Polyline& points = line.baseline;
  for (size_t i = 0; i < points.size(); ++i) {
    // What is straight on the page is bent where the scan was.
    const double reach = i > 0 && page_to_gray.displacement() ? points[i].x - points[i - 1].x : 0;
    const int steps = std::max(1, static_cast<int>(reach / (kBendStep * line.x_height)));
    for (int k = 1; k <= steps; ++k) {
      const Point from = i > 0 ? points[i - 1] : points[i];
      place.baseline.push_back(
          page_to_gray(from + (points[i] - from) * (static_cast<double>(k) / steps)));
    }
  }
  place.x_height = line.x_height * page_to_gray.scale();
  return place;
}

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

std::string text_of(const std::vector<ReadCharacter>& characters) {
  std::vector<char32_t> text;
  for (const ReadCharacter& c : characters) text.push_back(c.character);
  return encode_utf8(text);
}

}  // namespace

struct Recogniser::State {
  Model model;
  Network network;
  Languages languages;
  State(const std::string& model_path, const std::string& languages_folder, Precision precision)
      : model(read_model(model_path)), network(model, precision), languages(languages_folder) {}

  std::vector<Reading> read(const Gray& gray, const std::vector<LineTask>& tasks) const {
    std::vector<Reading> readings(tasks.size());
    parallel_each(static_cast<int>(tasks.size()), [&](int i) {
      const LineTask& task = tasks[static_cast<size_t>(i)];
      Reading& reading = readings[static_cast<size_t>(i)];
      LinePlace place = task.place;
      place.x_height *= task.factor;
      reading.map.emplace(place, model.frame, kMargin / task.factor, kMargin / task.factor);
      reading.strip = extract_strip(gray, *reading.map, model.frame);
      reading.leaders = leaders_in(reading.strip, model.frame);
      Gray plain;
      if (!reading.leaders.empty()) {
        plain = reading.strip.clone();
        take_out(reading.leaders, plain);
      }
      // What the network says in full is large: of one line at a time.
      reading.posteriors = Posteriors(scores_of(plain.empty() ? reading.strip : plain));
      reading.characters = best_path(reading.posteriors, model.alphabet);
      reading.confidence = mean_confidence(reading.characters);
    });
    return readings;
  }

  // A strip of any length, whole or in pieces.
  FrameScores scores_of(const Gray& strip) const {
    const int width = strip.width();
    if (width <= kPiece) return std::move(network.read({&strip}).front());
    FrameScores all;
    for (int from = 0, to = 0; to < width; from += kPiece - kPieceOverlap) {
      to = std::min(width, from + kPiece);
      const Gray piece = cut_out(strip, from, 0, to, strip.height());
      const FrameScores scores = std::move(network.read({&piece}).front());
      // The seam is in the middle of the overlap.
      const int skipped = from == 0 ? 0 : kPieceOverlap / kFrameWidth / 2;
      const int first = from / kFrameWidth + skipped;
      all.classes = scores.classes;
      all.frames = first - skipped + scores.frames;
      all.log_probability.resize(static_cast<size_t>(first) * static_cast<size_t>(all.classes));
      all.log_probability.insert(all.log_probability.end(), scores.frame(skipped),
                                 scores.frame(scores.frames));
    }
    return all;
  }

  // Lines with doubtful letters are read with their language's spelling in mind. `tags`: the
  // language of each reading, "": not known.
  void spell(const std::vector<std::string>& tags, const BeamSearchSettings& settings,
             const std::vector<bool>& barred, std::vector<Reading>& readings) const {
    parallel_each(static_cast<int>(readings.size()), [&](int i) {
      Reading& reading = readings[static_cast<size_t>(i)];
      const auto language = languages.model(tags[static_cast<size_t>(i)]);
      if (!barred.empty()) {
        reading.characters = best_path(reading.posteriors, model.alphabet, barred);
        reading.confidence = mean_confidence(reading.characters);
      }
      if (language && reading.doubtful())
        reading.characters =
            beam_search(reading.posteriors, model.alphabet, *language, settings, barred);
    });
  }

  // Doubtful words are given what else they may be.
  void add_readings(const std::vector<ReadCharacter>& characters, const Posteriors& posteriors,
                    Line& line) const {
    size_t at = 0;  // in the characters
    for (Word& word : line.words) {
      while (characters[at].character == U' ') ++at;
      const size_t end = at + word.glyphs.size();
      if (word.network_confidence < kCertain) {
        const int first = at > 0 ? characters[at - 1].peak_frame + 1 : 0;
        const int last = end < characters.size() ? characters[end].peak_frame : posteriors.frames();
        word.readings = readings_of(posteriors, model.alphabet, first, last, kMostReadings);
      }
      at = end;
    }
  }

  void write(const Reading& reading, const PlaneMap& page_to_gray, Line& line) const {
    line.words.clear();
    if (!reading.strip.empty()) {
      const std::vector<ReadCharacter> characters =
          with_leaders(reading.characters, reading.leaders);
      line.words = words_of(characters, reading.strip, *reading.map, model.frame, page_to_gray);
      add_readings(characters, reading.posteriors, line);
    }
    line.confidence = reading.confidence;
  }
};

Recogniser::Recogniser(const std::string& model_path, const std::string& languages_folder,
                       Precision precision)
    : state_(std::make_unique<State>(model_path, languages_folder, precision)) {}
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
  std::vector<Reading> best = state_->read(gray, tasks);
  std::vector<LineTask> again;
  std::vector<size_t> of;
  for (size_t i = 0; i < tasks.size(); ++i) {
    if (best[i].confidence >= settings.second_look) continue;
    for (double factor : kOtherSizes) {
      again.push_back({tasks[i].line, tasks[i].place, factor});
      of.push_back(i);
    }
  }
  std::vector<Reading> others = state_->read(gray, again);
  for (size_t k = 0; k < others.size(); ++k) {
    if (others[k].confidence > best[of[k]].confidence + kWorthIt)
      best[of[k]] = std::move(others[k]);
  }
  if (settings.spelling) {
    std::vector<std::string> texts;
    for (const Reading& reading : best) texts.push_back(text_of(reading.characters));
    const std::vector<std::string> tags = state_->languages.guess(texts, settings.languages);
    for (size_t i = 0; i < tasks.size(); ++i) tasks[i].line->language = tags[i];
    state_->spell(tags, settings.beam_search, {}, best);
  }
  for (size_t i = 0; i < tasks.size(); ++i) state_->write(best[i], page_to_gray, *tasks[i].line);
}

void Recogniser::settle(const Gray& gray, const PlaneMap& page_to_gray,
                        const RecogniseSettings& settings, Page& page) const {
  const Alphabet& alphabet = state_->model.alphabet;
  const std::vector<bool> implausible = implausible_characters(page, alphabet);
  std::vector<LineTask> tasks;
  std::vector<std::string> tags;
  for (Line* line : lines_with(implausible, alphabet, page)) {
    if (line->baseline.size() < 2 || line->x_height <= 1) continue;
    tasks.push_back({line, place_of(*line, page_to_gray), 1});
    tags.push_back(settings.spelling ? line->language : "");
  }
  std::vector<Reading> again = state_->read(gray, tasks);
  state_->spell(tags, settings.beam_search, implausible, again);
  for (size_t i = 0; i < tasks.size(); ++i) {
    // A line that was read better at another size keeps that reading.
    if (again[i].confidence < tasks[i].line->confidence - kMostLost) continue;
    state_->write(again[i], page_to_gray, *tasks[i].line);
  }
  settle_primes(page);
  if (settings.modern_s) modernise_s(page);
}

}  // namespace burnisher::recognise
