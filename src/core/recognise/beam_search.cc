#include "recognise/beam_search.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/log_sum.h"
#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr float kNever = -1e9f;          // ln of a probability that is none
constexpr double kClear = 0.995;         // confidence from which on alternatives need no weighing
constexpr size_t kLookAhead = 6;         // characters that follow, and tell alternatives apart
constexpr double kSpot = 0.5;            // confidence of what may be a spot
constexpr size_t kFewestBesideSpot = 8;  // small letters; then a capital among them is sudden
// Ways of writing that no language has, in natural logarithms before the weight: a capital after
// a small letter within a word, a small letter after two capitals.
constexpr float kSuddenCapital = -4, kSuddenSmall = -3;

// What the spelling so far means for the next character.
struct PrefixState {
  LanguageModel::Context context = 0;
  uint8_t capitals = 0;  // in a row, up to two
  bool small = false;    // the last one is a small letter
  bool figures = false;  // there was a figure in this word
  char32_t sign = 0;     // the last one, when it is neither a letter nor a space
};

// What a language says to texts, character by character.
class LanguageScores {
 public:
  LanguageScores(const LanguageModel& language, const BeamSearchSettings& settings)
      : language_(language), settings_(settings) {}

  PrefixState start() const {
    PrefixState writing;
    writing.context = language_.start();
    return writing;
  }

  // The score of `c`, weighed: it counts the less the surer the network is of the character.
  float weighed(const PrefixState& before, char32_t c, float log_probability,
                PrefixState& after) const {
    const double share = settings_.certain_weight +
                         (1 - settings_.certain_weight) * std::min(1.f, -2 * log_probability);
    return static_cast<float>(settings_.weight * std::min(1.0, share)) * of(before, c, after);
  }

 private:
  float of(const PrefixState& before, char32_t c, PrefixState& after) const {
    after = before;
    if (is_digit(c) || (before.figures && c != U' ')) {
      after.figures = true;
      after.context = 0;
      return 0;
    }
    if (c == U' ' && before.figures) {
      after = {language_.start(), 0, false, false, 0};
      return 0;
    }
    const int symbol = language_.symbol_of(c);
    const bool spelled = is_letter(c) || is_mark(c);
    after.sign = spelled || c == U' ' ? 0 : c;
    // Leaders and rows of stars are no matter of spelling, nor are signs the language never met.
    if (after.sign != 0 && (symbol < 0 || after.sign == before.sign)) return 0;
    float score = std::max(settings_.least, language_.step(before.context, symbol, after.context)) +
                  static_cast<float>(settings_.bonus);
    // Whether a sentence ends or goes on, the model can't tell without case.
    if (after.sign != 0) score *= static_cast<float>(settings_.sign_weight);
    if (is_upper(c)) {
      if (before.small) score += kSuddenCapital;
      after.capitals = static_cast<uint8_t>(std::min(2, before.capitals + 1));
      after.small = false;
    } else if (spelled) {
      if (before.capitals == 2) score += kSuddenSmall;
      after.capitals = 0;
      after.small = true;
    } else {
      after.capitals = 0;
      after.small = false;
    }
    return score;
  }

  const LanguageModel& language_;
  const BeamSearchSettings& settings_;
};

// A text that was spelled so far; texts share their beginnings.
struct Prefix {
  int before = -1;  // place of the text without its last class
  int klass = 0;
  PrefixState writing;
  std::map<int, int> after;  // class -> place
};

struct Beam {
  int prefix = 0;
  float blank = kNever, ink = kNever;  // ln of the paths that end in a blank, or in the character
  float spelling = 0;                  // what the language says to the text, weighed
  float total() const { return log_sum(blank, ink) + spelling; }
};

class Search {
 public:
  Search(const Posteriors& posteriors, const Alphabet& alphabet, const LanguageModel& language,
         const BeamSearchSettings& settings, const std::vector<bool>& barred)
      : evidence_(posteriors),
        alphabet_(alphabet),
        language_(language, settings),
        most_beams_(settings.beams),
        barred_(barred) {
    Prefix none;
    none.writing = language_.start();
    prefixes_.push_back(none);
    Beam start;
    start.blank = 0;
    beams_.push_back(start);
  }

  // The classes of the likeliest text.
  std::vector<int> text() {
    for (int f = 0; f < evidence_.frames(); ++f) advance(f);
    const auto best =
        std::max_element(beams_.begin(), beams_.end(),
                         [](const Beam& a, const Beam& b) { return a.total() < b.total(); });
    std::vector<int> classes;
    for (int p = best->prefix; p > 0; p = prefixes_[static_cast<size_t>(p)].before)
      classes.push_back(prefixes_[static_cast<size_t>(p)].klass);
    std::reverse(classes.begin(), classes.end());
    return classes;
  }

 private:
  bool allowed(int klass) const { return barred_.empty() || !barred_[static_cast<size_t>(klass)]; }

  Beam& beam_of(int prefix, float spelling) {
    for (Beam& b : next_) {
      if (b.prefix == prefix) return b;
    }
    next_.emplace_back();
    next_.back().prefix = prefix;
    next_.back().spelling = spelling;
    return next_.back();
  }

  void advance(int f) {
    next_.clear();
    const ClassPosterior *first = evidence_.begin(f), *last = evidence_.end(f);
    const float blank = evidence_.of(f, 0);
    for (const Beam& beam : beams_) {
      const float all = log_sum(beam.blank, beam.ink);
      const int klass = prefixes_[static_cast<size_t>(beam.prefix)].klass;
      Beam& same = beam_of(beam.prefix, beam.spelling);
      same.blank = log_sum(same.blank, all + blank);
      if (klass > 0) same.ink = log_sum(same.ink, beam.ink + evidence_.of(f, klass));
    }
    for (const Beam& beam : beams_) {
      const float all = log_sum(beam.blank, beam.ink);
      const int klass = prefixes_[static_cast<size_t>(beam.prefix)].klass;
      for (const ClassPosterior* s = first; s != last; ++s) {
        if (s->klass == 0 || !allowed(s->klass)) continue;
        const float from = s->klass == klass ? beam.blank : all;
        if (from <= kNever / 2) continue;
        float said = 0;
        const int longer = extended(beam.prefix, s->klass, s->log_probability, said);
        Beam& to = beam_of(longer, beam.spelling + said);
        to.spelling = std::max(to.spelling, beam.spelling + said);
        to.ink = log_sum(to.ink, from + s->log_probability);
      }
    }
    if (next_.size() > most_beams_) {
      std::nth_element(next_.begin(), next_.begin() + static_cast<long>(most_beams_), next_.end(),
                       [](const Beam& a, const Beam& b) { return a.total() > b.total(); });
      next_.resize(most_beams_);
    }
    beams_.swap(next_);
  }

  // The text with one more class; `said`: what the language has to say to it, weighed.
  int extended(int prefix, int klass, float log_probability, float& said) {
    const PrefixState before = prefixes_[static_cast<size_t>(prefix)].writing;
    PrefixState writing;
    said = language_.weighed(before, alphabet_.character(klass), log_probability, writing);
    auto& after = prefixes_[static_cast<size_t>(prefix)].after;
    const auto found = after.find(klass);
    if (found != after.end()) return found->second;
    const int place = static_cast<int>(prefixes_.size());
    after[klass] = place;
    Prefix longer;
    longer.before = prefix;
    longer.klass = klass;
    longer.writing = writing;
    prefixes_.push_back(std::move(longer));
    return place;
  }

  const Posteriors& evidence_;
  const Alphabet& alphabet_;
  const LanguageScores language_;
  const size_t most_beams_;
  const std::vector<bool>& barred_;
  std::vector<Prefix> prefixes_;
  std::vector<Beam> beams_, next_;
};

// The likeliest frames at which the classes are spelled (Viterbi over the text with blanks
// between).
std::vector<ReadCharacter> aligned(const std::vector<int>& classes, const Posteriors& posteriors,
                                   const Alphabet& alphabet) {
  const int states = 2 * static_cast<int>(classes.size()) + 1, frames = posteriors.frames();
  if (classes.empty() || frames == 0) return {};
  const auto klass_of = [&](int state) {
    return state % 2 == 0 ? 0 : classes[static_cast<size_t>(state / 2)];
  };
  std::vector<float> score(static_cast<size_t>(states), kNever), next(score);
  std::vector<uint8_t> steps(static_cast<size_t>(states) * static_cast<size_t>(frames), 0);
  score[0] = posteriors.of(0, 0);
  score[1] = posteriors.of(0, klass_of(1));
  for (int f = 1; f < frames; ++f) {
    // No state is reached sooner than its place allows, none later than lets the rest follow.
    const int lowest = std::max(0, states - 2 * (frames - f)),
              highest = std::min(states - 1, 2 * f + 1);
    std::fill(next.begin(), next.end(), kNever);
    for (int s = lowest; s <= highest; ++s) {
      float best = score[static_cast<size_t>(s)];
      uint8_t step = 0;
      if (s > 0 && score[static_cast<size_t>(s - 1)] > best) {
        best = score[static_cast<size_t>(s - 1)];
        step = 1;
      }
      if (s > 1 && s % 2 == 1 && klass_of(s) != klass_of(s - 2) &&
          score[static_cast<size_t>(s - 2)] > best) {
        best = score[static_cast<size_t>(s - 2)];
        step = 2;
      }
      if (best <= kNever / 2) continue;
      next[static_cast<size_t>(s)] = best + posteriors.of(f, klass_of(s));
      steps[static_cast<size_t>(f) * static_cast<size_t>(states) + static_cast<size_t>(s)] = step;
    }
    score.swap(next);
  }
  int state = states - 1;
  if (score[static_cast<size_t>(states - 2)] > score[static_cast<size_t>(states - 1)]) --state;
  std::vector<ReadCharacter> read(classes.size());
  for (size_t i = 0; i < classes.size(); ++i) read[i].character = alphabet.character(classes[i]);
  for (int f = frames - 1; f >= 0; --f) {
    if (state % 2 == 1) {
      ReadCharacter& c = read[static_cast<size_t>(state / 2)];
      const double probability = std::exp(posteriors.of(f, klass_of(state)));
      if (c.confidence == 0) c.last_frame = f;
      if (probability > c.confidence) {
        c.confidence = c.network_confidence = probability;
        c.peak_frame = f;
      }
      c.first_frame = f;
    }
    state -=
        steps[static_cast<size_t>(f) * static_cast<size_t>(states) + static_cast<size_t>(state)];
  }
  return read;
}

// Sets each doubtful character's confidence to its share among what may stand in its place, or
// nothing, with the rest of the text as it is.
void weigh_alternatives(const Posteriors& posteriors, const Alphabet& alphabet,
                        const LanguageScores& opinions, const std::vector<bool>& barred,
                        std::vector<ReadCharacter>& read) {
  std::vector<float> seen;  // ln of the network's own probabilities
  for (const ReadCharacter& c : read)
    seen.push_back(static_cast<float>(std::log(std::max(c.confidence, 1e-9))));
  const auto rest_after = [&](size_t i, PrefixState writing) {
    float sum = 0;
    for (size_t k = i + 1; k < std::min(read.size(), i + 1 + kLookAhead); ++k) {
      const PrefixState before = writing;
      sum += opinions.weighed(before, read[k].character, seen[k], writing);
    }
    return sum;
  };
  PrefixState before = opinions.start();
  for (size_t i = 0; i < read.size(); ++i) {
    ReadCharacter& c = read[i];
    PrefixState after;
    const float own = opinions.weighed(before, c.character, seen[i], after);
    if (c.confidence < kClear) {
      const float chosen = seen[i] + own + rest_after(i, after);
      float all = chosen;
      for (const ClassPosterior* s = posteriors.begin(c.peak_frame);
           s != posteriors.end(c.peak_frame); ++s) {
        if (s->klass == 0) {
          all = log_sum(all, s->log_probability + rest_after(i, before));
          continue;
        }
        const char32_t other = alphabet.character(s->klass);
        if (other == c.character || (!barred.empty() && barred[s->klass])) continue;
        PrefixState instead;
        const float said = opinions.weighed(before, other, s->log_probability, instead);
        all = log_sum(all, s->log_probability + said + rest_after(i, instead));
      }
      c.confidence = std::exp(chosen - all);
    }
    before = after;
  }
}

// A doubtful character on its own at either end of a line is a spot or a shade of the gutter.
void drop_spots(std::vector<ReadCharacter>& read) {
  if (read.size() < kFewestBesideSpot) return;
  if (read[1].character == U' ' && read[0].confidence < kSpot)
    read.erase(read.begin(), read.begin() + 2);
  const size_t n = read.size();
  if (read[n - 2].character == U' ' && read[n - 1].confidence < kSpot) read.resize(n - 2);
}

}  // namespace

std::vector<ReadCharacter> beam_search(const Posteriors& posteriors, const Alphabet& alphabet,
                                       const LanguageModel& language,
                                       const BeamSearchSettings& settings,
                                       const std::vector<bool>& barred) {
  std::vector<ReadCharacter> read = aligned(
      Search(posteriors, alphabet, language, settings, barred).text(), posteriors, alphabet);
  weigh_alternatives(posteriors, alphabet, LanguageScores(language, settings), barred, read);
  drop_spots(read);
  return read;
}

}  // namespace burnisher::recognise
