// Sums of probabilities that are kept as logarithms.
#pragma once

#include <algorithm>
#include <cmath>

namespace burnisher {

// ln(e^a + e^b); what is too small to change a float is left out.
inline float log_sum(float a, float b) {
  const float high = std::max(a, b), low = std::min(a, b);
  return low < high - 17 ? high : high + std::log1p(std::exp(low - high));
}

}  // namespace burnisher
