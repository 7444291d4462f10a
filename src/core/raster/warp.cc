#include "raster/warp.h"

#include <array>
#include <cmath>

#include "base/multiversion.h"

namespace burnisher {
namespace {

constexpr int kPhases = 64;  // positions between two pixels that weights are kept for

using Weights = std::array<float, 4>;

// Catmull-Rom (Keys 1981, a = -1/2).
const std::array<Weights, kPhases + 1>& weights() {
  static const auto table = [] {
    std::array<Weights, kPhases + 1> made{};
    for (int i = 0; i <= kPhases; ++i) {
      const float t = static_cast<float>(i) / kPhases;
      made[static_cast<size_t>(i)] = {((-0.5f * t + 1) * t - 0.5f) * t,
                                      (1.5f * t - 2.5f) * t * t + 1,
                                      ((-1.5f * t + 2) * t + 0.5f) * t, (0.5f * t - 0.5f) * t * t};
    }
    return made;
  }();
  return table;
}

template <typename Dense>
inline void warp_row(const Dense& source, const Affine& map, int y, const Weights* table,
                     uint8_t fill, Dense& out) {
  constexpr int n = Dense::channels;
  uint8_t* to = out.row(y);
  const Point start = map({0.5, y + 0.5});
  const int width = source.width(), height = source.height(), stride = width * n;
  for (int x = 0; x < out.width(); ++x, to += n) {
    const double sx = start.x + map.a * x - 0.5, sy = start.y + map.d * x - 0.5;
    if (sx < -0.5 || sy < -0.5 || sx > width - 0.5 || sy > height - 0.5) {
      for (int c = 0; c < n; ++c) to[c] = fill;
      continue;
    }
    const int xi = static_cast<int>(sx + 4) - 4, yi = static_cast<int>(sy + 4) - 4;
    const Weights& wx = table[static_cast<int>((sx - xi) * kPhases + 0.5)];
    const Weights& wy = table[static_cast<int>((sy - yi) * kPhases + 0.5)];
    float sum[n] = {};
    if (xi >= 1 && yi >= 1 && xi + 2 < width && yi + 2 < height) {
      const uint8_t* from = source.row(yi - 1) + (xi - 1) * n;
      for (size_t j = 0; j < 4; ++j, from += stride) {
        for (int c = 0; c < n; ++c) {
          sum[c] += wy[j] * (wx[0] * from[c] + wx[1] * from[n + c] + wx[2] * from[2 * n + c] +
                             wx[3] * from[3 * n + c]);
        }
      }
    } else {
      for (int j = 0; j < 4; ++j) {
        const uint8_t* row = source.row(std::clamp(yi + j - 1, 0, height - 1));
        for (int i = 0; i < 4; ++i) {
          const uint8_t* from = row + std::clamp(xi + i - 1, 0, width - 1) * n;
          for (int c = 0; c < n; ++c) {
            sum[c] += wy[static_cast<size_t>(j)] * wx[static_cast<size_t>(i)] * from[c];
          }
        }
      }
    }
    for (int c = 0; c < n; ++c) {
      to[c] = static_cast<uint8_t>(std::clamp(sum[c] + 0.5f, 0.f, 255.f));
    }
  }
}

BURNISHER_MULTIVERSION
void warp_gray(const Gray& source, const Affine& map, const Weights* table, uint8_t fill,
               Gray& out) {
  for (int y = 0; y < out.height(); ++y) warp_row(source, map, y, table, fill, out);
}

BURNISHER_MULTIVERSION
void warp_colour(const Colour& source, const Affine& map, const Weights* table, uint8_t fill,
                 Colour& out) {
  for (int y = 0; y < out.height(); ++y) warp_row(source, map, y, table, fill, out);
}

}  // namespace

Gray warped(const Gray& source, const Affine& to_source, int width, int height, uint8_t fill) {
  Gray out(width, height);
  warp_gray(source, to_source, weights().data(), fill, out);
  return out;
}

Colour warped(const Colour& source, const Affine& to_source, int width, int height, uint8_t fill) {
  Colour out(width, height);
  warp_colour(source, to_source, weights().data(), fill, out);
  return out;
}

}  // namespace burnisher
