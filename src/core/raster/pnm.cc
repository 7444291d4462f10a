#include "raster/pnm.h"

#include <algorithm>
#include <cctype>
#include <string>

#include "base/error.h"

namespace burnisher {
namespace {

class Cursor {
 public:
  explicit Cursor(const std::vector<uint8_t>& bytes) : bytes_(bytes) {}

  int byte() {
    if (at_ >= bytes_.size()) throw FormatError("the data end early");
    return bytes_[at_++];
  }
  // The next number, after white space and comments.
  int number() {
    int c = byte();
    while (std::isspace(c) || c == '#') {
      if (c == '#') {
        while (c != '\n') c = byte();
      }
      c = byte();
    }
    if (!std::isdigit(c)) throw FormatError("a number is missing in the header");
    int value = 0;
    for (; std::isdigit(c); c = at_ < bytes_.size() ? byte() : ' ') {
      value = value * 10 + c - '0';
      if (value > 10000000) throw FormatError("a number is far too large");
    }
    return value;  // the one white-space character behind it is gone, too
  }
  // The rest of the header is read: raw bytes follow.
  const uint8_t* take(size_t count) {
    if (count > bytes_.size() - at_) throw FormatError("the data end early");
    at_ += count;
    return bytes_.data() + at_ - count;
  }
  // A plain bitmap's digits may stand without space between them.
  int digit() {
    int c = byte();
    while (std::isspace(c)) c = byte();
    return c - '0';
  }

 private:
  const std::vector<uint8_t>& bytes_;
  size_t at_ = 2;
};

}  // namespace

Picture read_pnm(const std::vector<uint8_t>& bytes, double pixel_limit) {
  if (bytes.size() < 3 || bytes[0] != 'P' || bytes[1] < '1' || bytes[1] > '6') {
    throw FormatError("no PBM, PGM or PPM picture");
  }
  const int kind = bytes[1] - '0';
  const bool plain = kind <= 3;
  Cursor cursor(bytes);
  const int width = cursor.number(), height = cursor.number();
  if (width == 0 || height == 0) throw FormatError("the picture has no pixels");
  if (static_cast<double>(width) * height > pixel_limit) {
    throw FormatError("the picture is " + std::to_string(width) + " x " + std::to_string(height) +
                          " pixels, over the limit",
                      ErrorCode::kTooManyPixels);
  }
  if (kind == 1 || kind == 4) {
    Bitonal picture(width, height);
    for (int y = 0; y < height; ++y) {
      for (int b = 0; !plain && b < picture.stride(); ++b) {
        picture.row(y)[b] = static_cast<uint8_t>(cursor.byte());
      }
      if (!plain && width % 8)
        picture.row(y)[picture.stride() - 1] &= static_cast<uint8_t>(0xff << (8 - width % 8));
      for (int x = 0; plain && x < width; ++x) picture.set_ink(x, y, cursor.digit() == 1);
    }
    return picture;
  }
  const int top = cursor.number();
  if (top < 1 || top > 65535) throw FormatError("the largest value must lie in 1-65535");
  const auto sample = [&] {
    int v = plain ? cursor.number() : cursor.byte();
    if (!plain && top > 255) v = v * 256 + cursor.byte();
    return static_cast<uint8_t>(std::min(v, top) * 255 / top);
  };
  const bool as_they_are = !plain && top == 255;
  if (kind == 2 || kind == 5) {
    Gray picture(width, height);
    const size_t count = picture.samples().size();
    if (as_they_are) std::copy_n(cursor.take(count), count, picture.samples().begin());
    if (as_they_are) return picture;
    for (uint8_t& v : picture.samples()) v = sample();
    return picture;
  }
  Colour picture(width, height);
  const size_t count = picture.samples().size();
  if (as_they_are) std::copy_n(cursor.take(count), count, picture.samples().begin());
  if (as_they_are) return picture;
  for (uint8_t& v : picture.samples()) v = sample();
  return picture;
}

}  // namespace burnisher
