// Pages that have been read, for tests: lines of words at known places.
#pragma once

#include <string>
#include <vector>

#include "page/page.h"

namespace burnisher::testing {

inline Line line_at(const std::vector<std::string>& words, double x, double y,
                    double confidence = 0.9) {
  Line line;
  line.x_height = 20;
  for (const std::string& text : words) {
    const double width = 18.0 * static_cast<double>(text.size());
    line.words.push_back({text, {x, y - 30, x + width, y + 8}, confidence, {}});
    x += width + 15;
  }
  line.baseline = {{line.words.front().box.x0, y}, {line.words.back().box.x1, y}};
  line.box = {line.words.front().box.x0, y - 30, line.words.back().box.x1, y + 8};
  return line;
}

inline Page page_of(const std::vector<Line>& lines) {
  Page page;
  page.width = 1000;
  page.height = 1400;
  page.dpi = 144;
  Block block;
  block.lines = lines;
  block.outline = Box{0, 0, 900, 900}.corners();
  page.blocks.push_back(block);
  return page;
}

// How often `part` is in `text`.
inline size_t count_of(const std::string& part, const std::string& text) {
  size_t found = 0;
  for (size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++found;
  return found;
}

}  // namespace burnisher::testing
