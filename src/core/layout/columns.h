// How many columns of text a page has, when a person says so.
#pragma once

#include <vector>

#include "layout/letters.h"

namespace burnisher::layout {

// Where lines are parted. `found`: where the page network sees them end; else only at `at`.
struct Columns {
  bool found = true;
  std::vector<double> at;  // x, pixels
};

// `wanted`: 0 as the page shows; 1 lines go right across; more: so many columns of about the same
// width, parted where the fewest letters stand.
Columns columns_of(int wanted, const Sorted& sorted);

}  // namespace burnisher::layout
