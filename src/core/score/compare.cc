#include "score/compare.h"

#include <algorithm>
#include <cstdint>
#include <sstream>

#include "base/edit_distance.h"
#include "base/unicode.h"

namespace burnisher::score {
namespace {

using Text = std::vector<char32_t>;
using View = std::pair<const char32_t*, const char32_t*>;

size_t length(View v) {
  return static_cast<size_t>(v.second - v.first);
}

// Costs of aligning all of `a` with every beginning of `b`; `backwards`: of both reversed.
std::vector<int> last_row(View a, View b, bool backwards) {
  const size_t n = length(a), m = length(b);
  const auto at = [&](View v, size_t i) { return backwards ? *(v.second - 1 - i) : v.first[i]; };
  std::vector<int> row(m + 1);
  for (size_t j = 0; j <= m; ++j) row[j] = static_cast<int>(j);
  for (size_t i = 0; i < n; ++i) {
    int diagonal = row[0];
    row[0] = static_cast<int>(i + 1);
    for (size_t j = 0; j < m; ++j) {
      const int substituted = diagonal + (at(a, i) != at(b, j));
      diagonal = row[j + 1];
      row[j + 1] = std::min({row[j + 1] + 1, row[j] + 1, substituted});
    }
  }
  return row;
}

// The cheapest alignment in linear space (Hirschberg 1975). Pairs are appended in order.
void align(View truth, View read, std::vector<Confusion>& pairs) {
  if (truth.first == truth.second) {
    for (auto c = read.first; c != read.second; ++c) pairs.push_back({0, *c});
    return;
  }
  if (length(truth) == 1) {
    const auto same = std::find(read.first, read.second, *truth.first);
    const auto partner = same != read.second ? same : read.first;
    if (read.first == read.second) {
      pairs.push_back({*truth.first, 0});
      return;
    }
    for (auto c = read.first; c != read.second; ++c)
      pairs.push_back({c == partner ? *truth.first : 0, *c});
    return;
  }
  const char32_t* middle = truth.first + length(truth) / 2;
  const std::vector<int> left = last_row({truth.first, middle}, read, false);
  const std::vector<int> right = last_row({middle, truth.second}, read, true);
  size_t best = 0;
  for (size_t j = 0; j < left.size(); ++j) {
    if (left[j] + right[left.size() - 1 - j] < left[best] + right[left.size() - 1 - best]) best = j;
  }
  align({truth.first, middle}, {read.first, read.first + best}, pairs);
  align({middle, truth.second}, {read.first + best, read.second}, pairs);
}

std::vector<std::string> words_of(const std::string& text) {
  std::istringstream stream(text);
  std::vector<std::string> words;
  for (std::string word; stream >> word;) words.push_back(word);
  return words;
}

std::string joined(const std::vector<std::string>& words) {
  std::string text;
  for (const std::string& word : words) text += (text.empty() ? "" : " ") + word;
  return text;
}

int in_common(std::vector<std::string> a, std::vector<std::string> b) {
  std::sort(a.begin(), a.end());
  std::sort(b.begin(), b.end());
  std::vector<std::string> common;
  std::set_intersection(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(common));
  return static_cast<int>(common.size());
}

std::vector<std::vector<std::string>> lines_of(const std::string& text) {
  std::istringstream stream(text);
  std::vector<std::vector<std::string>> lines;
  for (std::string line; std::getline(stream, line);) {
    std::vector<std::string> words = words_of(line);
    if (!words.empty()) lines.push_back(std::move(words));
  }
  return lines;
}

// Lines of `a` for which no line of `b` has half of their words.
int without_counterpart(const std::vector<std::vector<std::string>>& a,
                        const std::vector<std::vector<std::string>>& b) {
  return static_cast<int>(std::count_if(a.begin(), a.end(), [&](const auto& line) {
    return std::none_of(b.begin(), b.end(), [&](const auto& other) {
      return 2 * in_common(line, other) >= static_cast<int>(line.size());
    });
  }));
}

double share(int part, int whole) {
  return whole > 0 ? static_cast<double>(part) / whole : (part > 0 ? 1 : 0);
}

}  // namespace

const char* name_of(CharacterClass klass) {
  switch (klass) {
    case CharacterClass::kLower:
      return "small letters";
    case CharacterClass::kUpper:
      return "capitals";
    case CharacterClass::kAccented:
      return "other letters";
    case CharacterClass::kDigit:
      return "digits";
    case CharacterClass::kPunctuation:
      return "punctuation and signs";
    case CharacterClass::kSpace:
      break;
  }
  return "spaces";
}

CharacterClass class_of(char32_t c) {
  if (c == U' ') return CharacterClass::kSpace;
  if (is_digit(c)) return CharacterClass::kDigit;
  if (!is_letter(c)) return CharacterClass::kPunctuation;
  if (c > 127) return CharacterClass::kAccented;
  return is_upper(c) ? CharacterClass::kUpper : CharacterClass::kLower;
}

double Comparison::cer() const {
  return share(character_errors, characters);
}

double Comparison::wer() const {
  return share(word_errors, words);
}

double Comparison::order_free() const {
  return words + words_read > 0 ? 2.0 * words_in_common / (words + words_read) : 1;
}

void Comparison::add(const Comparison& more) {
  characters += more.characters;
  character_errors += more.character_errors;
  words += more.words;
  word_errors += more.word_errors;
  words_read += more.words_read;
  words_in_common += more.words_in_common;
  lines_missing += more.lines_missing;
  lines_extra += more.lines_extra;
  for (const auto& [pair, count] : more.confusions) confusions[pair] += count;
  for (const auto& [klass, errors] : more.classes) {
    classes[klass].characters += errors.characters;
    classes[klass].errors += errors.errors;
  }
}

std::vector<Confusion> aligned(const std::string& read, const std::string& truth) {
  const Text a = decode_utf8(joined(words_of(to_nfc(truth)))),
             b = decode_utf8(joined(words_of(to_nfc(read))));
  std::vector<Confusion> pairs;
  align({a.data(), a.data() + a.size()}, {b.data(), b.data() + b.size()}, pairs);
  return pairs;
}

Comparison compare(const std::string& read, const std::string& truth) {
  const std::vector<std::string> read_words = words_of(to_nfc(read)),
                                 true_words = words_of(to_nfc(truth));
  Comparison result;
  for (const Confusion& pair : aligned(read, truth)) {
    const bool wrong = pair.truth != pair.read;
    if (pair.truth != 0) {
      ++result.characters;
      auto& klass = result.classes[class_of(pair.truth)];
      ++klass.characters;
      klass.errors += wrong;
    }
    if (!wrong) continue;
    ++result.character_errors;
    ++result.confusions[pair];
  }
  result.words = static_cast<int>(true_words.size());
  result.words_read = static_cast<int>(read_words.size());
  result.word_errors = edit_distance(true_words, read_words);
  result.words_in_common = in_common(true_words, read_words);
  const auto true_lines = lines_of(to_nfc(truth)), read_lines = lines_of(to_nfc(read));
  result.lines_missing = without_counterpart(true_lines, read_lines);
  result.lines_extra = without_counterpart(read_lines, true_lines);
  return result;
}

}  // namespace burnisher::score
