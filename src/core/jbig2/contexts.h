// Bitmaps pixel by pixel with what a coder sees around each (T.88, figures 3, 4 and 12): the one
// place that knows the templates, for coding as for reckoning what coding will cost. A visitor gets
//   pixel(context, bit)   one pixel,
//   empty(count)          that many pixels of 0 in context 0.
#pragma once

#include <algorithm>
#include <array>
#include <cstdint>
#include <vector>

#include "jbig2/shapes.h"

namespace burnisher::jbig2 {

// Templates of generic regions: 16 pixels know large pages best, 13 learn faster.
enum class Template { k16, k13 };

constexpr size_t kGenericContexts = 1 << 16;     // template 0: 16 pixels (T.88, 6.2.5)
constexpr size_t kRefinementContexts = 1 << 13;  // template 0: 13 pixels (T.88, 6.3.5)

constexpr int kMargin = 4;  // pixels that contexts reach beyond a row

// A row, one byte a pixel, with empty margins.
using PixelRow = std::vector<uint8_t>;

inline PixelRow pixel_row(int width) {
  return PixelRow(static_cast<size_t>(width) + 2 * kMargin);
}

// Row `y` of a shape, moved right by `dx` pixels; what lies outside of the shape is empty.
inline void unpack(const Shape& shape, int y, int dx, PixelRow& row) {
  std::fill(row.begin(), row.end(), uint8_t{0});
  if (y < 0 || y >= shape.height) return;
  const uint64_t* bits = shape.rows.data() + static_cast<size_t>(y) * shape.words;
  const int first = std::max(0, -kMargin - dx);
  const int last = std::min(shape.width, static_cast<int>(row.size()) - kMargin - dx);
  uint8_t* out = row.data() + kMargin + dx;
  for (int x = first; x < last; ++x)
    out[x] = static_cast<uint8_t>(bits[x / 64] >> (63 - x % 64) & 1);
}

// How many pixels from `x` on see nothing but paper: themselves and their contexts.
inline long empty_from(const PixelRow& above2, const PixelRow& above, const PixelRow& row, int x,
                       int width) {
  // A pixel looks three to the right in the row above, at most.
  const auto clear = [&](const PixelRow& r, long from, long to) {
    const auto begin = r.begin() + kMargin;
    return std::find(begin + from, begin + std::min<long>(to, width + kMargin - 1), 1) - begin;
  };
  const long here = clear(row, x, width);
  const long next = clear(above, x, here + 3) - 3;
  const long second = clear(above2, x, here + 2) - 2;
  return std::min({here, next, second}) - x;
}

template <Template kTemplate, typename Visitor>
void walk_generic_row(const PixelRow& above2, const PixelRow& above, const PixelRow& row, int width,
                      Visitor& visitor) {
  constexpr bool kWide = kTemplate == Template::k16;
  constexpr uint32_t kFar = kWide ? 0x1F : 0xF;    // x-2 (or x-1) ... x+2
  constexpr uint32_t kNear = kWide ? 0x7F : 0x3F;  // x-3 (or x-2) ... x+3
  constexpr uint32_t kBefore = kWide ? 0xF : 0x7;  // x-4 (or x-3) ... x-1
  constexpr int kNearAt = kWide ? 4 : 3, kFarAt = kWide ? 11 : 9;
  const uint8_t* a = above2.data() + kMargin;
  const uint8_t* b = above.data() + kMargin;
  const uint8_t* c = row.data() + kMargin;
  uint32_t far = static_cast<uint32_t>(a[0] << 1 | a[1]);
  uint32_t near = static_cast<uint32_t>(b[0] << 2 | b[1] << 1 | b[2]);
  uint32_t before = 0;
  for (int x = 0; x < width; ++x) {
    far = (far << 1 | a[x + 2]) & kFar;
    near = (near << 1 | b[x + 3]) & kNear;
    const uint32_t context = far << kFarAt | near << kNearAt | before;
    if (context == 0 && c[x] == 0) {
      const long run = empty_from(above2, above, row, x, width);
      if (run > 8) {
        visitor.empty(run);
        x += static_cast<int>(run) - 1;
        far = near = before = 0;
        continue;
      }
    }
    visitor.pixel(context, c[x]);
    before = (before << 1 | c[x]) & kBefore;
  }
}

template <Template kTemplate, typename Visitor>
void walk_generic(const Shape& shape, Visitor& visitor) {
  PixelRow above2 = pixel_row(shape.width), above = above2, row = above2;
  for (int y = 0; y < shape.height; ++y) {
    unpack(shape, y, 0, row);
    walk_generic_row<kTemplate>(above2, above, row, shape.width, visitor);
    std::swap(above2, above);
    std::swap(above, row);
  }
}

// `shape` with `other`, moved by (dx, dy), known.
template <typename Visitor>
void walk_refinement(const Shape& shape, const Shape& other, int dx, int dy, Visitor& visitor) {
  PixelRow above = pixel_row(shape.width), row = above;
  std::array<PixelRow, 3> known = {above, above, above};  // the rows above, here and below
  unpack(other, -dy - 1, dx, known[0]);
  unpack(other, -dy, dx, known[1]);
  for (int y = 0; y < shape.height; ++y) {
    unpack(shape, y, 0, row);
    unpack(other, y - dy + 1, dx, known[2]);
    const uint8_t* b = above.data() + kMargin;
    const uint8_t* c = row.data() + kMargin;
    const uint8_t* k[3] = {known[0].data() + kMargin, known[1].data() + kMargin,
                           known[2].data() + kMargin};
    // Windows of x-1 ... x+1.
    uint32_t over = b[0], before = 0;
    uint32_t window[3];
    for (int i = 0; i < 3; ++i) window[i] = static_cast<uint32_t>(k[i][-1] << 1 | k[i][0]);
    for (int x = 0; x < shape.width; ++x) {
      over = (over << 1 | b[x + 1]) & 7;
      for (int i = 0; i < 3; ++i) window[i] = (window[i] << 1 | k[i][x + 1]) & 7;
      const uint32_t context = before | (over & 1) << 1 | (over & 2) << 1 | (over & 4) << 1 |
                               window[2] << 4 | window[1] << 7 | window[0] << 10;
      visitor.pixel(context, c[x]);
      before = c[x];
    }
    std::swap(above, row);
    std::swap(known[0], known[1]);
    std::swap(known[1], known[2]);
  }
}

}  // namespace burnisher::jbig2
