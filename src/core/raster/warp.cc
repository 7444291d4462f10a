#include "raster/warp.h"

#include <cmath>
#include <cstring>

#include "base/multiversion.h"

// The page is sampled tile by tile. The part of the source that a tile needs is brought into a
// buffer of floats first, one plane a channel, its border repeated outwards. Within a tile, rows
// are cut into spans along which the source pixel left of and above the sampled place moves by
// exactly one pixel a step, as it does nearly everywhere on a page that was scanned a few degrees
// crooked: then all loads are from neighbouring places and eight pixels are sampled at a time.

namespace burnisher {
namespace {

constexpr int kTileWidth = 256, kTileHeight = 32;  // the buffer stays within a core's cache
constexpr int kPiece = 32;                         // pixels along which a bent row is straight
constexpr int kGroup = 8;                          // pixels sampled together
constexpr int kFraction = 1 << 16;                 // source places in 1/65536 pixels

// Eight lanes: a language extension of GCC and Clang that every target has.
typedef float Lanes __attribute__((vector_size(kGroup * sizeof(float))));

// Catmull-Rom (Keys 1981, a = -1/2).
struct Weights {
  Lanes w[4];
};
BURNISHER_INLINE void find_weights(const Lanes& t, Weights& weights) {
  const Lanes t2 = t * t, t3 = t2 * t;
  weights.w[0] = -0.5f * t3 + t2 - 0.5f * t;
  weights.w[1] = 1.5f * t3 - 2.5f * t2 + 1.f;
  weights.w[2] = -1.5f * t3 + 2.f * t2 + 0.5f * t;
  weights.w[3] = 0.5f * t3 - 0.5f * t2;
}

// A part of the source as floats. Sample (x, y) of the source is at (x - x0, y - y0).
struct Buffer {
  int x0 = 0, y0 = 0, width = 0, height = 0;
  std::vector<float> samples;  // plane by plane
  float* plane(int c) { return samples.data() + static_cast<size_t>(c) * width * height; }
};

template <typename Dense>
BURNISHER_INLINE void fill_buffer(const Dense& source, const Box& part, Buffer& buffer) {
  constexpr int n = Dense::channels;
  const int right = source.width() + 2, below = source.height() + 2;
  buffer.x0 = std::clamp(static_cast<int>(std::floor(part.x0)) - 2, -2, right);
  buffer.y0 = std::clamp(static_cast<int>(std::floor(part.y0)) - 2, -2, below);
  buffer.width = std::clamp(static_cast<int>(part.x1) + 4, -1, right) - buffer.x0 + 4 + kGroup;
  buffer.height = std::max(4, std::clamp(static_cast<int>(part.y1) + 4, -1, below) - buffer.y0);
  buffer.samples.resize(static_cast<size_t>(n) * static_cast<size_t>(buffer.width) *
                        static_cast<size_t>(buffer.height));
  const int begin = std::clamp(-buffer.x0, 0, buffer.width),
            end = std::clamp(source.width() - buffer.x0, begin, buffer.width);
  for (int y = 0; y < buffer.height; ++y) {
    const uint8_t* row = source.row(std::clamp(buffer.y0 + y, 0, source.height() - 1));
    for (int c = 0; c < n; ++c) {
      float* to = buffer.plane(c) + static_cast<size_t>(y) * static_cast<size_t>(buffer.width);
      for (int x = 0; x < begin; ++x) to[x] = row[c];
      for (int x = begin; x < end; ++x) to[x] = row[(buffer.x0 + x) * n + c];
      for (int x = end; x < buffer.width; ++x) to[x] = row[(source.width() - 1) * n + c];
    }
  }
}

// A straight piece of a row: the source place of its first pixel and the step to the next, in
// fractions, counted from the centre of the buffer's first sample.
struct Piece {
  int64_t sx, sy, dx, dy;
};

// One span of `count` pixels, in whole groups; what is written beyond is written again later.
BURNISHER_INLINE void sample_span(const float* from, int stride, int count, float tx, float ty,
                                  float step_x, float step_y, float* to) {
  const Lanes ramp = {0, 1, 2, 3, 4, 5, 6, 7};
  for (int i = 0; i < count; i += kGroup) {
    const Lanes at = ramp + static_cast<float>(i);
    Weights wx, wy;
    find_weights(tx + at * step_x, wx);
    find_weights(ty + at * step_y, wy);
    Lanes sum = ramp * 0.f + 0.5f;
    for (int j = 0; j < 4; ++j) {
      const float* row = from + j * stride + i;
      Lanes across = ramp * 0.f;
      for (int k = 0; k < 4; ++k) {
        Lanes pixels;
        std::memcpy(&pixels, row + k, sizeof pixels);
        across += wx.w[k] * pixels;
      }
      sum += wy.w[j] * across;
    }
    std::memcpy(to + i, &sum, sizeof sum);
  }
}

// Steps until a fraction that moves by `step` leaves its pixel; at least 1.
BURNISHER_INLINE int steps_within(int64_t fraction, int64_t step, int most) {
  if (step == 0) return most;
  const int64_t room = step > 0 ? kFraction - 1 - fraction : fraction;
  return static_cast<int>(std::min<int64_t>(most, room / std::abs(step) + 1));
}

BURNISHER_INLINE void sample_piece(const float* plane, const Buffer& buffer, const Piece& piece,
                                   int count, float* to) {
  for (int x = 0; x < count;) {
    const int64_t sx = piece.sx + piece.dx * x, sy = piece.sy + piece.dy * x;
    const auto xi = static_cast<int>(sx >> 16), yi = static_cast<int>(sy >> 16);
    // Within a span the source runs one pixel ahead with every step: only the rest drifts. Where it
    // runs otherwise, as on pages turned sideways, a span is one pixel.
    const int64_t fx = sx & (kFraction - 1), fy = sy & (kFraction - 1),
                  drift = piece.dx - kFraction;
    const int run = steps_within(fx, drift, steps_within(fy, piece.dy, count - x));
    const int left = std::clamp(xi - 1, 0, buffer.width - 4 - kGroup),
              top = std::clamp(yi - 1, 0, std::max(0, buffer.height - 4));
    const int fits = std::min(run, std::max(1, buffer.width - left - 3 - kGroup));
    sample_span(plane + static_cast<size_t>(top) * static_cast<size_t>(buffer.width) + left,
                buffer.width, fits, static_cast<float>(fx) / kFraction,
                static_cast<float>(fy) / kFraction, static_cast<float>(drift) / kFraction,
                static_cast<float>(piece.dy) / kFraction, to + x);
    x += fits;
  }
}

struct Tile {
  int x0, y0, x1, y1;
};

template <typename Dense>
BURNISHER_INLINE void warp_tile(const Dense& source, const PlaneMap& map, const Tile& tile,
                                uint8_t fill, Buffer& buffer, Dense& out) {
  constexpr int n = Dense::channels;
  const int length = map.is_affine() ? kTileWidth : kPiece;
  std::vector<Point> seen;
  for (int y : {tile.y0, (tile.y0 + tile.y1) / 2, tile.y1}) {
    for (int x = tile.x0; x < tile.x1 + length; x += length)
      seen.push_back(map({static_cast<double>(std::min(x, tile.x1)), static_cast<double>(y)}));
  }
  fill_buffer(source, bounds(seen), buffer);
  float sums[kTileWidth + kGroup];
  for (int y = tile.y0; y < tile.y1; ++y) {
    for (int x = tile.x0; x < tile.x1; x += length) {
      const int end = std::min(tile.x1, x + length), count = end - x;
      const Point a = map({x + 0.5, y + 0.5}), b = map({end + 0.5, y + 0.5});
      const Point step = (b - a) * (1.0 / count);
      const auto fraction = [](double v) {
        return static_cast<int64_t>(std::llround(v * kFraction));
      };
      const Piece piece{fraction(a.x - 0.5 - buffer.x0), fraction(a.y - 0.5 - buffer.y0),
                        fraction(step.x), fraction(step.y)};
      uint8_t* to = out.row(y) + x * n;
      for (int c = 0; c < n; ++c) {
        sample_piece(buffer.plane(c), buffer, piece, count, sums);
        for (int i = 0; i < count; ++i) {
          const float v = std::min(std::max(sums[i], 0.f), 255.f);
          to[i * n + c] = static_cast<uint8_t>(static_cast<int>(v));
        }
      }
      const auto outside = [&](const Point& p) {
        return p.x < 0 || p.y < 0 || p.x > source.width() || p.y > source.height();
      };
      if (!outside(a) && !outside(b)) continue;
      for (int i = 0; i < count; ++i) {
        if (!outside(a + step * i)) continue;
        for (int c = 0; c < n; ++c) to[i * n + c] = fill;
      }
    }
  }
}

template <typename Dense>
BURNISHER_INLINE void warp_all(const Dense& source, const PlaneMap& map, uint8_t fill, Dense& out) {
  Buffer buffer;
  for (int y = 0; y < out.height(); y += kTileHeight) {
    for (int x = 0; x < out.width(); x += kTileWidth) {
      const Tile tile{x, y, std::min(out.width(), x + kTileWidth),
                      std::min(out.height(), y + kTileHeight)};
      warp_tile(source, map, tile, fill, buffer, out);
    }
  }
}

BURNISHER_MULTIVERSION
void warp_gray(const Gray& source, const PlaneMap& map, uint8_t fill, Gray& out) {
  warp_all(source, map, fill, out);
}

BURNISHER_MULTIVERSION
void warp_colour(const Colour& source, const PlaneMap& map, uint8_t fill, Colour& out) {
  warp_all(source, map, fill, out);
}

}  // namespace

Gray warped(const Gray& source, const PlaneMap& to_source, int width, int height, uint8_t fill) {
  Gray out(width, height);
  warp_gray(source, to_source, fill, out);
  return out;
}

Colour warped(const Colour& source, const PlaneMap& to_source, int width, int height,
              uint8_t fill) {
  Colour out(width, height);
  warp_colour(source, to_source, fill, out);
  return out;
}

}  // namespace burnisher
