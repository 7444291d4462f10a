// Middle values.
#pragma once

#include <algorithm>
#include <utility>
#include <vector>

namespace burnisher {

// The upper one of the two middle values when their number is even; 0 of none.
template <typename T>
double median(std::vector<T> values) {
  if (values.empty()) return 0;
  auto middle = values.begin() + static_cast<long>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return static_cast<double>(*middle);
}

// Of values, each counted as often as its weight says; 0 of none.
inline double weighted_median(std::vector<std::pair<double, double>> values) {
  if (values.empty()) return 0;
  std::sort(values.begin(), values.end());
  double total = 0, at = 0;
  for (const auto& [value, weight] : values) total += weight;
  for (const auto& [value, weight] : values) {
    at += weight;
    if (at >= total / 2) return value;
  }
  return values.back().first;
}

}  // namespace burnisher
