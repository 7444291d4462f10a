#include "train/optimiser.h"

#include <algorithm>
#include <cmath>

#include "base/multiversion.h"

namespace burnisher::train {
namespace {

constexpr double kTiny = 1e-8;  // keeps quotients finite

bool ends_with(const std::string& name, const char* end) {
  const std::string tail(end);
  return name.size() >= tail.size() &&
         name.compare(name.size() - tail.size(), tail.size(), tail) == 0;
}

struct Rates {
  float beta1, beta2, step, root_correction, decay;
};

BURNISHER_MULTIVERSION
void update_one(const Rates& r, size_t count, const float* g, float* m, float* v, float* p) {
  for (size_t i = 0; i < count; ++i) {
    m[i] = r.beta1 * m[i] + (1 - r.beta1) * g[i];
    v[i] = r.beta2 * v[i] + (1 - r.beta2) * g[i] * g[i];
    p[i] -= r.step * m[i] / (std::sqrt(v[i]) * r.root_correction + static_cast<float>(kTiny)) +
            r.decay * p[i];
  }
}

}  // namespace

double learning_rate(const OptimiserSettings& settings, int64_t step, double progress) {
  const double warm = std::min(1.0, static_cast<double>(step + 1) / settings.warm_up_steps);
  const double fall = 0.5 * (1 + std::cos(3.14159265358979 * std::clamp(progress, 0.0, 1.0)));
  return settings.peak_rate * warm * (settings.last_share + (1 - settings.last_share) * fall);
}

double update(const OptimiserSettings& settings, double rate, ParameterMap& gradient,
              ParameterMap& parameters, OptimiserState& state) {
  double squares = 0;
  for (const auto& [name, values] : gradient) {
    for (float g : values) squares += static_cast<double>(g) * g;
  }
  const double length = std::sqrt(squares);
  if (!std::isfinite(length)) return length;  // a broken batch changes nothing
  ++state.step;
  const double shrink = length > settings.longest_gradient ? settings.longest_gradient / length : 1;
  const double correction1 = 1 - std::pow(settings.beta1, static_cast<double>(state.step));
  const double correction2 = 1 - std::pow(settings.beta2, static_cast<double>(state.step));
  for (auto& [name, g] : gradient) {
    if (shrink < 1) {
      for (float& value : g) value *= static_cast<float>(shrink);
    }
    std::vector<float>& p = parameters.at(name);
    state.first[name].resize(p.size());
    state.second[name].resize(p.size());
    const Rates rates{
        static_cast<float>(settings.beta1), static_cast<float>(settings.beta2),
        static_cast<float>(rate / correction1), static_cast<float>(1 / std::sqrt(correction2)),
        static_cast<float>(ends_with(name, ".weight") ? rate * settings.weight_decay : 0)};
    update_one(rates, p.size(), g.data(), state.first[name].data(), state.second[name].data(),
               p.data());
  }
  return length;
}

void average_in(const OptimiserSettings& settings, const ParameterMap& values,
                OptimiserState& state) {
  // Early on the mean follows quickly, or it would remember the random start.
  const double step = static_cast<double>(state.step);
  const auto keep = static_cast<float>(std::min(settings.average_keep, (1 + step) / (10 + step)));
  for (const auto& [name, now] : values) {
    std::vector<float>& mean = state.average[name];
    if (mean.size() != now.size()) mean = now;
    for (size_t i = 0; i < now.size(); ++i) mean[i] = keep * mean[i] + (1 - keep) * now[i];
  }
}

}  // namespace burnisher::train
