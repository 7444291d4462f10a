#include "raster/blur.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "base/multiversion.h"

namespace burnisher {
namespace {

std::vector<float> kernel(double sigma) {
  const int radius = std::max(1, static_cast<int>(std::ceil(2.5 * sigma)));
  std::vector<float> taps(static_cast<size_t>(2 * radius + 1));
  double sum = 0;
  for (int i = -radius; i <= radius; ++i) sum += std::exp(-0.5 * i * i / (sigma * sigma));
  for (int i = -radius; i <= radius; ++i) {
    taps[static_cast<size_t>(i + radius)] =
        static_cast<float>(std::exp(-0.5 * i * i / (sigma * sigma)) / sum);
  }
  return taps;
}

}  // namespace

BURNISHER_MULTIVERSION void gaussian_blur(FloatImage& field, double sigma) {
  if (sigma <= 0.2 || field.empty()) return;
  const std::vector<float> taps = kernel(sigma);
  const int radius = static_cast<int>(taps.size() / 2), width = field.width(),
            height = field.height();
  FloatImage across(width, height);
  std::vector<float> padded(static_cast<size_t>(width + 2 * radius));
  for (int y = 0; y < height; ++y) {
    const float* row = field.row(y);
    std::fill_n(padded.begin(), radius, row[0]);
    std::copy_n(row, width, padded.begin() + radius);
    std::fill_n(padded.begin() + radius + width, radius, row[width - 1]);
    float* out = across.row(y);
    for (size_t k = 0; k < taps.size(); ++k) {
      const float tap = taps[k];
      const float* from = padded.data() + k;
      for (int x = 0; x < width; ++x) out[x] += tap * from[x];
    }
  }
  for (int y = 0; y < height; ++y) {
    float* out = field.row(y);
    std::fill_n(out, width, 0.f);
    for (int k = -radius; k <= radius; ++k) {
      const float tap = taps[static_cast<size_t>(k + radius)];
      const float* from = across.row(std::clamp(y + k, 0, height - 1));
      for (int x = 0; x < width; ++x) out[x] += tap * from[x];
    }
  }
}

}  // namespace burnisher
