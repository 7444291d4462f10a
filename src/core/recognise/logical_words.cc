#include "recognise/logical_words.h"

#include <algorithm>

#include "base/printed_order.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

// Where a printed character comes from.
struct Source {
  size_t word = 0, glyph = 0;
};

std::string logical(const std::string& printed, bool right_to_left) {
  return to_nfc(encode_utf8(logical_order(decode_utf8(printed), right_to_left)));
}

// A word of the glyphs of one printed word, or of several that the order of reading joins.
Word word_of(const std::vector<Source>& sources, const std::vector<char32_t>& text,
             const std::vector<Word>& printed, bool right_to_left) {
  Word word;
  word.confidence = word.network_confidence = 1;
  const size_t first = sources.front().word;
  const bool whole =
      sources.size() == printed[first].glyphs.size() &&
      std::all_of(sources.begin(), sources.end(), [&](const Source& s) { return s.word == first; });
  for (size_t i = 0; i < sources.size(); ++i) {
    const Word& from = printed[sources[i].word];
    Glyph glyph = from.glyphs[sources[i].glyph];
    glyph.character = text[i];
    word.box = united(word.box, glyph.box);
    word.confidence = std::min(word.confidence, from.confidence);
    word.network_confidence = std::min(word.network_confidence, from.network_confidence);
    word.glyphs.push_back(glyph);
  }
  word.text = to_nfc(encode_utf8(text));
  if (!whole) return word;
  word.box = printed[first].box;
  for (OtherReading reading : printed[first].readings) {
    reading.text = logical(reading.text, right_to_left);
    word.readings.push_back(reading);
  }
  return word;
}

}  // namespace

void put_in_logical_order(Line& line) {
  std::vector<char32_t> printed;
  std::vector<Source> sources;
  for (size_t w = 0; w < line.words.size(); ++w) {
    if (w > 0) {
      printed.push_back(U' ');
      sources.push_back({});
    }
    for (size_t g = 0; g < line.words[w].glyphs.size(); ++g) {
      printed.push_back(line.words[w].glyphs[g].character);
      sources.push_back({w, g});
    }
  }
  const bool right_to_left = runs_right_to_left(printed, line.script);
  std::vector<size_t> order;
  const std::vector<char32_t> text = logical_order(printed, right_to_left, &order);
  if (text == printed) return;
  std::vector<Word> words;
  for (size_t i = 0; i < text.size();) {
    if (text[i] == U' ') {
      ++i;
      continue;
    }
    size_t end = i;
    std::vector<Source> own;
    while (end < text.size() && text[end] != U' ') own.push_back(sources[order[end++]]);
    words.push_back(
        word_of(own, {text.begin() + static_cast<long>(i), text.begin() + static_cast<long>(end)},
                line.words, right_to_left));
    i = end;
  }
  line.words = std::move(words);
}

}  // namespace burnisher::recognise
