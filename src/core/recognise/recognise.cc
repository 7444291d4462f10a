#include "recognise/recognise.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "base/parallel.h"
#include "base/unicode.h"
#include "recognise/decode.h"
#include "recognise/habits.h"
#include "recognise/words.h"

namespace burnisher::recognise {
namespace {

constexpr double kBendStep = 3;  // x-heights between points of a baseline on a bent scan
constexpr double kMargin = 0.6;  // x-heights of strip beyond the line's ends
constexpr double kOtherSizes[] = {0.84, 1.2};
constexpr int kBatchPixels = 6400;  // strip width read in one go
constexpr int kLongestStrip = 6000;
constexpr double kMostLost = 0.05;  // confidence a line may lose to the page's habits
constexpr double kWorthIt = 0.02;   // gain in confidence that another size must bring

// Mean character confidence: of pages that read well, and what their blocks must reach. Scraps of a
// few characters are more often dirt or a signature than text: they must read nearly as well as the
// page does.
constexpr double kReadablePage = 0.7;
constexpr double kSureMany = 0.55, kSureFew = 0.72;
constexpr double kFewCharacters = 6;
constexpr double kMostBelowPage = 0.15;
constexpr double kFewestLeaderDots = 4;
// A page with fewer characters, less sure than this, has no text.
constexpr int kFewestOnPage = 120;
constexpr double kSureOfPage = 0.62;
// Specks read as full stops, bullets and asterisks: up to so many, with so small a share of
// letters.
constexpr int kMostDots = 400;
constexpr double kLettersAmongDots = 0.4;

struct LineTask {
  Line* line = nullptr;
  LinePlace place;    // in pixels of the picture that is sampled
  double factor = 1;  // on the x-height
};

struct Reading {
  std::vector<Word> words;
  double confidence = 0;
};

LinePlace place_of(const Line& line, const PlaneMap& page_to_gray) {
  LinePlace place;
  const Polyline& points = line.baseline;
  for (size_t i = 0; i < points.size(); ++i) {
    // What is straight on the page is bent where the scan was.
    const double reach = i > 0 && page_to_gray.bend() ? points[i].x - points[i - 1].x : 0;
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

bool is_steep(const Line& line) {
  if (line.baseline.size() < 2) return false;
  const Point run = line.baseline.back() - line.baseline.front();
  return std::fabs(run.y) > 2 * std::fabs(run.x);
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

double mean_confidence(const std::vector<ReadCharacter>& characters) {
  if (characters.empty()) return 0;
  double sum = 0;
  for (const ReadCharacter& c : characters) sum += c.confidence;
  return sum / static_cast<double>(characters.size());
}

}  // namespace

struct Recogniser::State {
  Model model;
  Network network;
  explicit State(const std::string& path) : model(read_model(path)), network(model) {}

  // `barred` (may be null): classes that are not to be read.
  std::vector<Reading> read(const Gray& gray, const PlaneMap& page_to_gray,
                            const std::vector<LineTask>& tasks,
                            const std::vector<bool>* barred = nullptr) const {
    std::vector<StripMap> maps;
    std::vector<Gray> strips(tasks.size());
    for (const LineTask& task : tasks) {
      LinePlace place = task.place;
      place.x_height *= task.factor;
      maps.emplace_back(place, model.frame, kMargin / task.factor, kMargin / task.factor);
    }
    parallel_each(static_cast<int>(tasks.size()), [&](int i) {
      const auto k = static_cast<size_t>(i);
      if (maps[k].width() <= kLongestStrip) strips[k] = extract_strip(gray, maps[k], model.frame);
    });
    std::vector<size_t> order;
    for (size_t i = 0; i < tasks.size(); ++i) {
      if (!strips[i].empty()) order.push_back(i);
    }
    std::sort(order.begin(), order.end(),
              [&](size_t a, size_t b) { return strips[a].width() < strips[b].width(); });
    std::vector<std::vector<size_t>> batches;
    for (size_t i : order) {
      const bool full =
          batches.empty() ||
          static_cast<int>(batches.back().size() + 1) * strips[i].width() > kBatchPixels;
      if (full) batches.emplace_back();
      batches.back().push_back(i);
    }
    std::vector<Reading> readings(tasks.size());
    parallel_each(static_cast<int>(batches.size()), [&](int b) {
      const std::vector<size_t>& batch = batches[static_cast<size_t>(b)];
      std::vector<const Gray*> together;
      for (size_t i : batch) together.push_back(&strips[i]);
      const std::vector<FrameScores> scores = network.read(together);
      for (size_t k = 0; k < batch.size(); ++k) {
        const auto characters = barred == nullptr
                                    ? best_path(scores[k], model.alphabet)
                                    : best_path_without(*barred, scores[k], model.alphabet);
        Reading& reading = readings[batch[k]];
        reading.confidence = mean_confidence(characters);
        reading.words =
            words_of(characters, strips[batch[k]], maps[batch[k]], model.frame, page_to_gray);
      }
    });
    return readings;
  }
};

Recogniser::Recogniser(const std::string& model_path)
    : state_(std::make_unique<State>(model_path)) {}
Recogniser::~Recogniser() = default;

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
        !std::all_of(block.lines.begin(), block.lines.end(), is_steep))
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
  std::vector<Reading> best = state_->read(gray, page_to_gray, tasks);
  std::vector<LineTask> again;
  std::vector<size_t> of;
  for (size_t i = 0; i < tasks.size(); ++i) {
    if (best[i].confidence >= settings.second_look) continue;
    for (double factor : kOtherSizes) {
      again.push_back({tasks[i].line, tasks[i].place, factor});
      of.push_back(i);
    }
  }
  std::vector<Reading> others = state_->read(gray, page_to_gray, again);
  for (size_t k = 0; k < others.size(); ++k) {
    if (others[k].confidence > best[of[k]].confidence + kWorthIt)
      best[of[k]] = std::move(others[k]);
  }
  for (size_t i = 0; i < tasks.size(); ++i) {
    tasks[i].line->words = std::move(best[i].words);
    tasks[i].line->confidence = best[i].confidence;
  }
}

void Recogniser::settle(const Gray& gray, const PlaneMap& page_to_gray, Page& page) const {
  const Alphabet& alphabet = state_->model.alphabet;
  const std::vector<bool> strangers = strangers_on(page, alphabet);
  std::vector<LineTask> tasks;
  for (Line* line : lines_with(strangers, alphabet, page)) {
    if (line->baseline.size() >= 2 && line->x_height > 1)
      tasks.push_back({line, place_of(*line, page_to_gray), 1});
  }
  std::vector<Reading> again = state_->read(gray, page_to_gray, tasks, &strangers);
  for (size_t i = 0; i < tasks.size(); ++i) {
    // A line that was read better at another size keeps that reading.
    if (again[i].confidence < tasks[i].line->confidence - kMostLost) continue;
    tasks[i].line->words = std::move(again[i].words);
    tasks[i].line->confidence = again[i].confidence;
  }
  settle_primes(page);
}

bool set_blank_aside(Page& page) {
  int characters = 0, letters = 0;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        for (const Glyph& glyph : word.glyphs) {
          ++characters;
          letters += is_letter(glyph.character) || is_digit(glyph.character);
        }
      }
    }
  }
  const bool unsure = characters < kFewestOnPage && page.mean_confidence() < kSureOfPage;
  const bool dots =
      characters > 0 && characters < kMostDots && letters < kLettersAmongDots * characters;
  if (!unsure && !dots) return false;
  for (Block& block : page.blocks) {
    if (!block.lines.empty()) block.kind = BlockKind::kNoise;
  }
  return true;
}

void set_noise_aside(Page& page) {
  const double usual = page.mean_confidence();
  if (usual < kReadablePage) return;
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable || block.lines.empty()) continue;
    double sum = 0, count = 0;
    bool only_dots = true;  // what is left of a dotted rule
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        for (const Glyph& glyph : word.glyphs) {
          sum += glyph.confidence;
          count += 1;
          only_dots = only_dots && glyph.character == U'.';
        }
      }
    }
    const double least =
        count <= kFewCharacters ? std::max(kSureFew, usual - kMostBelowPage) : kSureMany;
    const bool dots = only_dots && count >= kFewestLeaderDots;
    if (count == 0 || dots || sum / count < least) block.kind = BlockKind::kNoise;
  }
}

}  // namespace burnisher::recognise
