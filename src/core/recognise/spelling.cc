#include "recognise/spelling.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr float kNever = -1e9f;
// Ways of writing that no language has, in natural logarithms before the weight: a capital after
// a small letter within a word, a small letter after two capitals.
constexpr float kSuddenCapital = -4, kSuddenSmall = -3;

float log_sum(float a, float b) {
  const float high = std::max(a, b), low = std::min(a, b);
  return low < high - 15 ? high : high + std::log1p(std::exp(low - high));
}

// What the spelling so far means for the next character.
struct Writing {
  LanguageModel::Context context = 0;
  uint8_t capitals = 0;  // in a row, up to two
  bool small = false;    // the last one is a small letter
  bool figures = false;  // there was a figure in this word
  char32_t sign = 0;     // the last one, when it is neither a letter nor a space
};

// A text that was spelled so far; texts share their beginnings.
struct Prefix {
  int before = -1;  // place of the text without its last class
  int klass = 0;
  Writing writing;
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
  Search(const Evidence& evidence, const Alphabet& alphabet, const LanguageModel& language,
         const SpellingSettings& settings, const std::vector<bool>& barred)
      : evidence_(evidence),
        alphabet_(alphabet),
        language_(language),
        settings_(settings),
        barred_(barred) {
    Prefix none;
    none.writing.context = language.start();
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
    const Seen *first = evidence_.begin(f), *last = evidence_.end(f);
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
      for (const Seen* s = first; s != last; ++s) {
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
    if (next_.size() > settings_.beams) {
      std::nth_element(next_.begin(), next_.begin() + static_cast<long>(settings_.beams),
                       next_.end(),
                       [](const Beam& a, const Beam& b) { return a.total() > b.total(); });
      next_.resize(settings_.beams);
    }
    beams_.swap(next_);
  }

  // The text with one more class; `said`: what the language has to say to it, weighed.
  int extended(int prefix, int klass, float log_probability, float& said) {
    const Writing before = prefixes_[static_cast<size_t>(prefix)].writing;
    Writing writing;
    const float opinion = opinion_of(before, alphabet_.character(klass), writing);
    const auto doubt = static_cast<float>(
        std::min(1.0, settings_.certain_weight +
                          (1 - settings_.certain_weight) * std::min(1.f, -2 * log_probability)));
    said = static_cast<float>(settings_.weight) * doubt * opinion;
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

  float opinion_of(const Writing& before, char32_t c, Writing& after) const {
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
    after.sign = is_letter(c) || c == U' ' ? 0 : c;
    // Leaders and rows of stars are no matter of spelling, nor are signs the language never met.
    if (after.sign != 0 && (symbol < 0 || after.sign == before.sign)) return 0;
    float opinion =
        std::max(settings_.least, language_.step(before.context, symbol, after.context)) +
        static_cast<float>(settings_.bonus);
    // Whether a sentence ends or goes on, the model can't tell without case.
    if (after.sign != 0) opinion *= static_cast<float>(settings_.sign_weight);
    if (is_upper(c)) {
      if (before.small) opinion += kSuddenCapital;
      after.capitals = static_cast<uint8_t>(std::min(2, before.capitals + 1));
      after.small = false;
    } else if (is_letter(c)) {
      if (before.capitals == 2) opinion += kSuddenSmall;
      after.capitals = 0;
      after.small = true;
    } else {
      after.capitals = 0;
      after.small = false;
    }
    return opinion;
  }

  const Evidence& evidence_;
  const Alphabet& alphabet_;
  const LanguageModel& language_;
  const SpellingSettings& settings_;
  const std::vector<bool>& barred_;
  std::vector<Prefix> prefixes_;
  std::vector<Beam> beams_, next_;
};

// The likeliest frames at which the classes are spelled (Viterbi over the text with blanks
// between).
std::vector<ReadCharacter> aligned(const std::vector<int>& classes, const Evidence& evidence,
                                   const Alphabet& alphabet) {
  const int states = 2 * static_cast<int>(classes.size()) + 1, frames = evidence.frames();
  if (classes.empty() || frames == 0) return {};
  const auto klass_of = [&](int state) {
    return state % 2 == 0 ? 0 : classes[static_cast<size_t>(state / 2)];
  };
  std::vector<float> score(static_cast<size_t>(states), kNever), next(score);
  std::vector<uint8_t> steps(static_cast<size_t>(states) * static_cast<size_t>(frames), 0);
  score[0] = evidence.of(0, 0);
  score[1] = evidence.of(0, klass_of(1));
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
      next[static_cast<size_t>(s)] = best + evidence.of(f, klass_of(s));
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
      const double probability = std::exp(evidence.of(f, klass_of(state)));
      if (c.confidence == 0) c.last_frame = f;
      if (probability > c.confidence) {
        c.confidence = probability;
        c.peak_frame = f;
      }
      c.first_frame = f;
    }
    state -=
        steps[static_cast<size_t>(f) * static_cast<size_t>(states) + static_cast<size_t>(state)];
  }
  return read;
}

}  // namespace

std::vector<ReadCharacter> spelled(const Evidence& evidence, const Alphabet& alphabet,
                                   const LanguageModel& language, const SpellingSettings& settings,
                                   const std::vector<bool>& barred) {
  return aligned(Search(evidence, alphabet, language, settings, barred).text(), evidence, alphabet);
}

}  // namespace burnisher::recognise
