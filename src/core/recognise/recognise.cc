#include "recognise/recognise.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <functional>
#include <mutex>

#include "base/error.h"
#include "base/parallel.h"
#include "base/unicode.h"
#include "recognise/character_prior.h"
#include "recognise/foreign_words.h"
#include "recognise/line_scripts.h"
#include "recognise/points.h"
#include "recognise/reader.h"

namespace burnisher::recognise {
namespace {

constexpr double kReadsClearly = 0.9;  // confidence of a line that no other script is tried on
// Added to a likelihood: of a line's reading in the script of most of its page, of a line of so few
// characters that they may be a figure, and what is always enough.
constexpr double kOfPage = 0.1, kFewOfPage = 0.4, kAlways = 1e9;
constexpr size_t kFewCharacters = 5;
// Lines that tell whether a page is in one of a bundle's languages, and their characters.
constexpr size_t kFewestLines = 4, kLongLine = 20;
// Of a page's lines, that the first reader makes no sense of: from there on bundles are tried whose
// scripts it cannot tell, on so many lines at first.
constexpr double kUnclearShare = 0.25;
constexpr size_t kTried = 3;
// Mean confidence of these (a Japanese letter: 0.73; Korean, which the bundle does not know: 0.28
// to 0.35), and what is added to the likelihood of each line.
constexpr double kSureEnough = 0.5, kOfUntold = -0.2;
// Of what is read of them, in the bundle's script; of Hebrew it made Latin letters, figures and a
// few kana.
constexpr double kOwnCharacters = 0.5;
constexpr size_t kGuestWidths = 6;  // prepared batch shapes of the other readers
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
  std::vector<size_t> proposed;  // by the look of each: which reader's script it is in

  size_t size() const { return tasks.size(); }
  // The line at `k` of another share, with the reading that is kept of it.
  void take(Share& from, size_t k, LineReading reading) {
    tasks.push_back(from.tasks[k]);
    readings.push_back(std::move(reading));
    proposed.push_back(from.proposed[k]);
  }
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
    std::atomic<bool> is_loaded{false};
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
    // Loading works in parallel: a thread that waits for it must not take up another line
    // meanwhile, which might want the same reader.
    std::call_once(entry.loaded, [&] {
      isolated([&] {
        entry.reader = std::make_unique<Reader>(entry.bundle, languages, precision,
                                                i == 0 ? Network::kAllWidths : kGuestWidths);
      });
      entry.is_loaded = true;
    });
    return *entry.reader;
  }

  void let_rest(size_t i) {
    if (entries[i]->is_loaded) entries[i]->reader->rest();
  }

  // Whether a bundle reads one of the scripts that are wanted.
  bool wanted(size_t i, const std::vector<std::string>& scripts) const {
    const auto reads = [&](const auto& script) { return entries[i]->bundle.reads(script); };
    return scripts.empty() || std::any_of(scripts.begin(), scripts.end(), reads);
  }

  // Which bundle is to read each line: that of its script, among those wanted.
  std::vector<size_t> readers_of(const std::vector<LineReading>& readings,
                                 const std::vector<std::string>& scripts_wanted) {
    std::vector<size_t> readers(readings.size(), 0);
    const std::vector<std::string>& told = reader(0).tells_scripts();
    std::vector<std::string> known;
    for (const auto& entry : entries) {
      for (const std::string& script : entry->bundle.scripts) {
        if (scripts_wanted.empty() ||
            std::find(scripts_wanted.begin(), scripts_wanted.end(), script) != scripts_wanted.end())
          known.push_back(script);
      }
    }
    const std::vector<std::string> scripts = scripts_of(readings, told, known);
    for (size_t i = 0; i < readings.size(); ++i) {
      for (size_t e = entries.size(); e-- > 0;)
        if (entries[e]->bundle.reads(scripts[i])) readers[i] = e;
    }
    return readers;
  }

  // Reader `r` reads those lines of another's that `fits` picks, and gets the ones that it reads
  // more likely, with `ahead(characters)` added to its own likelihood. `second_look`: see Reader.
  template <class Fits>
  void offer(size_t r, size_t from, const Gray& gray, const std::vector<std::string>& among,
             double second_look, const std::function<double(size_t)>& ahead,
             std::vector<Share>& shares, const Fits& fits) {
    Share stay, offered;
    for (size_t k = 0; k < shares[from].size(); ++k)
      (fits(shares[from], k) ? offered : stay)
          .take(shares[from], k, std::move(shares[from].readings[k]));
    if (offered.size() > 0) {
      std::vector<LineReading> others = reader(r).read(gray, offered.tasks);
      reader(r).look_again(gray, offered.tasks, second_look, others);
      for (size_t k = 0; k < offered.size(); ++k) {
        LineReading& before = offered.readings[k];
        const double more = ahead(std::max(before.characters.size(), others[k].characters.size()));
        const bool better =
            reader(r).likelihood(others[k], among) + more > reader(from).likelihood(before, among);
        (better ? shares[r] : stay).take(offered, k, std::move(better ? others[k] : before));
      }
    }
    shares[from] = std::move(stay);
  }

  // Whether most lines of some length that look like the first reader's script are spelled as in
  // none of its languages.
  bool makes_little_sense(const Share& share, const std::vector<std::string>& among) {
    size_t lines = 0, sense = 0;
    for (size_t k = 0; k < share.size(); ++k) {
      if (share.proposed[k] != 0 || share.readings[k].characters.size() < kLongLine) continue;
      ++lines;
      sense += reader(0).makes_sense(share.readings[k], among);
    }
    return lines >= kFewestLines && 2 * sense < lines;
  }

  // Whether the first reader can tell that a line is in one of a bundle's scripts; one that tells
  // none reads all that nobody claims.
  bool told_apart(size_t r) {
    const std::vector<std::string>& told = reader(0).tells_scripts();
    return told.empty() || std::any_of(told.begin(), told.end(), [&](const std::string& script) {
             return entries[r]->bundle.reads(script);
           });
  }

  // Reader `r`, of scripts that the first does not know of, gets the lines that this makes no sense
  // of, where they are many, where it reads the longest of them with some confidence, and each more
  // likely by enough: what nobody can read is no Chinese.
  void try_untold(size_t r, const Gray& gray, const std::vector<std::string>& among,
                  std::vector<Share>& shares) {
    const Share& first = shares[0];
    std::vector<std::pair<size_t, size_t>> unclear;  // by their length: places in the share
    for (size_t k = 0; k < first.size(); ++k) {
      if (first.readings[k].confidence >= kReadsClearly ||
          reader(0).makes_sense(first.readings[k], among))
        continue;
      unclear.push_back({static_cast<size_t>(first.readings[k].strip.width()), k});
    }
    if (unclear.empty() ||
        static_cast<double>(unclear.size()) < kUnclearShare * static_cast<double>(first.size()))
      return;
    std::stable_sort(unclear.begin(), unclear.end(),
                     [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<LineTask> longest;
    for (size_t i = 0; i < std::min(kTried, unclear.size()); ++i)
      longest.push_back(first.tasks[unclear[i].second]);
    double confidence = 0, own = 0, all = 0;
    for (const LineReading& reading : reader(r).read(gray, longest)) {
      confidence += reading.confidence / static_cast<double>(longest.size());
      for (const ReadCharacter& c : reading.characters) {
        own += entries[r]->bundle.reads(script_of(c.character));
        all += c.character != U' ';
      }
    }
    if (confidence < kSureEnough || own < kOwnCharacters * all) return;
    std::vector<const Line*> lines;
    for (const auto& [width, k] : unclear) lines.push_back(first.tasks[k].line);
    offer(
        r, 0, gray, among, 0, [](size_t) { return kOfUntold; }, shares,
        [&](const Share& share, size_t k) {
          return std::find(lines.begin(), lines.end(), share.tasks[k].line) != lines.end();
        });
  }

  // The reader, other than the first, that reads most letters; 0: none does. `half`: of all that
  // are read with any sense.
  size_t main_guest(const std::vector<Share>& shares, const std::vector<std::string>& among,
                    bool& half) {
    const auto letters = [](const LineReading& reading) { return reading.characters.size(); };
    size_t main = 0, most = 0, all = 0;
    for (const LineReading& reading : shares[0].readings)
      all += reader(0).makes_sense(reading, among) ? letters(reading) : 0;
    for (size_t r = 1; r < shares.size(); ++r) {
      size_t own = 0;
      for (const LineReading& reading : shares[r].readings) own += letters(reading);
      all += own;
      if (own > most) main = r, most = own;
    }
    half = main > 0 && 2 * most >= all;
    return main;
  }

  // The readers, other than the first, of scripts that words of its lines seem to be in, with those
  // lines.
  std::map<size_t, std::vector<size_t>> foreign_lines(const Share& share,
                                                      const std::vector<std::string>& wanted) {
    const std::vector<std::string>& told = reader(0).tells_scripts();
    std::map<size_t, std::vector<size_t>> lines;
    std::vector<size_t> own;
    for (size_t s = 0; s < told.size(); ++s)
      if (entries[0]->bundle.reads(told[s])) own.push_back(s);
    for (size_t k = 0; k < share.size(); ++k) {
      for (const size_t s : foreign_scripts(share.readings[k], told.size(), own)) {
        for (size_t r = 1; r < entries.size(); ++r) {
          if (!entries[r]->bundle.reads(told[s]) || !this->wanted(r, wanted)) continue;
          std::vector<size_t>& of_reader = lines[r];
          if (of_reader.empty() || of_reader.back() != k) of_reader.push_back(k);
          break;
        }
      }
    }
    return lines;
  }

  // Words that another reader reads more likely than the first did, the one of the script that most
  // lines seem to have words in. The lines are written. Where there are some, more are looked for
  // in all lines.
  void take_foreign_words(const Gray& gray, const PlaneMap& page_to_gray,
                          const RecogniseSettings& settings, const Share& share) {
    const auto proposed = foreign_lines(share, settings.scripts);
    const auto most = std::max_element(
        proposed.begin(), proposed.end(),
        [](const auto& a, const auto& b) { return a.second.size() < b.second.size(); });
    if (most == proposed.end()) return;
    const auto& [r, lines] = *most;
    if (!take_words_of(r, lines, gray, page_to_gray, settings, share)) return;
    std::vector<size_t> rest;
    for (size_t k = 0; k < share.size(); ++k)
      if (!std::binary_search(lines.begin(), lines.end(), k)) rest.push_back(k);
    take_words_of(r, rest, gray, page_to_gray, settings, share);
  }

  // Nothing is taken where every word is doubtful.
  bool take_words_of(size_t r, const std::vector<size_t>& lines, const Gray& gray,
                     const PlaneMap& page_to_gray, const RecogniseSettings& settings,
                     const Share& share) {
    const Reader& other = reader(r);
    std::vector<Line> copies;
    for (const size_t k : lines) copies.push_back(*share.tasks[k].line);
    Share theirs;
    for (size_t i = 0; i < lines.size(); ++i) {
      theirs.tasks.push_back(share.tasks[lines[i]]);
      theirs.tasks.back().line = &copies[i];
    }
    theirs.readings = other.read(gray, theirs.tasks);
    finish(other, settings, page_to_gray, theirs);
    const auto value = [&](const Reader& of, const std::vector<Word>& words) {
      std::string text;
      double confidence = 0, letters = 0;
      for (const Word& word : words) {
        text += (text.empty() ? "" : " ") + word.text;
        const auto count = static_cast<double>(word.glyphs.size());
        confidence += word.confidence * count;
        letters += count;
      }
      return of.likelihood(letters > 0 ? confidence / letters : 0, text, settings.languages);
    };
    const auto gain = [&](const std::vector<Word>& own, const std::vector<Word>& others) {
      return value(other, others) - value(reader(0), own);
    };
    bool sure = false;
    std::vector<Line> written;
    for (const size_t k : lines) written.push_back(*share.tasks[k].line);
    for (size_t i = 0; i < lines.size(); ++i)
      sure = take_words(copies[i], gain, written[i]) || sure;
    for (size_t i = 0; i < lines.size() && sure; ++i)
      *share.tasks[lines[i]].line = std::move(written[i]);
    return sure;
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
  const std::vector<StripMargins> margins = strip_margins({lines.begin(), lines.end()});
  std::vector<LineTask> tasks;
  for (size_t i = 0; i < lines.size(); ++i) {
    Line* line = lines[i];
    if (line->baseline.size() >= 2 && line->x_height > 1)
      tasks.push_back({line, place_of(*line, page_to_gray), 1, margins[i]});
  }
  std::vector<Share> shares(state_->entries.size());
  shares[0].tasks = tasks;
  shares[0].readings = state_->reader(0).read(gray, tasks);
  shares[0].proposed = state_->readers_of(shares[0].readings, settings.scripts);
  const std::vector<std::string>& among = settings.languages;
  // A language that another bundle of the same script knows, with letters that the first lacks.
  for (size_t r = 1; r < shares.size(); ++r) {
    if (state_->entries[r]->bundle.scripts == state_->entries[0]->bundle.scripts &&
        state_->makes_little_sense(shares[0], among))
      state_->offer(
          r, 0, gray, among, 0, [](size_t) { return 0; }, shares,
          [&](const Share& share, size_t k) { return share.proposed[k] == 0; });
  }
  // What makes sense as the first reader reads it needs no other.
  const bool first_wanted = state_->wanted(0, settings.scripts);
  for (size_t r = 1; r < shares.size(); ++r) {
    state_->offer(
        r, 0, gray, among, 0, [&](size_t) { return first_wanted ? 0 : kAlways; }, shares,
        [&](const Share& share, size_t k) {
          return share.proposed[k] == r &&
                 !(first_wanted && state_->reader(0).makes_sense(share.readings[k], among));
        });
  }
  for (size_t r = 1; r < shares.size(); ++r) {
    if (!state_->told_apart(r) && state_->wanted(r, settings.scripts) && first_wanted)
      state_->try_untold(r, gray, among, shares);
  }
  // Other lines may be of the script that most are of: all of them where half of the page is in
  // it, else those that nobody reads clearly.
  bool half = false;
  const size_t main = state_->main_guest(shares, among, half);
  for (size_t r = 0; main > 0 && r < shares.size(); ++r) {
    if (r == main) continue;
    const auto ahead = [&](size_t characters) {
      return !half ? 0 : characters < kFewCharacters ? kFewOfPage : kOfPage;
    };
    state_->offer(main, r, gray, among, half ? settings.second_look : 0, ahead, shares,
                  [&](const Share& share, size_t k) {
                    return half || share.readings[k].confidence < kReadsClearly;
                  });
  }
  for (size_t r = 0; r < shares.size(); ++r) {
    Share& share = shares[r];
    if (share.tasks.empty()) continue;
    const Reader& reader = state_->reader(r);
    reader.look_again(gray, share.tasks, settings.second_look, share.readings);
    state_->finish(reader, settings, page_to_gray, share);
  }
  if (shares.size() > 1 && !state_->reader(0).tells_scripts().empty())
    state_->take_foreign_words(gray, page_to_gray, settings, shares[0]);
  // Readers that had nothing to read here may not be wanted again for long.
  for (size_t r = 1; r < shares.size(); ++r)
    if (shares[r].tasks.empty()) state_->let_rest(r);
}

void Recogniser::settle(const Gray& gray, const PlaneMap& page_to_gray,
                        const RecogniseSettings& settings, Page& page) const {
  const Reader& reader = state_->reader(0);
  const std::vector<bool> implausible = implausible_characters(page, reader.alphabet());
  std::vector<const Line*> all;
  for (const Block& block : page.blocks)
    for (const Line& line : block.lines) all.push_back(&line);
  const std::vector<StripMargins> margins = strip_margins(all);
  std::vector<LineTask> tasks;
  std::vector<std::string> tags;
  for (Line* line : lines_with(implausible, reader.alphabet(), page)) {
    if (line->baseline.size() < 2 || line->x_height <= 1) continue;
    if (line->script != reader.bundle().scripts.front()) continue;
    const auto at = std::find(all.begin(), all.end(), line) - all.begin();
    tasks.push_back({line, place_of(*line, page_to_gray), 1, margins[static_cast<size_t>(at)]});
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
  settle_apostrophes(page);
  if (settings.modern_s) modernise_s(page);
  if (!settings.points) drop_points(page);
}

}  // namespace burnisher::recognise
