#include "raster/turn.h"

#include <algorithm>

namespace burnisher {
namespace {

// Where the pixel at (x, y) of the turned picture comes from.
template <typename Dense>
Dense turned_dense(const Dense& picture, int degrees) {
  constexpr int n = Dense::channels;
  const bool sideways = degrees == 90 || degrees == 270;
  const int width = picture.width(), height = picture.height();
  Dense out(sideways ? height : width, sideways ? width : height);
  constexpr int kTile = 32;  // both pictures stay within the cache
  for (int ty = 0; ty < out.height(); ty += kTile) {
    for (int tx = 0; tx < out.width(); tx += kTile) {
      for (int y = ty; y < std::min(out.height(), ty + kTile); ++y) {
        auto* to = out.row(y) + static_cast<size_t>(tx) * n;
        for (int x = tx; x < std::min(out.width(), tx + kTile); ++x) {
          const int from_x = degrees == 90 ? width - 1 - y : degrees == 270 ? y : width - 1 - x;
          const int from_y = degrees == 90 ? x : height - 1 - (degrees == 270 ? x : y);
          const auto* from = picture.row(from_y) + static_cast<size_t>(from_x) * n;
          for (int c = 0; c < n; ++c) *to++ = from[c];
        }
      }
    }
  }
  return out;
}

Bitonal turned_bits(const Bitonal& picture, int degrees) {
  const bool sideways = degrees == 90 || degrees == 270;
  const int width = picture.width(), height = picture.height();
  Bitonal out(sideways ? height : width, sideways ? width : height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      if (!picture.ink(x, y)) continue;
      if (degrees == 90) out.set_ink(y, width - 1 - x, true);
      if (degrees == 180) out.set_ink(width - 1 - x, height - 1 - y, true);
      if (degrees == 270) out.set_ink(height - 1 - y, x, true);
    }
  }
  return out;
}

template <typename Dense>
Dense cut_dense(const Dense& picture, int x0, int y0, int x1, int y1) {
  constexpr int n = Dense::channels;
  Dense part(x1 - x0, y1 - y0);
  for (int y = y0; y < y1; ++y) {
    const auto* row = picture.row(y) + static_cast<size_t>(x0) * n;
    std::copy(row, row + static_cast<size_t>(x1 - x0) * n, part.row(y - y0));
  }
  return part;
}

Bitonal cut_bits(const Bitonal& picture, int x0, int y0, int x1, int y1) {
  Bitonal part(x1 - x0, y1 - y0);
  for (int y = y0; y < y1; ++y) {
    for (int x = x0; x < x1; ++x) {
      if (picture.ink(x, y)) part.set_ink(x - x0, y - y0, true);
    }
  }
  return part;
}

}  // namespace

Gray turned(const Gray& picture, int degrees) {
  return degrees == 0 ? picture.clone() : turned_dense(picture, degrees);
}

Picture turned(const Picture& picture, int degrees) {
  if (const auto* gray = std::get_if<Gray>(&picture)) return turned(*gray, degrees);
  if (const auto* colour = std::get_if<Colour>(&picture))
    return degrees == 0 ? colour->clone() : turned_dense(*colour, degrees);
  const auto& bits = std::get<Bitonal>(picture);
  return degrees == 0 ? bits.clone() : turned_bits(bits, degrees);
}

Bitonal transposed(const Bitonal& picture) {
  Bitonal out(picture.height(), picture.width());
  // Eight by eight bits at a time (Warren 2002, Hacker's Delight, 7-3).
  for (int y = 0; y < picture.height(); y += 8) {
    for (int k = 0; k < picture.stride(); ++k) {
      uint64_t block = 0;
      for (int j = 0; j < 8; ++j)
        block = block << 8 | (y + j < picture.height() ? picture.row(y + j)[k] : 0u);
      if (block == 0) continue;
      uint64_t t = (block ^ (block >> 7)) & 0x00aa00aa00aa00aaull;
      block ^= t ^ (t << 7);
      t = (block ^ (block >> 14)) & 0x0000cccc0000ccccull;
      block ^= t ^ (t << 14);
      t = (block ^ (block >> 28)) & 0x00000000f0f0f0f0ull;
      block ^= t ^ (t << 28);
      for (int j = 0; j < 8 && k * 8 + j < out.height(); ++j)
        out.row(k * 8 + j)[y >> 3] = static_cast<uint8_t>(block >> (56 - 8 * j));
    }
  }
  return out;
}

Gray cut_out(const Gray& picture, int x0, int y0, int x1, int y1) {
  return cut_dense(picture, x0, y0, x1, y1);
}

Picture cut_out(const Picture& picture, int x0, int y0, int x1, int y1) {
  if (const auto* gray = std::get_if<Gray>(&picture)) return cut_dense(*gray, x0, y0, x1, y1);
  if (const auto* colour = std::get_if<Colour>(&picture)) return cut_dense(*colour, x0, y0, x1, y1);
  return cut_bits(std::get<Bitonal>(picture), x0, y0, x1, y1);
}

}  // namespace burnisher
