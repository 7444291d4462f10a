#include "recognise/reader.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "raster/turn.h"
#include "recognise/arabic_letters.h"
#include "recognise/ideograph_language.h"
#include "recognise/joined_lines.h"
#include "recognise/logical_words.h"
#include "recognise/look_alikes.h"
#include "recognise/readings.h"
#include "recognise/small_capitals.h"
#include "recognise/square_lines.h"
#include "recognise/words.h"

namespace burnisher::recognise {
namespace {

constexpr double kBendStep = 3;  // x-heights between points of a baseline on a bent scan
constexpr double kShort = 9;     // x-heights: lines of a word or two
constexpr double kOtherSizes[] = {0.84, 1.2};
// Longer strips are read in pieces that overlap by more than the network sees to either side
// (54 frames with the shipped model's dilations), so that the seams don't show. Pixels, multiples
// of a frame's width.
constexpr int kPiece = 4096, kPieceOverlap = 512;
constexpr double kCertain = 0.97;     // of a character: no language needs to be asked
constexpr size_t kMostReadings = 12;  // of a word; the rest is below a thousandth
// What a unit of spelling (ln of a letter's probability: about -2.7 in the right language, -4.8 in
// a wrong one) counts beside confidence, and what is taken where there is none.
constexpr double kOfSpelling = 0.12, kUnspelled = -3.5;
// Spelling of text that makes sense; confidence from which on two or three letters do.
constexpr double kMakesSense = -3.7, kClear = 0.85;
constexpr double kWorthIt = 0.02;  // gain in confidence that another size must bring

std::string spelled_out(const std::string& text, const Symbols& symbols) {
  if (symbols.empty()) return text;
  std::vector<char32_t> all;
  for (const char32_t c : decode_utf8(text)) {
    const auto found = symbols.find(c);
    if (found == symbols.end())
      all.push_back(c);
    else
      all.insert(all.end(), found->second.begin(), found->second.end());
  }
  return encode_utf8(all);
}

}  // namespace

bool LineReading::doubtful() const {
  return std::any_of(characters.begin(), characters.end(),
                     [](const ReadCharacter& c) { return c.confidence < kCertain; });
}

std::string LineReading::text(const std::string& script) const {
  std::vector<char32_t> printed;
  for (const ReadCharacter& c : characters) printed.push_back(c.character);
  return encode_utf8(logical_order(printed, runs_right_to_left(printed, script)));
}

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
  place.x_height = line.x_height * page_to_gray.scale((points.front() + points.back()) * 0.5);
  return place;
}

Reader::Reader(const Bundle& bundle, const Languages& languages, Precision precision,
               size_t most_prepared)
    : bundle_(bundle),
      model_(read_model(bundle.network)),
      network_(model_, precision, most_prepared),
      languages_(languages),
      tells_scripts_(model_.scripts()),
      symbols_(model_.symbols()) {}

std::vector<std::string> Reader::own_languages(const std::vector<std::string>& among) const {
  std::vector<std::string> own;
  for (const auto& [tag, file] : bundle_.spelling) {
    if (among.empty() || std::find(among.begin(), among.end(), tag) != among.end())
      own.push_back(tag);
  }
  return own;
}

double Reader::likelihood(const LineReading& reading, const std::vector<std::string>& among) const {
  return likelihood(reading.confidence, reading.text(bundle_.scripts.front()), among);
}

double Reader::likelihood(double confidence, const std::string& text,
                          const std::vector<std::string>& among) const {
  const auto spelled = languages_.spelled(text, own_languages(among));
  return confidence + kOfSpelling * spelled.value_or(kUnspelled);
}

bool Reader::makes_sense(const LineReading& reading, const std::vector<std::string>& among) const {
  const auto spelled =
      languages_.spelled(reading.text(bundle_.scripts.front()), own_languages(among));
  return spelled ? *spelled > kMakesSense : reading.confidence > kClear;
}

std::vector<std::string> Reader::languages_of(const std::vector<LineReading>& readings,
                                              const std::vector<std::string>& among) const {
  std::vector<std::string> texts;
  const std::vector<std::string> own = own_languages(among);
  for (const LineReading& reading : readings)
    texts.push_back(reading.text(bundle_.scripts.front()));
  if (bundle_.reads("Hani"))  // of a page as a whole: short lines have few characters that tell
    return std::vector<std::string>(readings.size(), language_of_ideographs(texts));
  if (own.empty()) return std::vector<std::string>(readings.size());
  return languages_.guess(texts, own);
}

std::vector<LineReading> Reader::read(const Gray& gray, const std::vector<LineTask>& tasks) const {
  const bool squares = bundle_.reads("Hani") || bundle_.reads("Hang");
  if (!squares && !bundle_.reads("Arab")) return read_placed(gray, tasks);
  std::vector<LinePlace> places;
  for (const LineTask& task : tasks) places.push_back(task.place);
  if (squares) {
    places = placed_in_squares(gray, places);
    std::vector<LineTask> placed = tasks;
    for (size_t i = 0; i < tasks.size(); ++i) placed[i].place = places[i];
    return read_placed(gray, placed);
  }
  places = placed_on_joining_stroke(gray, places);
  std::vector<LineTask> joined = tasks, found;
  std::vector<size_t> of;
  for (size_t i = 0; i < tasks.size(); ++i) {
    joined[i].place = places[i];
    // Single words and figures need not have such a stroke.
    const Point run = tasks[i].place.baseline.back() - tasks[i].place.baseline.front();
    if (std::hypot(run.x, run.y) > kShort * places[i].x_height) continue;
    found.push_back(tasks[i]);
    found.back().place.x_height = places[i].x_height;
    of.push_back(i);
  }
  std::vector<LineReading> readings = read_placed(gray, joined);
  std::vector<LineReading> others = read_placed(gray, found);
  for (size_t k = 0; k < others.size(); ++k) {
    if (others[k].confidence > readings[of[k]].confidence) readings[of[k]] = std::move(others[k]);
  }
  return readings;
}

std::vector<LineReading> Reader::read_placed(const Gray& gray,
                                             const std::vector<LineTask>& tasks) const {
  std::vector<LineReading> readings(tasks.size());
  const bool from_right = script_runs_right_to_left(bundle_.scripts.front());
  const bool squares = bundle_.reads("Hani") || bundle_.reads("Hang");
  parallel_each(static_cast<int>(tasks.size()), [&](int i) {
    const LineTask& task = tasks[static_cast<size_t>(i)];
    LineReading& reading = readings[static_cast<size_t>(i)];
    LinePlace place = task.place;
    place.x_height *= task.factor;
    // Room for a stop at the line's end; at its beginning it would be room for specks.
    const double before = from_right ? task.margins.left : kStripMargin,
                 after = from_right ? kStripMargin : task.margins.right;
    reading.map.emplace(place, model_.frame, before / task.factor, after / task.factor);
    reading.strip = extract_strip(gray, *reading.map, model_.frame);
    reading.leaders = leaders_in(reading.strip, model_.frame);
    Gray plain;
    if (!reading.leaders.empty()) {
      plain = reading.strip.clone();
      take_out(reading.leaders, plain);
    }
    // What the network says in full is large: of one line at a time.
    FrameScores scores = scores_of(plain.empty() ? reading.strip : plain);
    reading.posteriors = Posteriors(scores);
    reading.script_log_probability = std::move(scores.script_log_probability);
    reading.script_frames = std::move(scores.script_frames);
    reading.characters = spelled_out(best_path(reading.posteriors, model_.alphabet), symbols_);
    if (squares) reading.characters = as_squares(std::move(reading.characters), model_.frame);
    reading.confidence = mean_confidence(reading.characters);
  });
  return readings;
}

void Reader::look_again(const Gray& gray, const std::vector<LineTask>& tasks, double second_look,
                        std::vector<LineReading>& readings) const {
  std::vector<LineTask> again;
  std::vector<size_t> of;
  for (size_t i = 0; i < tasks.size(); ++i) {
    if (readings[i].confidence >= second_look) continue;
    for (const double factor : kOtherSizes) {
      again.push_back({tasks[i].line, tasks[i].place, factor, tasks[i].margins});
      of.push_back(i);
    }
  }
  std::vector<LineReading> others = read(gray, again);
  for (size_t k = 0; k < others.size(); ++k) {
    if (others[k].confidence > readings[of[k]].confidence + kWorthIt)
      readings[of[k]] = std::move(others[k]);
  }
}

// A strip of any length, whole or in pieces.
FrameScores Reader::scores_of(const Gray& strip) const {
  const int width = strip.width();
  if (width <= kPiece) return std::move(network_.read({&strip}).front());
  FrameScores all;
  for (int from = 0, to = 0; to < width; from += kPiece - kPieceOverlap) {
    to = std::min(width, from + kPiece);
    const Gray piece = cut_out(strip, from, 0, to, strip.height());
    const FrameScores scores = std::move(network_.read({&piece}).front());
    // The seam is in the middle of the overlap.
    const int skipped = from == 0 ? 0 : kPieceOverlap / kFrameWidth / 2;
    const int first = from / kFrameWidth + skipped;
    all.classes = scores.classes;
    all.frames = first - skipped + scores.frames;
    all.log_probability.resize(static_cast<size_t>(first) * static_cast<size_t>(all.classes));
    // Frames of the overlap count twice: that does not change which script is likeliest.
    auto& sums = all.script_log_probability;
    sums.resize(std::max(sums.size(), scores.script_log_probability.size()));
    for (size_t k = 0; k < scores.script_log_probability.size(); ++k)
      sums[k] += scores.script_log_probability[k];
    const size_t told = sums.size();
    all.script_frames.resize(static_cast<size_t>(first) * told);
    if (told > 0)
      all.script_frames.insert(all.script_frames.end(),
                               scores.script_frames.begin() + static_cast<long>(told) * skipped,
                               scores.script_frames.end());
    all.log_probability.insert(all.log_probability.end(), scores.frame(skipped),
                               scores.frame(scores.frames));
  }
  return all;
}

void Reader::spell(const std::vector<std::string>& tags, const BeamSearchSettings& settings,
                   const std::vector<bool>& barred, std::vector<LineReading>& readings) const {
  parallel_each(static_cast<int>(readings.size()), [&](int i) {
    LineReading& reading = readings[static_cast<size_t>(i)];
    const auto language = languages_.model(tags[static_cast<size_t>(i)]);
    if (!barred.empty()) {
      reading.characters =
          spelled_out(best_path(reading.posteriors, model_.alphabet, barred), symbols_);
      reading.confidence = mean_confidence(reading.characters);
    }
    if (language && reading.doubtful())
      reading.characters = spelled_out(
          beam_search(reading.posteriors, model_.alphabet, *language, settings, barred), symbols_);
  });
}

// Doubtful words are given what else they may be.
void Reader::add_readings(const std::vector<ReadCharacter>& characters,
                          const Posteriors& posteriors, Line& line) const {
  size_t at = 0;  // in the characters
  for (Word& word : line.words) {
    while (characters[at].character == U' ') ++at;
    const size_t end = at + word.glyphs.size();
    if (word.network_confidence < kCertain) {
      const int first = at > 0 ? characters[at - 1].peak_frame + 1 : 0;
      const int last = end < characters.size() ? characters[end].peak_frame : posteriors.frames();
      word.readings = readings_of(posteriors, model_.alphabet, first, last, kMostReadings);
      for (OtherReading& other : word.readings) other.text = spelled_out(other.text, symbols_);
    }
    at = end;
  }
}

void Reader::write(const LineReading& reading, const PlaneMap& page_to_gray, Line& line) const {
  line.words.clear();
  line.script = bundle_.scripts.front();
  line.confidence = reading.confidence;
  if (reading.strip.empty()) return;
  std::vector<ReadCharacter> characters = with_leaders(reading.characters, reading.leaders);
  settle_small_capitals(reading.strip, model_.frame, characters);
  line.words = words_of(characters, reading.strip, *reading.map, model_.frame, page_to_gray);
  add_readings(characters, reading.posteriors, line);
  settle_look_alikes(line);
  put_in_logical_order(line);
  if (line.script == "Arab") settle_arabic_letters(line);
}

}  // namespace burnisher::recognise
