#include "train/network_state.h"

#include <cmath>

#include "base/random.h"

namespace burnisher::train {

using neural::ConvShape;

namespace {
constexpr float kStatisticsMomentum = 0.05f;  // share of a new batch in running means
}

void initialise(const std::vector<ConvShape>& layers, uint64_t seed, RunState& state) {
  Random random(seed);
  for (const ConvShape& l : layers) {
    const size_t fan_in = static_cast<size_t>(l.in * l.kernel_h * l.kernel_w);
    const size_t out = static_cast<size_t>(l.out);
    auto& weight = state.parameters[l.name + ".weight"];
    weight.resize(fan_in * out);
    const double spread = l.normalised ? std::sqrt(2.0 / static_cast<double>(fan_in)) : 0.02;
    for (float& w : weight) w = static_cast<float>(spread * random.normal());
    if (l.normalised) {
      state.parameters[l.name + ".gain"].assign(out, l.residual ? 0.5f : 1.f);
      state.parameters[l.name + ".shift"].assign(out, 0.f);
      if (l.norm_group > 0) continue;
      state.statistics[l.name + ".mean"].assign(out, 0.f);
      state.statistics[l.name + ".variance"].assign(out, 1.f);
    } else {
      state.parameters[l.name + ".bias"].assign(out, 0.f);
    }
  }
}

void follow(const std::vector<ConvShape>& layers, const BatchStatistics& batch, RunState& state) {
  size_t k = 0;
  for (const ConvShape& l : layers) {
    if (!l.normalised) continue;
    const auto blend = [](std::vector<float>& running, const std::vector<float>& now) {
      for (size_t i = 0; i < now.size(); ++i) {
        running[i] += kStatisticsMomentum * (now[i] - running[i]);
      }
    };
    blend(state.statistics[l.name + ".mean"], batch.mean[k]);
    blend(state.statistics[l.name + ".variance"], batch.variance[k]);
    ++k;
  }
}

void add_gradient(const ParameterMap& gradient, ParameterMap& sum) {
  for (const auto& [name, values] : gradient) {
    std::vector<float>& to = sum[name];
    if (to.empty()) to.assign(values.size(), 0.f);
    for (size_t i = 0; i < values.size(); ++i) to[i] += values[i];
  }
}

neural::Tensors averaged(const std::vector<ConvShape>& layers, const RunState& state) {
  neural::Tensors tensors;
  for (const ConvShape& l : layers) {
    const auto put = [&](const std::string& part, const std::vector<int>& shape) {
      const std::string name = l.name + part;
      const auto mean = state.optimiser.average.find(name);
      const bool known = mean != state.optimiser.average.end();
      const auto& now = state.parameters.count(name) ? state.parameters : state.statistics;
      tensors[name] = {shape, known ? mean->second : now.at(name)};
    };
    put(".weight", {l.out, l.in, l.kernel_h, l.kernel_w});
    if (!l.normalised) put(".bias", {l.out});
    for (const char* part : {".gain", ".shift"}) {
      if (l.normalised) put(part, {l.out});
    }
    for (const char* part : {".mean", ".variance"}) {
      if (l.normalised && l.norm_group == 0) put(part, {l.out});
    }
  }
  return tensors;
}

}  // namespace burnisher::train
