#include "find/term.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/error.h"

namespace burnisher::find {
namespace {

// -ln of a change of one letter that nobody ever counted.
constexpr double kOtherChange = 8;
// -ln of all changes together, at most, and how much a letter of the sought word allows: short
// words have too many neighbours.
constexpr double kMostCost = 18, kFirstAllowed = 3, kAllowedByLetter = 2.5;
constexpr double kNever = std::numeric_limits<double>::infinity();

}  // namespace

Channel::Channel(const std::u32string& sought, const std::vector<correct::Confusion>& confusions,
                 const Folding& folding, bool inside)
    : sought_(sought), changes_(sought.size() + 1), inside_(inside) {
  const auto length = static_cast<double>(sought.size());
  most_ = std::min(kMostCost, kFirstAllowed + kAllowedByLetter * length);
  Folder folder(folding);
  for (const correct::Confusion& one : confusions) {
    std::u32string truth, read;
    for (const char32_t c : one.truth) folder.append(c, truth);
    for (const char32_t c : one.read) folder.append(c, read);
    if (truth == read) continue;
    for (size_t at = 0; at + truth.size() <= sought.size(); ++at)
      if (sought.compare(at, truth.size(), truth) == 0 && one.cost <= most_)
        changes_[at].push_back({truth.size(), read, one.cost});
  }
  most_shorter_ = most_longer_ = static_cast<size_t>(most_ / 2);
}

double Channel::cost(const std::u32string& read) const {
  const size_t n = sought_.size(), m = read.size();
  if (m + most_shorter_ < n || (!inside_ && n + most_longer_ < m)) return kNever;
  // by_now[i * (m + 1) + j]: the cheapest way from the first i sought to the first j read.
  thread_local std::vector<double> by_now;
  by_now.assign((n + 1) * (m + 1), kNever);
  by_now[0] = 0;
  if (inside_) std::fill(by_now.begin(), by_now.begin() + static_cast<long>(m + 1), 0.0);
  const auto relax = [&](size_t i, size_t j, double cost) {
    double& held = by_now[i * (m + 1) + j];
    if (cost <= most_ && cost < held) held = cost;
  };
  for (size_t i = 0; i <= n; ++i) {
    bool alive = false;
    for (size_t j = 0; j <= m; ++j) {
      const double here = by_now[i * (m + 1) + j];
      if (here == kNever) continue;
      alive = true;
      if (i < n && j < m) relax(i + 1, j + 1, here + (sought_[i] == read[j] ? 0 : kOtherChange));
      if (i < n) relax(i + 1, j, here + kOtherChange);
      if (j < m && !(inside_ && i == n)) relax(i, j + 1, here + kOtherChange);
      for (const Change& change : changes_[i])
        if (read.compare(j, change.read.size(), change.read) == 0 && j + change.read.size() <= m)
          relax(i + change.taken, j + change.read.size(), here + change.cost);
    }
    // A change takes two sought characters at most.
    if (!alive && (i == 0 || std::all_of(by_now.begin() + static_cast<long>((i - 1) * (m + 1)),
                                         by_now.begin() + static_cast<long>(i * (m + 1)),
                                         [](double c) { return c == kNever; })))
      return kNever;
  }
  if (!inside_) return by_now[n * (m + 1) + m];
  return *std::min_element(by_now.end() - static_cast<long>(m + 1), by_now.end());
}

bool matches_wildcards(const std::u32string& pattern, const std::u32string& text) {
  // The place of the last *, and of the text it was tried at: greedy with one way back.
  size_t p = 0, t = 0, star = std::u32string::npos, tried = 0;
  while (t < text.size()) {
    if (p < pattern.size() && (pattern[p] == U'?' || pattern[p] == text[t]) && pattern[p] != U'*') {
      ++p;
      ++t;
    } else if (p < pattern.size() && pattern[p] == U'*') {
      star = p++;
      tried = t;
    } else if (star != std::u32string::npos) {
      p = star + 1;
      t = ++tried;
    } else {
      return false;
    }
  }
  while (p < pattern.size() && pattern[p] == U'*') ++p;
  return p == pattern.size();
}

Term::Term(const std::string& word, const Folding& folding, bool inside, bool near,
           const std::vector<correct::Confusion>& confusions)
    : inside_(inside) {
  Folder folder(folding);
  text_ = folder.folded(word);
  wild_ = text_.find_first_of(U"*?") != std::u32string::npos &&
          text_.find_first_not_of(U"*?") != std::u32string::npos;
  if (!wild_) {
    const auto [first, end] = core_of(text_);
    text_ = text_.substr(first, end - first);
  }
  if (text_.find_first_not_of(U"* ") == std::u32string::npos)
    throw SettingsError("'" + word + "' has nothing in it that could be sought");
  if (wild_ && inside_) text_ = U"*" + text_ + U"*";
  if (near && !wild_) channel_.emplace_back(text_, confusions, folding, inside);
}

double Term::likelihood(const std::u32string& read) const {
  if (wild_) return matches_wildcards(text_, read) ? 1 : 0;
  if (inside_ ? read.find(text_) != std::u32string::npos : read == text_) return 1;
  return channel_.empty() ? 0 : std::exp(-channel_.front().cost(read));
}

}  // namespace burnisher::find
