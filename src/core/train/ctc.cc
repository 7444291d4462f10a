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

// The lattice of one text over its frames: states are blank, first character, blank, second, ...,
// blank (Graves et al. 2006, section 4.1). All values are logarithms.
class Lattice {
 public:
  Lattice(const std::vector<int>& text, const std::vector<float>& probability, int frames,
          int classes)
      : text_(text), frames_(frames), states_(2 * static_cast<int>(text.size()) + 1) {
    emit_.resize(static_cast<size_t>(frames) * static_cast<size_t>(states_));
    for (int f = 0; f < frames; ++f) {
      const float* row = probability.data() + static_cast<size_t>(f) * static_cast<size_t>(classes);
      const float blank = std::log(std::max(kLeast, row[0]));
      for (int s = 0; s < states_; ++s)
        at(emit_, f, s) = s % 2 ? std::log(std::max(kLeast, row[klass(s)])) : blank;
    }
  }

  int states() const { return states_; }
  int klass(int s) const { return s % 2 ? text_[static_cast<size_t>(s / 2)] : 0; }

  // Fills in what leads to every state; returns the text's probability, kNever when it does not
  // fit into the frames.
  float forward() {
    alpha_.assign(emit_.size(), kNever);
    at(alpha_, 0, 0) = at(emit_, 0, 0);
    if (states_ > 1) at(alpha_, 0, 1) = at(emit_, 0, 1);
    for (int f = 1; f < frames_; ++f) {
      for (int s = 0; s < states_; ++s) {
        float sum = at(alpha_, f - 1, s);
        if (s >= 1) sum = log_sum(sum, at(alpha_, f - 1, s - 1));
        if (can_skip(s)) sum = log_sum(sum, at(alpha_, f - 1, s - 2));
        at(alpha_, f, s) = sum <= kNever / 2 ? kNever : sum + at(emit_, f, s);
      }
    }
    total_ = at(alpha_, frames_ - 1, states_ - 1);
    if (states_ > 1) total_ = log_sum(total_, at(alpha_, frames_ - 1, states_ - 2));
    return total_ <= kNever / 2 ? kNever : total_;
  }

  // Fills in what may still follow frame f from state s, without frame f itself.
  void backward() {
    beta_.assign(emit_.size(), kNever);
    at(beta_, frames_ - 1, states_ - 1) = 0;
    if (states_ > 1) at(beta_, frames_ - 1, states_ - 2) = 0;
    for (int f = frames_ - 2; f >= 0; --f) {
      for (int s = 0; s < states_; ++s) {
        float sum = onward(f, s);
        if (s + 1 < states_) sum = log_sum(sum, onward(f, s + 1));
        if (s + 2 < states_ && can_skip(s + 2)) sum = log_sum(sum, onward(f, s + 2));
        at(beta_, f, s) = sum;
      }
    }
  }

  // That state s stands at frame f, given the text. After both passes.
  float posterior(int f, int s) { return at(alpha_, f, s) + at(beta_, f, s) - total_; }

 private:
  static constexpr float kLeast = 1e-30f;  // probability; keeps logarithms finite

  float& at(std::vector<float>& values, int f, int s) const {
    return values[static_cast<size_t>(f) * static_cast<size_t>(states_) + static_cast<size_t>(s)];
  }
  // The blank between two equal characters cannot be left out.
  bool can_skip(int s) const { return s >= 2 && s % 2 && klass(s) != klass(s - 2); }
  float onward(int f, int s) {
    const float rest = at(beta_, f + 1, s);
    return rest <= kNever / 2 ? kNever : rest + at(emit_, f + 1, s);
  }

  const std::vector<int>& text_;
  int frames_, states_;
  std::vector<float> emit_, alpha_, beta_;
  float total_ = kNever;
};

}  // namespace

double ctc_loss(const float* scores, int frames, int classes, const std::vector<int>& text,
                float* gradient) {
  constexpr float kNegligible = -30;  // ln of a posterior that changes no gradient
  const size_t row = static_cast<size_t>(classes);
  std::vector<float> probability(static_cast<size_t>(frames) * row);
  for (int f = 0; f < frames; ++f) {
    softmax(scores + static_cast<size_t>(f) * row, classes,
            probability.data() + static_cast<size_t>(f) * row);
  }
  Lattice lattice(text, probability, frames, classes);
  const float total = lattice.forward();
  if (total == kNever) return 0;
  lattice.backward();
  for (int f = 0; f < frames; ++f) {
    float* out = gradient + static_cast<size_t>(f) * row;
    const float* p = probability.data() + static_cast<size_t>(f) * row;
    for (int c = 0; c < classes; ++c) out[c] += p[c];
    for (int s = 0; s < lattice.states(); ++s) {
      const float posterior = lattice.posterior(f, s);
      if (posterior > kNegligible) out[lattice.klass(s)] -= std::exp(posterior);
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
