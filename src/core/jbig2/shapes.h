// Letters as the coder sees them: components of ink with their place, and how much two of them
// differ.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "raster/image.h"

namespace burnisher::jbig2 {

// A small bitonal picture, 64 pixels a word, the leftmost in the highest bit.
struct Shape {
  int width = 0, height = 0;
  int words = 0;  // in a row
  int ink = 0;    // pixels
  std::vector<uint64_t> rows;

  Shape() = default;
  Shape(int w, int h)
      : width(w), height(h), words((w + 63) / 64), rows(static_cast<size_t>(words) * h) {}
  bool pixel(int x, int y) const {
    return rows[static_cast<size_t>(y) * words + x / 64] >> (63 - x % 64) & 1;
  }
  void set(int x, int y) {
    rows[static_cast<size_t>(y) * words + x / 64] |= uint64_t{1} << (63 - x % 64);
  }
  bool operator==(const Shape& other) const {
    return width == other.width && height == other.height && rows == other.rows;
  }
};

// A shape on its page, by its upper left corner.
struct Placed {
  Shape shape;
  int x = 0, y = 0;
};

// What is coded as shapes, and the rest of the page.
struct Parted {
  std::vector<Placed> shapes;
  Bitonal rest;
};

// Components no wider and higher than a large letter become shapes; pictures, rules and specks
// stay.
Parted parted(const Bitonal& page);

// Ink of `shape` that is not in `other` moved by (dx, dy), and the other way round. Counting stops
// beyond `limit`.
int difference(const Shape& shape, const Shape& other, int dx, int dy, int limit);

}  // namespace burnisher::jbig2
