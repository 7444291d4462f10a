// Pages of words at known places, without pictures.
#pragma once

#include <string>
#include <vector>

#include "base/unicode.h"
#include "page/page.h"

namespace burnisher::testing {

inline Word word_of(const std::string& text, double confidence = 0.99,
                    std::vector<OtherReading> readings = {}) {
  Word word{text, {}, confidence, {}, confidence};
  word.readings = std::move(readings);
  return word;
}

// With a glyph for each character, all in the word's box.
inline Word word_with_glyphs(const std::string& text, const Box& box = {}, double confidence = 1) {
  Word word = word_of(text, confidence);
  word.box = box;
  for (const char32_t c : decode_utf8(text)) word.glyphs.push_back({c, box, confidence});
  return word;
}

// A line of Latin script that is one word, its baseline from `x` at `y`.
inline Line line_at(const std::string& text, double x, double y) {
  Line line;
  line.x_height = 20;
  line.box = {x, y - 20, x + 12 * static_cast<double>(text.size()), y + 5};
  line.baseline = {{line.box.x0, y}, {line.box.x1, y}};
  line.script = "Latn";
  line.words = {word_of(text)};
  line.words.front().box = line.box;
  return line;
}

inline Block block_of(std::vector<Line> lines) {
  Block block;
  Box box;
  for (const Line& line : lines) box = united(box, line.box);
  block.outline = box.corners();
  block.lines = std::move(lines);
  return block;
}

// The words side by side; each ten pixels a letter wide, thirty high.
inline Line line_of(std::vector<Word> words, double y = 100, const std::string& language = "xx") {
  Line line;
  double x = 50;
  for (Word& word : words) {
    const double width = 10.0 * static_cast<double>(word.text.size());
    word.box = {x, y - 25, x + width, y + 5};
    x += width + 12;
  }
  line.words = std::move(words);
  line.x_height = 15;
  line.baseline = {{50, y}, {x, y}};
  line.box = {50, y - 25, x, y + 5};
  line.language = language;
  line.confidence = 0.95;
  return line;
}

inline Page page_of_lines(std::vector<Line> lines, const std::string& file = "log.png") {
  Page page;
  page.file = file;
  page.width = page.geometry.scan_width = 900;
  page.height = page.geometry.scan_height = 1200;
  Block block;
  block.outline = Box{40, 40, 860, 1100}.corners();
  block.lines = std::move(lines);
  page.blocks.push_back(block);
  return page;
}

}  // namespace burnisher::testing
