// Over-segmented lines put together: justified ones with spaces so wide that they were taken for
// gutters, and those of contents whose leaders are worn (leader lines).
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

// Pieces of one size on one level, a word's space apart, are one line. Pieces that stand level and
// together fill a column become one line again where the line above or below goes over all their
// gaps, and on their other side no white goes on where one of the gaps is. `rules`: none stands in
// a gap.
void join_oversegmented(const std::vector<Component>& rules, double text_height,
                        std::vector<LetterLine>& lines);

// Where several lines are led to one right edge, what ends there without a line of its own beside
// it (a page number) belongs to the line that it stands level with, and what stands before such a
// line (a section's number) to that. `rules`: none stands between them.
void join_leader_lines(const std::vector<Component>& rules, double text_height,
                       std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
