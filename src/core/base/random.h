// Random numbers that are the same everywhere: a seed gives the same training lines and the same
// demo scans on every machine. SplitMix64 (Steele, Lea and Flood 2014).
#pragma once

#include <cmath>
#include <cstdint>

namespace burnisher {

class Random {
 public:
  explicit Random(uint64_t seed) : state_(seed) {}

  uint64_t next() {
    uint64_t z = (state_ += 0x9e3779b97f4a7c15ull);
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
    return z ^ (z >> 31);
  }
  // Uniform in [0, 1).
  double uniform() { return static_cast<double>(next() >> 11) * 0x1.0p-53; }
  double uniform(double low, double high) { return low + (high - low) * uniform(); }
  // Uniform in 0 ... count - 1.
  int index(int count) {
    return static_cast<int>((static_cast<__uint128_t>(next()) * static_cast<uint64_t>(count)) >>
                            64);
  }
  int index(size_t count) { return index(static_cast<int>(count)); }
  bool chance(double probability) { return uniform() < probability; }
  // Standard normal (Box and Muller 1958).
  double normal() {
    const double radius = std::sqrt(-2 * std::log(1 - uniform()));
    return radius * std::cos(6.283185307179586 * uniform());
  }

 private:
  uint64_t state_;
};

}  // namespace burnisher
