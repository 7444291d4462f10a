#include "jbig2/regions.h"

#include <cstring>

namespace burnisher::jbig2 {

const std::vector<uint8_t> kUsualRefinementPixels = {0xFF, 0xFF, 0xFF, 0xFF};

const std::vector<uint8_t>& usual_pixels(Template shape) {
  static const std::vector<uint8_t> k16 = {3, 0xFF, 0xFD, 0xFF, 2, 0xFE, 0xFE, 0xFE};
  static const std::vector<uint8_t> k13 = {3, 0xFF};
  return shape == Template::k16 ? k16 : k13;
}

namespace {

// The visitor that codes what it sees.
struct Coding {
  MqEncoder& coder;
  std::vector<Context>& contexts;
  void pixel(uint32_t context, int bit) { coder.encode(contexts[context], bit); }
  void empty(long count) { coder.encode_zeros(contexts[0], count); }
};

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

template <Template kTemplate>
void encode_rows(Coding& coding, const Bitonal& picture) {
  constexpr size_t kTypicalContext = kTemplate == Template::k16 ? 0x9B25 : 0x0795;  // 6.2.5.7
  const int width = picture.width();
  PixelRow above2 = pixel_row(width), above = above2, row = above2;
  bool was_equal = false;
  for (int y = 0; y < picture.height(); ++y) {
    unpack(picture.row(y), width, row);
    const bool equal = row == above;
    coding.pixel(kTypicalContext, equal != was_equal);
    was_equal = equal;
    if (!equal) walk_generic_row<kTemplate>(above2, above, row, width, coding);
    std::swap(above2, above);
    std::swap(above, row);
  }
}

}  // namespace

void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Bitonal& picture,
                    Template shape) {
  Coding coding{coder, contexts};
  if (shape == Template::k16)
    encode_rows<Template::k16>(coding, picture);
  else
    encode_rows<Template::k13>(coding, picture);
}

void encode_generic(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape) {
  Coding coding{coder, contexts};
  walk_generic<Template::k16>(shape, coding);
}

void encode_refinement(MqEncoder& coder, std::vector<Context>& contexts, const Shape& shape,
                       const Shape& other, int dx, int dy) {
  Coding coding{coder, contexts};
  walk_refinement(shape, other, dx, dy, coding);
}

}  // namespace burnisher::jbig2
