// From letters to lines: chains of neighbours along the reading direction (after O'Gorman 1993).
// Where a line ends is what the page network saw: white as wide as a column's gutter may be a
// space of the same line, and the other way round.
#pragma once

#include <vector>

#include "base/plane.h"
#include "layout/columns.h"
#include "layout/letters.h"
#include "layout/page_maps.h"

namespace burnisher::layout {

struct LetterLine {
  std::vector<Component> letters;  // left to right
  std::vector<Component> marks;
  Box box;  // letters and marks
  Polyline baseline;
  double x_height = 0;
  bool size_sure = true;    // false: the x-height is borrowed or guessed
  double stroke = 0;        // stroke width, pixels
  bool has_leader = false;  // a leader goes through it

  Box band() const;  // of most of its letters: without what sticks out above or below
};

Box ink_of(const LetterLine& line);  // letters and marks

// Every component of `sorted` goes to one line at most.
std::vector<LetterLine> chain_lines(const Sorted& sorted, const PageMaps& maps,
                                    const Columns& columns, double text_height);

// Scraps of one or two parts that lie in or right beside a line (lower halves of broken letters,
// dots of large type) are its marks, not lines.
void absorb_scraps(double text_height, std::vector<LetterLine>& lines);

// Of two lines whose bands lie over each other the smaller becomes part of the larger.
void join_laid_over(std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
