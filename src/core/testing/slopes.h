// Holds gradients against slopes that are measured.
#pragma once

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <map>
#include <string>
#include <vector>

namespace burnisher::testing {

// The direction of the gradient itself is the steepest: the loss's slope along it, measured over
// `step` either way, must be its length, within `tolerance` of it.
inline void expect_slopes(const std::map<std::string, std::vector<float>>& gradient,
                          std::map<std::string, std::vector<float>>& parameters,
                          const std::function<double()>& loss, double step, double tolerance) {
  for (auto& [name, values] : parameters) {
    const std::vector<float>& slope = gradient.at(name);
    double squares = 0;
    for (float g : slope) squares += static_cast<double>(g) * g;
    const double length = std::sqrt(squares);
    ASSERT_GT(length, 1e-6) << name;
    const std::vector<float> before = values;
    const auto moved = [&](double sign) {
      for (size_t i = 0; i < values.size(); ++i)
        values[i] = static_cast<float>(before[i] + sign * step * slope[i] / length);
      return loss();
    };
    const double measured = (moved(1) - moved(-1)) / (2 * step);
    values = before;
    EXPECT_NEAR(measured / length, 1, tolerance) << name;
  }
}

}  // namespace burnisher::testing
