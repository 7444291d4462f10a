// Which components are letters that stand in rows: what no step of cleaning may take for dirt, a
// border or the scanner's bed.
#pragma once

#include <vector>

#include "raster/components.h"

namespace burnisher::clean {

// Of letter size, with `text_height` in their pixels. Specks, rules and pictures are not.
bool of_letter_size(const Component& c, double text_height);

// Letters beside each other that surely are a row of print: those of a short word. Specks and
// scraps of the leaf beside stand in twos and threes.
constexpr int kSureRow = 4;

// Rows of letters, each the place of its first in the list: `across` the page and `down` it (text
// on its side). -1: the component is no letter or stands alone. `size`: letters of that row.
struct LetterRow {
  int across = -1, down = -1;
  int across_size = 1, down_size = 1;
  bool alone() const { return across < 0 && down < 0; }
};
std::vector<LetterRow> letter_rows(const std::vector<Component>& components, double text_height);

}  // namespace burnisher::clean
