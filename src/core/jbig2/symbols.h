// Which shapes are coded by which: like shapes are gathered over all pages, what most of a kind
// have in common becomes a symbol, and each shape is coded as that symbol, refined where it differs
// by so much as a pixel. Nothing is ever replaced by something similar (after Howard 1997, soft
// pattern matching, the lossless way).
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
