#include "correct/word_analysis.h"

#include <algorithm>
#include <cmath>
#include <sstream>

#include "base/unicode.h"

namespace burnisher::correct {
namespace {

constexpr double kLeastShare = 0.001;  // of what was seen: keeps logarithms finite

double logit(double p) {
  const double q = std::clamp(p, 0.002, 0.998);
  return std::log(q / (1 - q));
}

std::vector<std::string> words_in(const std::string& text) {
  std::istringstream stream(text);
  std::vector<std::string> words;
  for (std::string word; stream >> word;) words.push_back(word);
  return words;
}

bool known_core(const std::string& core, const Place& place, const AnalysisContext& context) {
  return context.lexicon.knows(core, place.languages) || context.document.knows(core);
}

// A word of one or two pieces that are known, but not as one: a space was missed.
bool falls_apart(const std::string& core, const Place& place, const AnalysisContext& context) {
  const std::vector<char32_t> text = decode_utf8(core);
  if (text.size() < 5) return false;
  for (size_t i = 2; i + 2 <= text.size(); ++i) {
    const std::string left =
        encode_utf8(std::vector<char32_t>(text.begin(), text.begin() + static_cast<long>(i)));
    const std::string right =
        encode_utf8(std::vector<char32_t>(text.begin() + static_cast<long>(i), text.end()));
    if (known_core(left, place, context) && known_core(right, place, context)) return true;
  }
  return false;
}

// How a rival compares with the word as it stands: 0 where there is none, larger the likelier.
double rivalry(double rival, double own) {
  if (rival <= 0) return 0;
  return std::clamp(7 + std::log(rival / std::max(own, kLeastShare)), 0.0, 12.0) / 7;
}

FeatureVector maps_of(const Place& place, const WordAnalysis& f, double other_signs,
                      const AnalysisContext& context) {
  const Word& word = *place.word;
  const std::vector<char32_t> core = decode_utf8(f.form.core);
  const bool unknown = f.checkable && !f.known, right = f.checkable && f.known;
  const bool capital = !core.empty() && is_upper(core.front());
  const bool all_capitals =
      core.size() > 1 && std::none_of(core.begin(), core.end(),
                                      [](char32_t c) { return is_letter(c) && !is_upper(c); });
  const bool name = capital && !all_capitals && !place.sentence_start;
  const bool figures = std::any_of(core.begin(), core.end(), is_digit);
  const double length = std::min<double>(12, static_cast<double>(core.size())) / 10;
  const double unsure = -logit(word.confidence);
  const auto when = [](bool condition, double value) { return condition ? value : 0.0; };
  return {1,
          unsure,
          word.readings.empty() ? -logit(0.99) : -logit(std::max(f.own_share, kLeastShare)),
          when(unknown, 1),
          when(unknown && name, 1),
          when(f.form.kind == FormKind::kOdd && !f.known, 1),
          when(unknown, std::log1p(context.document.count(f.form.core))),
          when(unknown, rivalry(f.rival_share, f.own_share)),
          when(unknown && core.size() <= 2, 1),
          when(unknown, length),
          when(figures, unsure),
          when(f.form.kind == FormKind::kSigns, 1),
          when(unknown && falls_apart(f.form.core, place, context), 1),
          -logit(place.line_certainty),
          when(right, rivalry(f.rival_share, f.own_share)),
          when(right, unsure),
          when(figures, 1),
          rivalry(other_signs, f.own_share),
          when(right, length)};
}

}  // namespace

bool known(const std::string& text, const Place& place, const AnalysisContext& context) {
  const std::vector<std::string> words = words_in(text);
  if (words.empty()) return false;
  for (const std::string& word : words) {
    const Form form = form_of(word);
    if (form.kind == FormKind::kOdd && !context.lexicon.listed(form.core)) return false;
    if (!is_spelled(form.kind)) continue;
    const bool parted = !place.other_half.empty() && words.size() == 1;
    if (parted) {
      const std::string& first = place.first_half ? form.core : place.other_half;
      const std::string& second = place.first_half ? place.other_half : form.core;
      if (known_core(first + second, place, context) ||
          known_core(first + "-" + second, place, context))
        continue;
    }
    if (!known_core(form.core, place, context)) return false;
  }
  return true;
}

WordAnalysis analysis_of(const Place& place, const AnalysisContext& context) {
  const Word& word = *place.word;
  WordAnalysis f;
  f.form = form_of(word.text);
  const bool dictionary =
      std::any_of(place.languages.begin(), place.languages.end(),
                  [&](const std::string& language) { return context.lexicon.has(language); });
  f.checkable = dictionary && is_spelled(f.form.kind);
  f.known = (is_spelled(f.form.kind) && !dictionary) || known(word.text, place, context);
  const bool clear = word.readings.empty();
  if (!clear) f.own_share = 0;
  double other_signs = 0;  // share of the likeliest reading with the same word, but other signs
  for (const OtherReading& reading : word.readings) {
    if (reading.text == word.text) {
      f.own_share = reading.share;
      continue;
    }
    // Only what the lexicon can tell apart is a rival; figures are not spelled.
    const Form other = form_of(reading.text);
    if (other.core == f.form.core) {
      other_signs = std::max(other_signs, reading.share);
    } else if (dictionary &&
               (is_spelled(other.kind) || reading.text.find(' ') != std::string::npos) &&
               known(reading.text, place, context)) {
      f.rival_share = std::max(f.rival_share, reading.share);
    }
  }
  f.features = maps_of(place, f, other_signs, context);
  return f;
}

}  // namespace burnisher::correct
