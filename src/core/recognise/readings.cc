#include "recognise/readings.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "base/log_sum.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr size_t kBeams = 24;         // prefixes kept
constexpr float kNever = -1e9f;       // ln of a probability that is none
constexpr double kLeastShare = 1e-5;  // of all that was found
constexpr float kUnlikely = -5.5f;    // ln of a class's probability from which on it is looked at

// ln of the paths that end in a blank, or in the last character.
struct Ends {
  float blank = kNever, ink = kNever;
  float total() const { return log_sum(blank, ink); }
};

using Classes = std::u16string;  // a text, by classes
using Beams = std::map<Classes, Ends>;

void add(float& to, float log_probability) {
  to = log_sum(to, log_probability);
}

Beams step(const Beams& beams, const Posteriors& posteriors, int frame) {
  Beams next;
  for (const auto& [text, ends] : beams) {
    const float total = ends.total();
    for (const ClassPosterior* s = posteriors.begin(frame); s != posteriors.end(frame); ++s) {
      if (s->log_probability < kUnlikely && s != posteriors.begin(frame)) break;
      if (s->klass == 0) {
        add(next[text].blank, total + s->log_probability);
        continue;
      }
      Classes longer = text;
      longer += static_cast<char16_t>(s->klass);
      if (!text.empty() && text.back() == static_cast<char16_t>(s->klass)) {
        add(next[text].ink, ends.ink + s->log_probability);
        add(next[longer].ink, ends.blank + s->log_probability);
      } else {
        add(next[longer].ink, total + s->log_probability);
      }
    }
  }
  return next;
}

void keep_best(Beams& beams) {
  if (beams.size() <= kBeams) return;
  std::vector<float> totals;
  for (const auto& [text, ends] : beams) totals.push_back(ends.total());
  std::nth_element(totals.begin(), totals.begin() + kBeams, totals.end(), std::greater<>());
  const float least = totals[kBeams];
  for (auto it = beams.begin(); it != beams.end();)
    it = it->second.total() <= least ? beams.erase(it) : std::next(it);
}

}  // namespace

std::vector<OtherReading> readings_of(const Posteriors& posteriors, const Alphabet& alphabet,
                                      int first, int last, size_t most) {
  Beams beams = {{Classes(), {0, kNever}}};
  for (int f = std::max(0, first); f < std::min(last, posteriors.frames()); ++f) {
    beams = step(beams, posteriors, f);
    keep_best(beams);
  }
  std::map<std::string, double> found;
  double all = 0;
  for (const auto& [classes, ends] : beams) {
    std::vector<char32_t> text;
    for (const char16_t klass : classes) text.push_back(alphabet.character(klass));
    while (!text.empty() && text.back() == U' ') text.pop_back();
    while (!text.empty() && text.front() == U' ') text.erase(text.begin());
    const double probability = std::exp(ends.total());
    found[to_nfc(encode_utf8(text))] += probability;
    all += probability;
  }
  std::vector<OtherReading> readings;
  for (const auto& [text, probability] : found) {
    if (!text.empty() && probability > kLeastShare * all)
      readings.push_back({text, probability / std::max(all, 1e-30)});
  }
  std::stable_sort(readings.begin(), readings.end(),
                   [](const OtherReading& a, const OtherReading& b) { return a.share > b.share; });
  if (readings.size() > most) readings.resize(most);
  return readings;
}

}  // namespace burnisher::recognise
