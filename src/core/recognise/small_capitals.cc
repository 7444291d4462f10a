#include "recognise/small_capitals.h"

#include <algorithm>
#include <string>

#include "base/statistics.h"
#include "base/unicode.h"
#include "recognise/model.h"

namespace burnisher::recognise {
namespace {

constexpr int kInkThreshold = 110;  // strip sample from which on there is ink
constexpr double kInner = 0.1;      // of a letter's columns, left out on either side: neighbours

// Heights of small capitals to large ones. Drawn ones have 0.68 to 0.8, scaled ones up to 0.82; a
// raised initial is larger. Letters of one height differ by up to a row of 20 in the strip.
constexpr double kSmallest = 0.58, kLargest = 0.87;
constexpr double kLargestOfFew = 0.84;  // of words with fewer than kFew small letters
constexpr size_t kFew = 4, kMany = 6;
constexpr size_t kLeastSmall = 2;
constexpr double kAlike = 1.16;  // the highest to the lowest of one size

struct Letter {
  size_t at = 0;            // in the characters
  int top = 0, bottom = 0;  // rows of its ink
};

// Capitals, and lower-case letters that are drawn as their capitals are.
bool of_capital_form(char32_t c) {
  static const std::u32string both = U"cosuvwxzοсохѕωκϲ";
  return is_upper(c) || both.find(c) != std::u32string::npos;
}

bool height_of(const Gray& strip, const StripFrame& frame, double x0, double x1, Letter& letter) {
  const int left = std::clamp(static_cast<int>(x0), 0, strip.width()),
            right = std::clamp(static_cast<int>(x1), left, strip.width());
  const auto inked = [&](int y) {
    const uint8_t* row = strip.row(y);
    return std::any_of(row + left, row + right, [](uint8_t v) { return v >= kInkThreshold; });
  };
  const int start = static_cast<int>(frame.baseline - frame.x_height / 2);
  int top = start, bottom = start;
  if (!inked(start)) return false;
  while (top > 0 && inked(top - 1)) --top;  // an accent stands apart
  while (bottom + 1 < strip.height() && inked(bottom + 1)) ++bottom;
  letter.top = top;
  letter.bottom = bottom + 1;
  return true;
}

struct CapitalWord {
  std::vector<size_t> at;       // its letters
  std::vector<double> heights;  // of them
  size_t large = 0;             // letters at its beginning that are large
  bool mixed = false;
  double small_height = 0;
};

struct Extremes {
  double low, high;
};

// Of many letters without the lowest and the highest one: a blot, a broken stroke.
Extremes extremes_of(std::vector<double> heights) {
  std::sort(heights.begin(), heights.end());
  const size_t out = heights.size() >= kMany ? 1 : 0;
  return {heights[out], heights[heights.size() - 1 - out]};
}

// A large letter, then small ones.
void tell_mixed(CapitalWord& word) {
  const size_t count = word.heights.size();
  if (count < 1 + kLeastSmall) return;
  const double large = word.heights.front();
  const std::vector<double> others(word.heights.begin() + 1, word.heights.end());
  const Extremes small = extremes_of(others);
  const double most = count - 1 < kFew ? kLargestOfFew : kLargest;
  if (small.high > most * large || small.low < kSmallest * large || small.high > kAlike * small.low)
    return;
  word.mixed = true;
  word.large = 1;
  word.small_height = median(others);
}

// The words of capitals with the heights of their letters.
std::vector<CapitalWord> capital_words(const Gray& strip, const StripFrame& frame,
                                       const std::vector<ReadCharacter>& characters) {
  const auto centre = [&](size_t i) { return (characters[i].peak_frame + 0.5) * kFrameWidth; };
  std::vector<CapitalWord> words;
  for (size_t from = 0, to = 0; from < characters.size(); from = to + 1) {
    to = from;
    while (to < characters.size() && characters[to].character != U' ') ++to;
    CapitalWord word;
    std::vector<Letter> letters;
    bool all = true;
    size_t capitals = 0;
    for (size_t i = from; i < to && all; ++i) {
      const char32_t c = characters[i].character;
      if (!is_letter(c)) continue;
      all = of_capital_form(c);
      capitals += is_upper(c);
      Letter letter;
      letter.at = i;
      const double before = i == from ? centre(i) - frame.x_height : centre(i - 1),
                   after = i + 1 == to ? centre(i) + frame.x_height : centre(i + 1);
      const double x0 = (before + centre(i)) / 2, x1 = (centre(i) + after) / 2;
      const double margin = kInner * (x1 - x0);
      all = all && height_of(strip, frame, x0 + margin, x1 - margin, letter);
      letters.push_back(letter);
    }
    if (!all || capitals < 2) continue;
    std::vector<double> feet;
    for (const Letter& letter : letters) feet.push_back(letter.bottom);
    const double foot = median(feet);  // Q and J may reach below
    for (const Letter& letter : letters) {
      word.at.push_back(letter.at);
      word.heights.push_back(foot - letter.top);
    }
    tell_mixed(word);
    words.push_back(std::move(word));
  }
  return words;
}

}  // namespace

void settle_small_capitals(const Gray& strip, const StripFrame& frame,
                           std::vector<ReadCharacter>& characters) {
  std::vector<CapitalWord> words = capital_words(strip, frame, characters);
  std::vector<double> sizes;
  for (const CapitalWord& word : words) {
    if (word.mixed) sizes.push_back(word.small_height);
  }
  if (sizes.empty()) return;
  const double size = median(sizes);
  for (const CapitalWord& word : words) {
    const Extremes ends = extremes_of(word.heights);
    const bool as_small = ends.high < kAlike * size && ends.low * kAlike > size;
    if (!word.mixed && !as_small) continue;
    for (size_t k = word.large; k < word.at.size(); ++k) {
      ReadCharacter& c = characters[word.at[k]];
      c.character = to_lower(c.character);
      c.small_capital = true;
    }
  }
}

}  // namespace burnisher::recognise
