#include "page/as_stored.h"

#include <algorithm>
#include <cmath>

namespace burnisher {
namespace {

// Files have no positions left of or above the page.
double whole(double position) {
  return std::max(0.0, std::round(position));
}

Box whole(const Box& box) {
  return {whole(box.x0), whole(box.y0), whole(box.x1), whole(box.y1)};
}

void round_points(std::vector<Point>& points) {
  for (Point& p : points) p = {whole(p.x), whole(p.y)};
}

double thousandths(double value) {
  return std::round(1000 * std::clamp(value, 0.0, 1.0)) / 1000;
}

void round_word(Word& word) {
  word.box = whole(word.box);
  word.confidence = thousandths(word.confidence);
  word.network_confidence = thousandths(word.network_confidence);
  word.error_probability = thousandths(word.error_probability);
  for (Glyph& glyph : word.glyphs) {
    glyph.box = whole(glyph.box);
    glyph.confidence = thousandths(glyph.confidence);
  }
  for (OtherReading& reading : word.readings) reading.share = thousandths(reading.share);
}

}  // namespace

void round_as_stored(Page& page) {
  for (Block& block : page.blocks) {
    round_points(block.outline);
    for (Cell& cell : block.cells) cell.box = whole(cell.box);
    for (Line& line : block.lines) {
      round_points(line.outline);
      line.box = line.outline.empty() ? whole(line.box) : bounds(line.outline);
      line.confidence = thousandths(line.confidence);
      for (Word& word : line.words) round_word(word);
    }
  }
}

}  // namespace burnisher
