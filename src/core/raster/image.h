// The picture types everything works on. Rows are reached by pointer, copies are never made by
// accident (`clone()` says so), and the frame is always: x to the right, y downwards, the centre of
// the first pixel at (0.5, 0.5).
#pragma once

#include <cstddef>
#include <cstdint>
#include <variant>
#include <vector>

namespace burnisher {

// A dense picture of `width` x `height` pixels with `channels` interleaved samples of type T.
template <typename T, int kChannels>
class Image {
 public:
  using Sample = T;
  static constexpr int channels = kChannels;

  Image() = default;
  Image(int width, int height, T fill = T{})
      : width_(width),
        height_(height),
        samples_(static_cast<size_t>(width) * height * kChannels, fill) {}
  Image(Image&&) noexcept = default;
  Image& operator=(Image&&) noexcept = default;
  Image(const Image&) = delete;
  Image& operator=(const Image&) = delete;

  Image clone() const {
    Image copy;
    copy.width_ = width_;
    copy.height_ = height_;
    copy.samples_ = samples_;
    return copy;
  }

  int width() const { return width_; }
  int height() const { return height_; }
  bool empty() const { return samples_.empty(); }
  T* row(int y) { return samples_.data() + static_cast<size_t>(y) * width_ * kChannels; }
  const T* row(int y) const {
    return samples_.data() + static_cast<size_t>(y) * width_ * kChannels;
  }
  std::vector<T>& samples() { return samples_; }
  const std::vector<T>& samples() const { return samples_; }

 private:
  int width_ = 0;
  int height_ = 0;
  std::vector<T> samples_;
};

using Gray = Image<uint8_t, 1>;      // 0 black ... 255 white
using Colour = Image<uint8_t, 3>;    // sRGB, red first
using FloatImage = Image<float, 1>;  // measured or in-between values

// Ink and paper: one bit a pixel, eight pixels a byte, the leftmost in the highest bit, 1 = ink.
// Rows start on a byte; bits beyond the width are always 0.
class Bitonal {
 public:
  Bitonal() = default;
  Bitonal(int width, int height)
      : width_(width),
        height_(height),
        stride_((width + 7) / 8),
        bytes_(static_cast<size_t>(stride_) * height, 0) {}
  Bitonal(Bitonal&&) noexcept = default;
  Bitonal& operator=(Bitonal&&) noexcept = default;
  Bitonal(const Bitonal&) = delete;
  Bitonal& operator=(const Bitonal&) = delete;

  Bitonal clone() const {
    Bitonal copy;
    copy.width_ = width_;
    copy.height_ = height_;
    copy.stride_ = stride_;
    copy.bytes_ = bytes_;
    return copy;
  }

  int width() const { return width_; }
  int height() const { return height_; }
  int stride() const { return stride_; }  // bytes in a row
  bool empty() const { return bytes_.empty(); }
  uint8_t* row(int y) { return bytes_.data() + static_cast<size_t>(y) * stride_; }
  const uint8_t* row(int y) const { return bytes_.data() + static_cast<size_t>(y) * stride_; }
  bool ink(int x, int y) const { return (row(y)[x >> 3] >> (7 - (x & 7))) & 1; }
  void set_ink(int x, int y, bool on) {
    const uint8_t bit = static_cast<uint8_t>(0x80 >> (x & 7));
    uint8_t& byte = row(y)[x >> 3];
    byte = on ? static_cast<uint8_t>(byte | bit) : static_cast<uint8_t>(byte & ~bit);
  }
  const std::vector<uint8_t>& bytes() const { return bytes_; }

 private:
  int width_ = 0;
  int height_ = 0;
  int stride_ = 0;
  std::vector<uint8_t> bytes_;
};

// A picture as it came in or goes out: whichever of the three it is.
using Picture = std::variant<Gray, Colour, Bitonal>;

int width_of(const Picture& picture);
int height_of(const Picture& picture);

}  // namespace burnisher
