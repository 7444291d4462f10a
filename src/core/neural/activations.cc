#include "neural/activations.h"

#include <algorithm>

#include "base/multiversion.h"

namespace burnisher::neural {

void double_size(const float* from, const TensorShape& shape, float* to) {
  const size_t c = static_cast<size_t>(shape.c), w = static_cast<size_t>(shape.w);
  for (size_t y = 0; y < static_cast<size_t>(shape.n * shape.h); ++y) {
    float* row = to + 4 * y * w * c;
    for (size_t x = 0; x < w; ++x) {
      for (const size_t k : {2 * x, 2 * x + 1}) std::copy_n(from + (y * w + x) * c, c, row + k * c);
    }
    std::copy_n(row, 2 * w * c, row + 2 * w * c);
  }
}

BURNISHER_MULTIVERSION void halve_gradient(const float* from, const TensorShape& shape, float* to) {
  const size_t c = static_cast<size_t>(shape.c), w = static_cast<size_t>(shape.w);
  for (size_t y = 0; y < static_cast<size_t>(shape.n * shape.h); ++y) {
    const float *upper = from + 4 * y * w * c, *lower = upper + 2 * w * c;
    float* row = to + y * w * c;
    for (size_t x = 0; x < w; ++x) {
      for (size_t k = 0; k < c; ++k) {
        const size_t left = 2 * x * c + k, right = left + c;
        row[x * c + k] = upper[left] + upper[right] + lower[left] + lower[right];
      }
    }
  }
}

BURNISHER_MULTIVERSION void add(const float* values, size_t count, float* to) {
  for (size_t i = 0; i < count; ++i) to[i] += values[i];
}

}  // namespace burnisher::neural
