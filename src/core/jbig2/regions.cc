#include "jbig2/regions.h"

#include <algorithm>
#include <cstring>

namespace burnisher::jbig2 {

const std::vector<uint8_t> kUsualPixels = {3, 0xFF, 0xFD, 0xFF, 2, 0xFE, 0xFE, 0xFE};
const std::vector<uint8_t> kUsualRefinementPixels = {0xFF, 0xFF, 0xFF, 0xFF};

namespace {

constexpr int kMargin = 4;                  // pixels that contexts reach beyond a row
constexpr size_t kTypicalContext = 0x9B25;  // of template 0

// One byte a pixel, with empty margins.
using PixelRow = std::vector<uint8_t>;

void unpack(const uint8_t* bits, int width, PixelRow& row) {
  uint8_t* out = row.data() + kMargin;
  for (int x = 0; x < width; x += 8) {
    const uint8_t byte = bits[x >> 3];
    const int count = std::min(8, width - x);
    if (byte == 0) {
      std::memset(out + x, 0, static_cast<size_t>(count));
      continue;
    }
    for (int i = 0; i < count; ++i) out[x + i] = byte >> (7 - i) & 1;
  }
}

void unpack(const Shape& shape, int y, PixelRow& row) {
  std::fill(row.begin(), row.end(), uint8_t{0});
  if (y < 0 || y >= shape.height) return;
  for (int x = 0; x < shape.width; ++x) row[static_cast<size_t>(kMargin + x)] = shape.pixel(x, y);
}

// How many pixels from `x` on see nothing but paper: themselves and their contexts.
long empty_from(const PixelRow& above2, const PixelRow& above, const PixelRow& row, int x,
                int width) {
  // A pixel looks three to the right in the row above, at most.
  const auto clear = [&](const PixelRow& r, int from, int to) {
    const auto begin = r.begin() + kMargin;
    return std::find(begin + from, begin + std::min(to, width + kMargin - 1), 1) - begin;
  };
  const long here = clear(row, x, width);
  const long next = clear(above, x, static_cast<int>(here) + 3) - 3;
  const long second = clear(above2, x, static_cast<int>(std::max<long>(here, 0)) + 2) - 2;
  return std::min({here, next, second}) - x;
}

void encode_row(MqEncoder& coder, std::vector<Context>& contexts, const PixelRow& above2,
                const PixelRow& above, const PixelRow& row, int width) {
  const uint8_t* a = above2.data() + kMargin;
  const uint8_t* b = above.data() + kMargin;
  const uint8_t* c = row.data() + kMargin;
  uint32_t far = static_cast<uint32_t>(a[0] << 1 | a[1]);               // x-2 ... x+2
  uint32_t near = static_cast<uint32_t>(b[0] << 2 | b[1] << 1 | b[2]);  // x-3 ... x+3
  uint32_t before = 0;                                                  // x-4 ... x-1
  for (int x = 0; x < width; ++x) {
    far = (far << 1 | a[x + 2]) & 0x1F;
    near = (near << 1 | b[x + 3]) & 0x7F;
    const uint32_t context = far << 11 | near << 4 | before;
    if (context == 0 && c[x] == 0) {
      const long run = empty_from(above2, above, row, x, width);
      if (run > 8) {
        coder.encode_zeros(contexts[0], run);
        x += static_cast<int>(run) - 1;
        far = near = before = 0;
        continue;
      }
    }
    coder.encode(contexts[context], c[x]);
    before = (before << 1 | c[x]) & 0xF;
  }
}

}  // namespace

void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Bitonal& picture,
                    bool typical) {
  const int width = picture.width();
  PixelRow above2(static_cast<size_t>(width) + 2 * kMargin), above = above2, row = above2;
  bool was_equal = false;
  for (int y = 0; y < picture.height(); ++y) {
    unpack(picture.row(y), width, row);
    const bool equal = row == above;
    if (typical) coder.encode(contexts[kTypicalContext], equal != was_equal);
    was_equal = equal;
    if (!typical || !equal) encode_row(coder, contexts, above2, above, row, width);
    std::swap(above2, above);
    std::swap(above, row);
  }
}

void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape) {
  PixelRow above2(static_cast<size_t>(shape.width) + 2 * kMargin), above = above2, row = above2;
  for (int y = 0; y < shape.height; ++y) {
    unpack(shape, y, row);
    encode_row(coder, contexts, above2, above, row, shape.width);
    std::swap(above2, above);
    std::swap(above, row);
  }
}

void encode_refinement(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape,
                       const Shape& other, int dx, int dy) {
  const size_t size = static_cast<size_t>(shape.width) + 2 * kMargin;
  PixelRow above(size), row(size), known[3] = {above, above, above};
  const auto known_row = [&](int y, PixelRow& out) {
    std::fill(out.begin(), out.end(), uint8_t{0});
    if (y < 0 || y >= other.height) return;
    for (int x = std::max(0, -kMargin - dx); x < other.width; ++x) {
      const int to = x + dx + kMargin;
      if (to >= static_cast<int>(size)) break;
      out[static_cast<size_t>(to)] = other.pixel(x, y);
    }
  };
  for (int y = 0; y < shape.height; ++y) {
    unpack(shape, y, row);
    for (int i = 0; i < 3; ++i) known_row(y - dy + i - 1, known[i]);
    for (int x = 0; x < shape.width; ++x) {
      const uint8_t* c = row.data() + kMargin + x;
      const uint8_t* b = above.data() + kMargin + x;
      uint32_t context = static_cast<uint32_t>(c[-1] | b[1] << 1 | b[0] << 2 | b[-1] << 3);
      int shift = 4;
      for (int i = 2; i >= 0; --i) {
        const uint8_t* k = known[i].data() + kMargin + x;
        context |= static_cast<uint32_t>(k[1] | k[0] << 1 | k[-1] << 2) << shift;
        shift += 3;
      }
      coder.encode(contexts[context], c[0]);
    }
    std::swap(above, row);
  }
}

}  // namespace burnisher::jbig2
