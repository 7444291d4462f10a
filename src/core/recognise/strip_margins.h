// How far the strip of a line goes on beyond its ends. A faint full stop or hyphen at the end of a
// line is often not part of the ink that lines are found by: there is room for it, but none for the
// line that stands beside.
#pragma once

#include <vector>

#include "page/page.h"

namespace burnisher::recognise {

// In x-heights of the line, beside what was found of it.
struct StripMargins {
  double left, right;
};

// Without a neighbour, and beside one however near. The networks are trained with the latter.
constexpr double kWideMargin = 1.3;
constexpr double kStripMargin = 0.6;

// Of each line among all that are read together. Lines that don't run level have kStripMargin.
std::vector<StripMargins> strip_margins(const std::vector<const Line*>& lines);

}  // namespace burnisher::recognise
