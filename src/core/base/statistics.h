// Middle values.
#pragma once

#include <algorithm>
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

}  // namespace burnisher
