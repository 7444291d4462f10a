#include "recognise/decode.h"

#include <cmath>

namespace burnisher::recognise {
namespace {

void read_without(const std::vector<bool>& barred, const Posteriors& posteriors,
                  const Alphabet& alphabet, ReadCharacter& c) {
  int best = 0;
  float most = 0;
  for (int f = c.first_frame; f <= c.last_frame; ++f) {
    for (const ClassPosterior* s = posteriors.begin(f); s != posteriors.end(f); ++s) {
      if (s->klass == 0 || barred[s->klass] || alphabet.character(s->klass) == U' ') continue;
      if (best != 0 && s->log_probability <= most) continue;
      best = s->klass;
      most = s->log_probability;
      c.peak_frame = f;
    }
  }
  if (best == 0) return;
  c.character = alphabet.character(best);
  c.confidence = c.network_confidence = std::exp(most);
}

}  // namespace

std::vector<ReadCharacter> best_path(const Posteriors& posteriors, const Alphabet& alphabet,
                                     const std::vector<bool>& barred) {
  std::vector<ReadCharacter> read;
  int before = 0;
  for (int f = 0; f < posteriors.frames(); ++f) {
    const int best = posteriors.begin(f)->klass;
    const double probability = std::exp(posteriors.begin(f)->log_probability);
    if (best != 0 && best == before) {
      ReadCharacter& last = read.back();
      last.last_frame = f;
      if (probability > last.confidence) {
        last.confidence = last.network_confidence = probability;
        last.peak_frame = f;
      }
    } else if (best != 0) {
      read.push_back({alphabet.character(best), probability, f, f, f, probability});
    }
    before = best;
  }
  if (barred.empty()) return read;
  for (ReadCharacter& c : read) {
    if (barred[static_cast<size_t>(alphabet.class_of(c.character))])
      read_without(barred, posteriors, alphabet, c);
  }
  return read;
}

std::vector<ReadCharacter> spelled_out(const std::vector<ReadCharacter>& characters,
                                       const std::map<char32_t, std::vector<char32_t>>& symbols) {
  if (symbols.empty()) return characters;
  std::vector<ReadCharacter> all;
  for (const ReadCharacter& c : characters) {
    const auto found = symbols.find(c.character);
    if (found == symbols.end()) {
      all.push_back(c);
      continue;
    }
    const auto count = static_cast<int>(found->second.size());
    const int frames = c.last_frame + 1 - c.first_frame;
    for (int k = 0; k < count; ++k) {
      ReadCharacter part = c;
      part.character = found->second[static_cast<size_t>(k)];
      part.first_frame = c.first_frame + frames * k / count;
      part.last_frame = std::max(part.first_frame, c.first_frame + frames * (k + 1) / count - 1);
      part.peak_frame = (part.first_frame + part.last_frame) / 2;
      all.push_back(part);
    }
  }
  return all;
}

double mean_confidence(const std::vector<ReadCharacter>& characters) {
  if (characters.empty()) return 0;
  double sum = 0;
  for (const ReadCharacter& c : characters) sum += c.confidence;
  return sum / static_cast<double>(characters.size());
}

}  // namespace burnisher::recognise
