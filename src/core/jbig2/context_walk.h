// The decisions of a shape, coded alone or as a refinement, in any order, for those who only count
// them or add up what they cost: whole rows at once where nothing happens. Sees what `walk_generic`
// and `walk_refinement` see, some three times faster. A visitor gets
//   pixel(context, bit)              one pixel,
//   pixels(context, bit, count)      that many of them,
// and is asked
//   enough()                         whether it has seen enough of a refinement.
#pragma once

#include <algorithm>
#include <cstdint>

#include "jbig2/contexts.h"
#include "jbig2/shapes.h"

namespace burnisher::jbig2 {

// Widest shape whose rows, with a pixel to either side, are one word.
constexpr int kWordsPixels = 62;

// Row `y` moved right by `dx`: pixel x in bit 62 - x.
inline uint64_t row_word(const Shape& shape, int y, int dx) {
  if (y < 0 || y >= shape.height) return 0;
  const uint64_t bits = shape.rows[static_cast<size_t>(y)];
  return dx >= -1 ? bits >> (dx + 1) : bits << (-dx - 1);
}

constexpr size_t kShapeContexts = 1 << 13;  // of shapes alone

// Template 13.
template <typename Visitor>
void count_generic(const Shape& shape, Visitor& visitor) {
  constexpr int kWidest = 58;  // rows with three pixels to either side
  constexpr uint32_t kAllInk = kShapeContexts - 1;
  if (shape.width > kWidest) {
    walk_generic<Template::k13>(shape, visitor);
    return;
  }
  const uint64_t inside = ((uint64_t{1} << shape.width) - 1) << (61 - shape.width);
  uint64_t above2 = 0, above = 0;  // pixel x in bit 60 - x
  long paper = 0, ink = 0;
  for (int y = 0; y < shape.height; ++y) {
    const uint64_t row = shape.rows[static_cast<size_t>(y)] >> 3;
    const uint64_t far = above2 >> 1 | above2 | above2 << 1 | above2 << 2;
    const uint64_t near = above >> 2 | above >> 1 | above | above << 1 | above << 2 | above << 3;
    const uint64_t before = row >> 1 | row >> 2 | row >> 3;
    const uint64_t white = ~(far | near | before | row) & inside;
    const uint64_t black =
        (above2 >> 1 & above2 & above2 << 1 & above2 << 2) &
        (above >> 2 & above >> 1 & above & above << 1 & above << 2 & above << 3) &
        (row >> 1 & row >> 2 & row >> 3) & row & inside;
    paper += __builtin_popcountll(white);
    ink += __builtin_popcountll(black);
    for (uint64_t rest = inside & ~white & ~black; rest != 0; rest &= rest - 1) {
      const int at = __builtin_ctzll(rest);
      visitor.pixel(static_cast<uint32_t>((above2 >> (at - 2) & 0xF) << 9 |
                                          (above >> (at - 3) & 0x3F) << 3 | (row >> (at + 1) & 7)),
                    static_cast<int>(row >> at & 1));
    }
    above2 = above;
    above = row;
  }
  visitor.pixels(0, 0, paper);
  visitor.pixels(kAllInk, 1, ink);
}

template <typename Visitor>
void count_refinement(const Shape& shape, const Shape& other, int dx, int dy, Visitor& visitor) {
  constexpr uint32_t kAllInk = kRefinementContexts - 1;
  if (shape.width > kWordsPixels || other.words > 1) {
    walk_refinement(shape, other, dx, dy, visitor);
    return;
  }
  const auto any = [](uint64_t row) { return row >> 1 | row | row << 1; };
  const auto all = [](uint64_t row) { return row >> 1 & row & row << 1; };
  const uint64_t inside = ((uint64_t{1} << shape.width) - 1) << (63 - shape.width);
  uint64_t above = 0;
  uint64_t known[3] = {row_word(other, -dy - 1, dx), row_word(other, -dy, dx), 0};
  long paper = 0, ink = 0;  // pixels that agree with all they see
  for (int y = 0; y < shape.height && !visitor.enough(); ++y) {
    const uint64_t row = row_word(shape, y, 0);
    known[2] = row_word(other, y - dy + 1, dx);
    const uint64_t some = any(known[0]) | any(known[1]) | any(known[2]) | any(above) | row >> 1;
    const uint64_t every = all(known[0]) & all(known[1]) & all(known[2]) & all(above) & row >> 1;
    const uint64_t white = ~(some | row) & inside, black = every & row & inside;
    paper += __builtin_popcountll(white);
    ink += __builtin_popcountll(black);
    for (uint64_t rest = inside & ~white & ~black; rest != 0; rest &= rest - 1) {
      const int at = __builtin_ctzll(rest);
      const auto window = [at](uint64_t word) {
        return static_cast<uint32_t>(word >> (at - 1) & 7);
      };
      visitor.pixel(static_cast<uint32_t>(row >> (at + 1) & 1) | window(above) << 1 |
                        window(known[2]) << 4 | window(known[1]) << 7 | window(known[0]) << 10,
                    static_cast<int>(row >> at & 1));
    }
    above = row;
    known[0] = known[1];
    known[1] = known[2];
  }
  visitor.pixels(0, 0, paper);
  visitor.pixels(kAllInk, 1, ink);
}

}  // namespace burnisher::jbig2
