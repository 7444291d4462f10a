// The published threshold that others are held against.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

#include "raster/image.h"

namespace burnisher::testing {

// As written in their paper (Sauvola and Pietikainen 2000): k = 0.5, R = 128.
inline Bitonal sauvola(const Gray& page, int window) {
  const int w = page.width(), h = page.height(), reach = window / 2;
  std::vector<double> sums(static_cast<size_t>((w + 1) * (h + 1))), squares(sums);
  const auto at = [&](int x, int y) { return static_cast<size_t>(y * (w + 1) + x); };
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const double v = page.row(y)[x];
      sums[at(x + 1, y + 1)] = v + sums[at(x, y + 1)] + sums[at(x + 1, y)] - sums[at(x, y)];
      squares[at(x + 1, y + 1)] =
          v * v + squares[at(x, y + 1)] + squares[at(x + 1, y)] - squares[at(x, y)];
    }
  }
  Bitonal ink(w, h);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const int x0 = std::max(0, x - reach), x1 = std::min(w, x + reach + 1),
                y0 = std::max(0, y - reach), y1 = std::min(h, y + reach + 1);
      const double count = (x1 - x0) * (y1 - y0);
      const auto total = [&](const std::vector<double>& t) {
        return t[at(x1, y1)] - t[at(x0, y1)] - t[at(x1, y0)] + t[at(x0, y0)];
      };
      const double mean = total(sums) / count;
      const double deviation = std::sqrt(std::max(0.0, total(squares) / count - mean * mean));
      if (page.row(y)[x] < mean * (1 + 0.5 * (deviation / 128 - 1))) ink.set_ink(x, y, true);
    }
  }
  return ink;
}

}  // namespace burnisher::testing
