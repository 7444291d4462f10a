// From letters to lines: chains of neighbours along the reading direction (after O'Gorman 1993),
// never across a gutter.
#pragma once

#include <vector>

#include "base/plane.h"
#include "layout/letters.h"

namespace burnisher::layout {

struct LetterLine {
  std::vector<Component> letters;  // left to right
  std::vector<Component> marks;
  Box box;  // letters and marks
  Polyline baseline;
  double x_height = 0;
  bool size_sure = true;  // false: the x-height is borrowed or guessed
  double stroke = 0;      // stroke width, pixels
};

// `widest_gap`: between two letters of a line, in line heights.
std::vector<LetterLine> chain_lines(const Sorted& sorted, const std::vector<Box>& gutters,
                                    double text_height, double widest_gap);

// Scraps of one or two parts that lie in or right beside a line (lower halves of broken letters,
// dots of large type) are its marks, not lines.
void absorb_scraps(double text_height, std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
