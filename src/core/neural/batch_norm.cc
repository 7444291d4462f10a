#include "neural/batch_norm.h"

#include <algorithm>
#include <cmath>

#include "base/multiversion.h"
#include "neural/conv_shape.h"

namespace burnisher::neural {
namespace {

constexpr size_t kBlock = 512;  // rows summed in single precision before they join the total

// Sums of a and of b over the rows, per channel. `term` writes the two summands of one row.
template <typename Term>
inline void sums(size_t rows, size_t channels, std::vector<double>& first,
                 std::vector<double>& second, const Term& term) {
  std::vector<float> a(channels), b(channels);
  for (size_t start = 0; start < rows; start += kBlock) {
    std::fill(a.begin(), a.end(), 0.f);
    std::fill(b.begin(), b.end(), 0.f);
    for (size_t r = start; r < std::min(rows, start + kBlock); ++r) term(r, a.data(), b.data());
    for (size_t c = 0; c < channels; ++c) {
      first[c] += a[c];
      second[c] += b[c];
    }
  }
}

// Every channel's value becomes the mean over its group.
void spread(size_t group, std::vector<double>& values) {
  for (size_t first = 0; group > 1 && first < values.size(); first += group) {
    double sum = 0;
    for (size_t c = first; c < first + group; ++c) sum += values[c];
    std::fill_n(values.begin() + static_cast<long>(first), group, sum / static_cast<double>(group));
  }
}

}  // namespace

BURNISHER_MULTIVERSION
void norm_forward(const float* in, const NormShape& shape, const std::vector<float>& gain,
                  const std::vector<float>& shift, const float* skip, NormState& state,
                  float* out) {
  const size_t rows = shape.rows, channels = shape.channels;
  std::vector<double> sum(channels), squares(channels);
  sums(rows, channels, sum, squares, [&](size_t r, float* a, float* b) {
    const float* row = in + r * channels;
    for (size_t c = 0; c < channels; ++c) {
      a[c] += row[c];
      b[c] += row[c] * row[c];
    }
  });
  spread(shape.group, sum);
  spread(shape.group, squares);
  state.mean.resize(channels);
  state.variance.resize(channels);
  std::vector<float> scale(channels), offset(channels);
  for (size_t c = 0; c < channels; ++c) {
    const double mean = sum[c] / static_cast<double>(rows);
    const double variance = std::max(0.0, squares[c] / static_cast<double>(rows) - mean * mean);
    state.mean[c] = static_cast<float>(mean);
    state.variance[c] = static_cast<float>(variance);
    scale[c] = gain[c] / std::sqrt(state.variance[c] + kNormEpsilon);
    offset[c] = shift[c] - state.mean[c] * scale[c];
  }
  const float *s = scale.data(), *o = offset.data();
  for (size_t r = 0; r < rows; ++r) {
    const float* row = in + r * channels;
    float* to = out + r * channels;
    for (size_t c = 0; c < channels; ++c) to[c] = std::max(0.f, row[c] * s[c] + o[c]);
    if (skip == nullptr) continue;
    const float* add = skip + r * channels;
    for (size_t c = 0; c < channels; ++c) to[c] += add[c];
  }
}

BURNISHER_MULTIVERSION
void norm_backward(const float* in, const float* out_gradient, const NormShape& shape,
                   const std::vector<float>& gain, const std::vector<float>& shift,
                   const NormState& state, float* in_gradient, std::vector<float>& gain_gradient,
                   std::vector<float>& shift_gradient) {
  const size_t rows = shape.rows, channels = shape.channels;
  std::vector<float> inverse(channels), scale(channels), offset(channels);
  for (size_t c = 0; c < channels; ++c) {
    inverse[c] = 1 / std::sqrt(state.variance[c] + kNormEpsilon);
    scale[c] = gain[c] * inverse[c];
    offset[c] = shift[c] - state.mean[c] * scale[c];
  }
  const float *s = scale.data(), *o = offset.data(), *m = state.mean.data(), *v = inverse.data();
  std::vector<double> sum(channels), product(channels);
  sums(rows, channels, sum, product, [&](size_t r, float* a, float* b) {
    const float* row = in + r * channels;
    const float* g = out_gradient + r * channels;
    for (size_t c = 0; c < channels; ++c) {
      const float passed = row[c] * s[c] + o[c] > 0 ? g[c] : 0.f;
      a[c] += passed;
      b[c] += passed * (row[c] - m[c]) * v[c];
    }
  });
  gain_gradient.resize(channels);
  shift_gradient.resize(channels);
  std::vector<float> mean_gradient(channels), mean_product(channels);
  for (size_t c = 0; c < channels; ++c) {
    gain_gradient[c] = static_cast<float>(product[c]);
    shift_gradient[c] = static_cast<float>(sum[c]);
    sum[c] *= gain[c] / static_cast<double>(rows);
    product[c] *= gain[c] / static_cast<double>(rows);
  }
  spread(shape.group, sum);
  spread(shape.group, product);
  for (size_t c = 0; c < channels; ++c) {
    mean_gradient[c] = static_cast<float>(sum[c]) * v[c];
    mean_product[c] = static_cast<float>(product[c]) * v[c] * v[c];
  }
  const float *mg = mean_gradient.data(), *mp = mean_product.data();
  for (size_t r = 0; r < rows; ++r) {
    const float* row = in + r * channels;
    const float* g = out_gradient + r * channels;
    float* to = in_gradient + r * channels;
    for (size_t c = 0; c < channels; ++c) {
      const float passed = row[c] * s[c] + o[c] > 0 ? g[c] : 0.f;
      to[c] = s[c] * passed - mg[c] - (row[c] - m[c]) * mp[c];
    }
  }
}

}  // namespace burnisher::neural
