// Rules that meet: the parts of one grid, box or frame.
#pragma once

#include <vector>

#include "raster/components.h"

namespace burnisher::layout {

enum class Meeting { kAnyWay, kCrosswise };  // kCrosswise: only a level rule meets an upright one

// Groups of rules that touch each other, directly or through others, with at most `reach` pixels
// between them. A rule that meets none is a group of its own.
std::vector<std::vector<Component>> meeting_rules(const std::vector<Component>& rules, double reach,
                                                  Meeting meeting);

}  // namespace burnisher::layout
