#include "train/language_trainer.h"

#include <algorithm>
#include <cmath>
#include <fstream>
#include <map>

#include "base/error.h"
#include "base/files.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "recognise/language_model.h"

namespace burnisher::train {
namespace {

using recognise::kBackoffOffset;
using recognise::kLogStep;

constexpr double kHeldShare = 0.07;    // of the text, to measure on
constexpr size_t kMostWords = 300000;  // of one list, evenly drawn
constexpr double kRarest = 2e-6;       // share of the text below which a character is left out
constexpr size_t kMostSymbols = 200;   // a symbol is a byte, and some are kept free
constexpr uint32_t kFewestSeen = 2;    // sequences of four and more characters
constexpr int kLongestOrder = 8;       // characters that fit into a key

// A sequence of up to eight symbols, the last in the lowest byte.
using Key = uint64_t;

struct Counted {
  Key key = 0;
  uint32_t count = 0;
  double probability = 0;  // of the last symbol after the others
  float worth = 0;
  bool kept = false;
};

using Level = std::vector<Counted>;  // sequences of one length, sorted by key

Key without_last(Key key) {
  return key >> 8;
}

Key without_first(Key key, int length) {
  return key & ((Key{1} << (8 * (length - 1))) - 1);
}

Counted* find(Level& level, Key key) {
  const auto found = std::lower_bound(level.begin(), level.end(), key,
                                      [](const Counted& c, Key k) { return c.key < k; });
  return found == level.end() || found->key != key ? nullptr : &*found;
}

std::vector<std::string> lines_of(const std::string& path) {
  std::ifstream in(path);
  if (!in) throw InputError(path + ": cannot be read; name a text file in UTF-8");
  std::vector<std::string> lines;
  for (std::string line; std::getline(in, line);) {
    if (!line.empty()) lines.push_back(std::move(line));
  }
  return lines;
}

struct Texts {
  std::vector<char32_t> learnt, kept_back;  // folded, single spaces
};

void append(const std::string& line, std::vector<char32_t>& text) {
  for (char32_t c : as_printed(decode_utf8(to_nfc(line)))) {
    const char32_t f = recognise::folded(c == U'\t' || c == U'\u00a0' ? U' ' : c);
    if (f < U' ' || (f == U' ' && !text.empty() && text.back() == U' ')) continue;
    text.push_back(f);
  }
  if (text.empty() || text.back() != U' ') text.push_back(U' ');
}

Texts texts_of(const LanguageSettings& settings) {
  Texts texts;
  for (const std::string& path : settings.running) {
    const std::vector<std::string> lines = lines_of(path);
    double whole = 0, so_far = 0;
    for (const std::string& line : lines) whole += static_cast<double>(line.size());
    for (const std::string& line : lines) {
      append(line, so_far < (1 - kHeldShare) * whole ? texts.learnt : texts.kept_back);
      so_far += static_cast<double>(line.size());
    }
  }
  for (const std::string& path : settings.words) {
    const std::vector<std::string> words = lines_of(path);
    const size_t wanted = std::min(words.size(), kMostWords);
    for (size_t i = 0; i < wanted; ++i) append(words[i * words.size() / wanted], texts.learnt);
  }
  if (texts.learnt.size() < 1000) {
    throw InputError("there are only " + std::to_string(texts.learnt.size()) +
                     " characters of text to learn the language from; give more text");
  }
  return texts;
}

// The characters that are common enough, the commonest first.
std::vector<char32_t> symbols_of(const std::vector<char32_t>& text) {
  std::map<char32_t, size_t> counts;
  for (char32_t c : text) ++counts[c];
  std::vector<std::pair<size_t, char32_t>> ranked;
  for (const auto& [c, n] : counts) {
    if (static_cast<double>(n) >= std::max(2.0, kRarest * static_cast<double>(text.size())))
      ranked.emplace_back(n, c);
  }
  std::sort(ranked.rbegin(), ranked.rend());
  if (ranked.size() > kMostSymbols) ranked.resize(kMostSymbols);
  std::vector<char32_t> symbols;
  for (const auto& r : ranked) symbols.push_back(r.second);
  return symbols;
}

// Sequences of `length` symbols and how often they occur; none goes over a character left out.
Level counted(const std::vector<int>& text, int length) {
  std::vector<Key> keys;
  keys.reserve(text.size());
  Key key = 0;
  int known = 0;
  const Key mask = length == kLongestOrder ? ~Key{0} : (Key{1} << (8 * length)) - 1;
  for (int symbol : text) {
    known = symbol < 0 ? 0 : known + 1;
    key = ((key << 8) | static_cast<Key>(std::max(0, symbol))) & mask;
    if (known >= length) keys.push_back(key);
  }
  std::sort(keys.begin(), keys.end());
  Level level;
  for (size_t i = 0; i < keys.size();) {
    size_t end = i;
    while (end < keys.size() && keys[end] == keys[i]) ++end;
    Counted entry;
    entry.key = keys[i];
    entry.count = static_cast<uint32_t>(end - i);
    if (length < 4 || entry.count >= kFewestSeen) level.push_back(entry);
    i = end;
  }
  return level;
}

// What is taken from every count for sequences never seen.
double discount_of(const Level& level) {
  double once = 0, twice = 0;
  const uint32_t least =
      level.empty()
          ? 1
          : std::min_element(level.begin(), level.end(), [](const Counted& a, const Counted& b) {
              return a.count < b.count;
            })->count;
  for (const Counted& c : level) {
    once += c.count == least;
    twice += c.count == least + 1;
  }
  return once + twice > 0 ? std::clamp(once / (once + 2 * twice), 0.3, 0.95) : 0.5;
}

void set_probabilities(std::vector<Level>& levels, size_t symbols) {
  double total = 0;
  for (const Counted& c : levels[0]) total += c.count;
  for (Counted& c : levels[0])
    c.probability = (c.count + 0.5) / (total + 0.5 * static_cast<double>(symbols));
  for (size_t k = 1; k < levels.size(); ++k) {
    Level& level = levels[k];
    const double discount = discount_of(level);
    for (size_t i = 0; i < level.size();) {
      size_t end = i;
      double seen = 0;
      while (end < level.size() && without_last(level[end].key) == without_last(level[i].key))
        seen += level[end++].count;
      // Sequences that were too rare to keep count as never seen.
      const Counted* context = find(levels[k - 1], without_last(level[i].key));
      const double all = std::max<double>(seen, context == nullptr ? 0 : context->count);
      const double freed = all - seen + discount * static_cast<double>(end - i);
      for (; i < end; ++i) {
        const Counted* lower =
            find(levels[k - 1], without_first(level[i].key, static_cast<int>(k) + 1));
        const double below = lower == nullptr ? 1e-6 : lower->probability;
        level[i].probability = (level[i].count - discount) / all + freed / all * below;
        level[i].worth =
            static_cast<float>(level[i].count * std::fabs(std::log(level[i].probability / below)));
      }
    }
  }
}

// Keeps the sequences worth at least `least`, with all that are part of them. Returns the bytes.
size_t keep(float least, std::vector<Level>& levels) {
  for (Level& level : levels) {
    for (Counted& c : level) c.kept = &level == &levels[0] || c.worth >= least;
  }
  size_t bytes = 0;
  for (size_t k = levels.size(); k-- > 0;) {
    size_t entries = 0;
    for (Counted& c : levels[k]) {
      if (!c.kept) continue;
      ++entries;
      if (k == 0) continue;
      // What a sequence goes on from and what it falls back to.
      Counted* before = find(levels[k - 1], without_last(c.key));
      Counted* shorter = find(levels[k - 1], without_first(c.key, static_cast<int>(k) + 1));
      if (before != nullptr) before->kept = true;
      if (shorter != nullptr) shorter->kept = true;
      c.kept = before != nullptr && shorter != nullptr;
    }
    bytes += entries * (k + 1 == levels.size() ? 2 : 4);
  }
  return bytes;
}

void prune(size_t most_bytes, std::vector<Level>& levels) {
  float low = 0, high = 1;
  while (keep(high, levels) > most_bytes) high *= 4;
  for (int i = 0; i < 14; ++i) {
    const float middle = (low + high) / 2;
    (keep(middle, levels) > most_bytes ? low : high) = middle;
  }
  keep(high, levels);
}

uint8_t stored(double log_value, int offset) {
  return static_cast<uint8_t>(std::clamp(std::lround(-log_value / kLogStep) + offset, 0L, 255L));
}

void append_number(size_t value, int size, std::string& bytes) {
  for (int i = 0; i < size; ++i) bytes += static_cast<char>((value >> (8 * i)) & 255);
}

std::string file_of(const std::string& tag, const std::vector<char32_t>& symbols,
                    std::vector<Level>& levels) {
  for (Level& level : levels) {
    level.erase(
        std::remove_if(level.begin(), level.end(), [](const Counted& c) { return !c.kept; }),
        level.end());
  }
  std::string bytes = recognise::kLanguageModelMark;
  append_number(levels.size(), 1, bytes);
  append_number(symbols.size(), 1, bytes);
  append_number(tag.size(), 2, bytes);
  bytes += tag;
  for (char32_t c : symbols) append_number(c, 4, bytes);
  for (const Level& level : levels) append_number(level.size(), 4, bytes);
  for (size_t k = 0; k < levels.size(); ++k) {
    for (const Counted& c : levels[k]) bytes += static_cast<char>(c.key & 255);
    for (const Counted& c : levels[k])
      bytes += static_cast<char>(stored(std::log(c.probability), 0));
    if (k + 1 == levels.size()) break;
    std::string children;
    size_t at = 0;
    for (const Counted& c : levels[k]) {
      double here = 0, below = 0;
      size_t count = 0;
      const Level& next = levels[k + 1];
      for (; at < next.size() && without_last(next[at].key) == c.key; ++at, ++count) {
        here += next[at].probability;
        const Counted* lower =
            find(levels[k], without_first(next[at].key, static_cast<int>(k) + 2));
        below += lower == nullptr ? 0 : lower->probability;
      }
      const double weight = std::max(1e-4, 1 - here) / std::max(1e-4, 1 - below);
      bytes += static_cast<char>(stored(std::log(weight), kBackoffOffset));
      children += static_cast<char>(count);
    }
    bytes += children;
  }
  return bytes;
}

double bits_of(const std::vector<char32_t>& text, const recognise::LanguageModel& model) {
  recognise::LanguageModel::Context context = model.start();
  double sum = 0;
  for (char32_t c : text) sum -= model.step(context, model.symbol_of(c), context);
  return text.empty() ? 0 : sum / std::log(2.0) / static_cast<double>(text.size());
}

}  // namespace

LanguageReport train_language_model(const LanguageSettings& settings, const std::string& path) {
  if (settings.order < 2 || settings.order > kLongestOrder) {
    throw SettingsError("a language model has sequences of 2 to " + std::to_string(kLongestOrder) +
                        " characters, not " + std::to_string(settings.order));
  }
  const Texts texts = texts_of(settings);
  const std::vector<char32_t> symbols = symbols_of(texts.learnt);
  std::map<char32_t, int> places;
  for (size_t i = 0; i < symbols.size(); ++i) places[symbols[i]] = static_cast<int>(i);
  std::vector<int> text;
  for (char32_t c : texts.learnt) {
    const auto found = places.find(c);
    text.push_back(found == places.end() ? -1 : found->second);
  }
  std::vector<Level> levels;
  for (int length = 1; length <= settings.order; ++length) levels.push_back(counted(text, length));
  set_probabilities(levels, symbols.size());
  prune(settings.most_bytes, levels);
  write_file(path, file_of(settings.tag, symbols, levels));
  LanguageReport report;
  report.characters = text.size();
  for (const Level& level : levels) report.sequences += level.size();
  report.kept_back = texts.kept_back.size();
  report.bits = bits_of(texts.kept_back, recognise::LanguageModel(path));
  return report;
}

}  // namespace burnisher::train
