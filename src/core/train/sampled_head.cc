#include "train/sampled_head.h"

#include <dnnl.h>

#include <algorithm>
#include <cmath>
#include <stdexcept>

#include "base/multiversion.h"
#include "recognise/model.h"

namespace burnisher::train {
namespace {

constexpr float kBlankWeight = 0.35f;  // of a frame that says nothing, as in the alignment loss
constexpr double kClear = 1.5;         // frames from a middle on which nothing is said

// C = op(A) op(B) + beta C, all row by row.
void multiply(bool a_turned, bool b_turned, size_t rows, size_t columns, size_t inner,
              const float* a, const float* b, float beta, float* c) {
  const auto m = static_cast<dnnl_dim_t>(rows), n = static_cast<dnnl_dim_t>(columns),
             k = static_cast<dnnl_dim_t>(inner);
  if (dnnl_sgemm(a_turned ? 'T' : 'N', b_turned ? 'T' : 'N', m, n, k, 1.f, a, a_turned ? m : k, b,
                 b_turned ? k : n, beta, c, n) != dnnl_success)
    throw std::logic_error("a product of matrices whose shapes do not fit");
}

// Scores of one frame -> gradient of its loss times `weight`. Returns the loss times `weight`.
BURNISHER_MULTIVERSION float to_gradient(float* scores, size_t classes, size_t klass,
                                         float weight) {
  float top = scores[0];
  for (size_t c = 1; c < classes; ++c) top = std::max(top, scores[c]);
  const float own = scores[klass] - top;
  float sum = 0;
  for (size_t c = 0; c < classes; ++c) sum += scores[c] = std::exp(scores[c] - top);
  const float scale = weight / sum;
  for (size_t c = 0; c < classes; ++c) scores[c] *= scale;
  scores[klass] -= weight;
  return weight * (std::log(sum) - own);
}

}  // namespace

std::vector<FrameTarget> frame_targets(const TrainingLine& line, int frames, Random& random) {
  std::vector<FrameTarget> targets;
  std::vector<double> middles;
  for (size_t i = 0; i < line.centres.size(); ++i) {
    const double middle = line.centres[i] / recognise::kFrameWidth - 0.5;
    const int frame = static_cast<int>(std::lround(middle));
    if (frame >= 0 && frame < frames) targets.push_back({frame, line.classes[i]});
    middles.push_back(middle);
  }
  std::sort(middles.begin(), middles.end());
  // Of each gap, and of what lies before the first and after the last, the frame next to a middle
  // and any other.
  for (size_t i = 0; i <= middles.size() && !middles.empty(); ++i) {
    const double from = i == 0 ? -1e9 : middles[i - 1], to = i == middles.size() ? 1e9 : middles[i];
    const int first = std::max(0, static_cast<int>(std::ceil(from + kClear))),
              last = std::min(frames - 1, static_cast<int>(std::floor(to - kClear)));
    if (last < first) continue;
    const bool before = i == 0 || (i < middles.size() && random.chance(0.5));
    targets.push_back({before ? last : first, 0});
    if (last > first) targets.push_back({first + random.index(last - first + 1), 0});
  }
  return targets;
}

double sampled_head_loss(const HeadView& head, const std::vector<float>& context,
                         const std::vector<FrameTarget>& targets,
                         std::vector<float>& context_gradient, HeadGradient& gradient) {
  const size_t classes = head.bias.size(), channels = head.weight.size() / classes,
               count = targets.size();
  gradient.weight.assign(head.weight.size(), 0.f);
  gradient.bias.assign(classes, 0.f);
  if (count == 0) return 0;
  std::vector<float> rows(count * channels), scores(count * classes), back(count * channels);
  for (size_t t = 0; t < count; ++t)
    std::copy_n(
        context.begin() + static_cast<long>(static_cast<size_t>(targets[t].frame) * channels),
        channels, rows.begin() + static_cast<long>(t * channels));
  for (size_t t = 0; t < count; ++t)
    std::copy(head.bias.begin(), head.bias.end(), scores.begin() + static_cast<long>(t * classes));
  multiply(false, true, count, classes, channels, rows.data(), head.weight.data(), 1,
           scores.data());
  double loss = 0;
  for (size_t t = 0; t < count; ++t) {
    float* const row = scores.data() + t * classes;
    loss += to_gradient(row, classes, static_cast<size_t>(targets[t].klass),
                        targets[t].klass == 0 ? kBlankWeight : 1.f);
    for (size_t c = 0; c < classes; ++c) gradient.bias[c] += row[c];
  }
  multiply(true, false, classes, channels, count, scores.data(), rows.data(), 0,
           gradient.weight.data());
  multiply(false, false, count, channels, classes, scores.data(), head.weight.data(), 0,
           back.data());
  for (size_t t = 0; t < count; ++t) {
    float* const to = context_gradient.data() + static_cast<size_t>(targets[t].frame) * channels;
    for (size_t c = 0; c < channels; ++c) to[c] += back[t * channels + c];
  }
  return loss;
}

}  // namespace burnisher::train
