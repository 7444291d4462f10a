#include "intake/pdf_text.h"

#include <algorithm>

#include "base/unicode.h"

namespace burnisher {
namespace {

constexpr int kFewestLetters = 25;                 // fewer are a stamp or a page number over a scan
constexpr double kXHeight = 0.45, kAscent = 0.72;  // of the height of a word's box

bool same_line(const Box& a, const Box& b) {
  const double shared = overlap(a.y0, a.y1, b.y0, b.y1);
  return shared > 0.5 * std::min(a.height(), b.height()) && b.x0 > a.x0 &&
         b.x0 - a.x1 < 2.5 * std::max(a.height(), b.height());
}

// What stands close below in the same column.
bool same_block(const Line& above, const Line& below) {
  const double height = std::max(above.box.height(), below.box.height());
  return below.box.y0 > above.box.y0 && below.box.y0 - above.box.y1 < 0.8 * height &&
         overlap(above.box.x0, above.box.x1, below.box.x0, below.box.x1) > 0;
}

void add_line(Line line, std::vector<Block>& blocks) {
  for (const Word& word : line.words) line.box = united(line.box, word.box);
  const double base = line.box.y0 + kAscent * line.box.height();
  line.baseline = {{line.box.x0, base}, {line.box.x1, base}};
  line.x_height = kXHeight * line.box.height();
  line.confidence = 1;
  if (blocks.empty() || !same_block(blocks.back().lines.back(), line)) blocks.emplace_back();
  blocks.back().lines.push_back(std::move(line));
}

}  // namespace

bool worth_the_name(const PdfWords& found) {
  int letters = 0;
  for (const PdfWord& word : found.words)
    for (const char32_t c : decode_utf8(word.text)) letters += is_letter(c) || is_digit(c);
  return letters >= kFewestLetters;
}

Page page_of_words(const PdfWords& found, double dpi) {
  const double scale = dpi / 72;
  Page page;
  page.dpi = dpi;
  page.width = static_cast<int>(found.width * scale + 0.5);
  page.height = static_cast<int>(found.height * scale + 0.5);
  page.geometry = {PlaneMap(), page.width, page.height};
  Line line;
  for (const PdfWord& one : found.words) {
    Word word;
    word.text = one.text;
    word.box = {one.box.x0 * scale, one.box.y0 * scale, one.box.x1 * scale, one.box.y1 * scale};
    word.confidence = 1;
    if (!line.words.empty() && !same_line(line.words.back().box, word.box)) {
      add_line(std::move(line), page.blocks);
      line = Line();
    }
    line.words.push_back(std::move(word));
  }
  if (!line.words.empty()) add_line(std::move(line), page.blocks);
  for (Block& block : page.blocks) {
    Box box;
    for (const Line& l : block.lines) box = united(box, l.box);
    block.outline = box.corners();
  }
  return page;
}

}  // namespace burnisher
