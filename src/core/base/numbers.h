// Numbers in text, read the same whatever the machine's locale says (std::from_chars).
#pragma once

#include <charconv>
#include <cmath>
#include <optional>
#include <string_view>

namespace burnisher {

// Beyond this no position, size or resolution of a page is believed.
constexpr double kLargestNumber = 1e7;

// The whole of `text`, spaces round it left aside; nothing for what is no finite number.
inline std::optional<double> number_in(std::string_view text) {
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  if (!text.empty() && text.front() == '+') text.remove_prefix(1);
  double value = 0;
  const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
  if (text.empty() || read.ec != std::errc() || read.ptr != text.data() + text.size() ||
      !std::isfinite(value))
    return std::nullopt;
  return value;
}

inline std::optional<int> integer_in(std::string_view text) {
  const std::optional<double> value = number_in(text);
  if (!value || std::fabs(*value) > 2e9 || *value != std::floor(*value)) return std::nullopt;
  return static_cast<int>(*value);
}

}  // namespace burnisher
