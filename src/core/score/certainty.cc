#include "score/certainty.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <sstream>

#include "base/unicode.h"

namespace burnisher::score {

double Certainty::error() const {
  double sum = 0;
  for (const Step& s : steps) sum += std::fabs(s.confidence - s.right);
  return words() > 0 ? sum / words() : 0;
}

int Certainty::words() const {
  int count = 0;
  for (const Step& s : steps) count += s.words;
  return count;
}

void Certainty::add(const Certainty& more) {
  for (size_t i = 0; i < steps.size(); ++i) {
    steps[i].words += more.steps[i].words;
    steps[i].right += more.steps[i].right;
    steps[i].confidence += more.steps[i].confidence;
  }
}

Certainty certainty_of(const std::vector<std::pair<std::string, double>>& read,
                       const std::string& truth) {
  std::istringstream stream(to_nfc(truth));
  std::vector<std::string> there;
  for (std::string word; stream >> word;) there.push_back(word);
  const size_t n = read.size(), m = there.size();
  enum Move : uint8_t { kPair, kExtra, kMissing };
  std::vector<Move> moves((n + 1) * (m + 1), kPair);
  std::vector<int> row(m + 1);
  for (size_t j = 0; j <= m; ++j) {
    row[j] = static_cast<int>(j);
    moves[j] = kMissing;
  }
  std::vector<std::string> words;
  for (const auto& word : read) words.push_back(to_nfc(word.first));
  for (size_t i = 1; i <= n; ++i) {
    int diagonal = row[0];
    row[0] = static_cast<int>(i);
    moves[i * (m + 1)] = kExtra;
    for (size_t j = 1; j <= m; ++j) {
      const int paired = diagonal + (words[i - 1] == there[j - 1] ? 0 : 1);
      const int extra = row[j] + 1, missing = row[j - 1] + 1;
      diagonal = row[j];
      row[j] = std::min({paired, extra, missing});
      moves[i * (m + 1) + j] = row[j] == paired ? kPair : row[j] == extra ? kExtra : kMissing;
    }
  }
  Certainty certainty;
  for (size_t i = n, j = m; i > 0;) {
    const Move move = moves[i * (m + 1) + j];
    if (move == kMissing) {
      --j;
      continue;
    }
    const double confidence = std::clamp(read[i - 1].second, 0.0, 1.0);
    Certainty::Step& step =
        certainty.steps[std::min<size_t>(9, static_cast<size_t>(confidence * 10))];
    ++step.words;
    step.confidence += confidence;
    step.right += move == kPair && words[i - 1] == there[j - 1];
    --i;
    if (move == kPair) --j;
  }
  return certainty;
}

}  // namespace burnisher::score
