#include "train/ctc.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "base/log_sum.h"
#include "base/multiversion.h"

namespace burnisher::train {
namespace {

constexpr float kNever = -1e30f;  // logarithm of 0

BURNISHER_MULTIVERSION void softmax(const float* scores, int classes, float* out) {
  float top = scores[0];
  for (int c = 1; c < classes; ++c) top = std::max(top, scores[c]);
  float sum = 0;
  for (int c = 0; c < classes; ++c) sum += out[c] = std::exp(scores[c] - top);
  const float scale = 1 / sum;
  for (int c = 0; c < classes; ++c) out[c] *= scale;
}

}  // namespace

double ctc_loss(const float* scores, int frames, int classes, const std::vector<int>& text,
                float* gradient) {
  // States: blank, first character, blank, second, ..., blank.
  const int states = 2 * static_cast<int>(text.size()) + 1;
  const auto klass = [&](int s) { return s % 2 ? text[static_cast<size_t>(s / 2)] : 0; };
  const auto can_skip = [&](int s) { return s >= 2 && s % 2 && klass(s) != klass(s - 2); };
  const size_t row = static_cast<size_t>(classes), width = static_cast<size_t>(states);
  std::vector<float> p(static_cast<size_t>(frames) * row);
  for (int f = 0; f < frames; ++f) {
    softmax(scores + static_cast<size_t>(f) * row, classes,
            p.data() + static_cast<size_t>(f) * row);
  }
  const auto log_p = [&](int f, int s) {
    return std::log(
        std::max(1e-30f, p[static_cast<size_t>(f) * row + static_cast<size_t>(klass(s))]));
  };
  std::vector<float> emit(static_cast<size_t>(frames) * width);
  for (int f = 0; f < frames; ++f) {
    const float blank = log_p(f, 0);
    for (int s = 0; s < states; ++s) {
      emit[static_cast<size_t>(f) * width + static_cast<size_t>(s)] = s % 2 ? log_p(f, s) : blank;
    }
  }
  std::vector<float> alpha(emit.size(), kNever), beta(emit.size(), kNever);
  const auto at = [&](std::vector<float>& v, int f, int s) -> float& {
    return v[static_cast<size_t>(f) * width + static_cast<size_t>(s)];
  };
  at(alpha, 0, 0) = at(emit, 0, 0);
  if (states > 1) at(alpha, 0, 1) = at(emit, 0, 1);
  for (int f = 1; f < frames; ++f) {
    for (int s = 0; s < states; ++s) {
      float sum = at(alpha, f - 1, s);
      if (s >= 1) sum = log_sum(sum, at(alpha, f - 1, s - 1));
      if (can_skip(s)) sum = log_sum(sum, at(alpha, f - 1, s - 2));
      at(alpha, f, s) = sum <= kNever / 2 ? kNever : sum + at(emit, f, s);
    }
  }
  float total = at(alpha, frames - 1, states - 1);
  if (states > 1) total = log_sum(total, at(alpha, frames - 1, states - 2));
  if (total <= kNever / 2) return 0;
  // beta: what may still follow frame f from state s, without frame f itself.
  at(beta, frames - 1, states - 1) = 0;
  if (states > 1) at(beta, frames - 1, states - 2) = 0;
  for (int f = frames - 2; f >= 0; --f) {
    for (int s = 0; s < states; ++s) {
      const auto onward = [&](int t) {
        const float rest = at(beta, f + 1, t);
        return rest <= kNever / 2 ? kNever : rest + at(emit, f + 1, t);
      };
      float sum = onward(s);
      if (s + 1 < states) sum = log_sum(sum, onward(s + 1));
      if (s + 2 < states && can_skip(s + 2)) sum = log_sum(sum, onward(s + 2));
      at(beta, f, s) = sum;
    }
  }
  for (int f = 0; f < frames; ++f) {
    float* out = gradient + static_cast<size_t>(f) * row;
    const float* probability = p.data() + static_cast<size_t>(f) * row;
    for (int c = 0; c < classes; ++c) out[c] += probability[c];
    for (int s = 0; s < states; ++s) {
      const float posterior = at(alpha, f, s) + at(beta, f, s) - total;
      if (posterior > -30) out[klass(s)] -= std::exp(posterior);
    }
  }
  return -total;
}

double alignment_loss(const float* scores, int frames, int classes, const std::vector<int>& text,
                      const std::vector<int>& at, double strength, double blank_weight,
                      float* gradient) {
  std::vector<int> wanted(static_cast<size_t>(frames), 0);
  for (size_t i = 0; i < text.size(); ++i) {
    if (at[i] >= 0 && at[i] < frames) wanted[static_cast<size_t>(at[i])] = text[i];
  }
  std::vector<float> p(static_cast<size_t>(classes));
  double loss = 0;
  for (int f = 0; f < frames; ++f) {
    const int klass = wanted[static_cast<size_t>(f)];
    const double weight = klass == 0 ? blank_weight : 1.0;
    const size_t row = static_cast<size_t>(f) * static_cast<size_t>(classes);
    softmax(scores + row, classes, p.data());
    loss -= weight * std::log(std::max(1e-30f, p[static_cast<size_t>(klass)]));
    const float scale = static_cast<float>(strength * weight);
    for (int c = 0; c < classes; ++c)
      gradient[row + static_cast<size_t>(c)] += scale * p[static_cast<size_t>(c)];
    gradient[row + static_cast<size_t>(klass)] -= scale;
  }
  return loss;
}

}  // namespace burnisher::train
