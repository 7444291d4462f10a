// Which shapes are coded by which: like shapes are gathered over all pages, what most of a kind
// have in common becomes a symbol, and each shape is coded as the symbol that makes it cheapest,
// refined where it differs by so much as a pixel (after Howard 1997, soft pattern matching, the
// lossless way). Nothing is ever replaced by something similar. What shapes and symbols cost is
// estimated before anything is coded: symbols that do not earn their bytes go, and so do all of
// them where print is so worn that no two letters are alike.
#pragma once

#include <vector>

#include "jbig2/shapes.h"

namespace burnisher::jbig2 {

// How a shape on a page is coded.
struct Use {
  int symbol = -1;     // in the dictionary; -1: with the rest of the page
  int dx = 0, dy = 0;  // where the symbol's corner lies, seen from the shape's
  bool exact = false;
};

struct Symbols {
  std::vector<Shape> dictionary;       // by height, then width
  std::vector<std::vector<Use>> uses;  // by page, for its shapes in their order
};

Symbols symbols_of(const std::vector<Parted>& pages);

}  // namespace burnisher::jbig2
