// What coding a bitmap will cost, before it is coded: the bits that an adaptive coder needs for
// each decision once it has seen all of them, from counts of how often each fell which way.
#pragma once

#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>

namespace burnisher::jbig2 {

// A visitor of contexts that counts.
class Counts {
 public:
  explicit Counts(size_t contexts) : seen_(2 * contexts) {}
  void pixel(uint32_t context, int bit) { ++seen_[2 * context + static_cast<uint32_t>(bit)]; }
  void pixels(uint32_t context, int bit, long count) {
    seen_[2 * context + static_cast<uint32_t>(bit)] += static_cast<uint32_t>(count);
  }
  void empty(long count) { pixels(0, 0, count); }
  bool enough() const { return false; }
  void add(const Counts& more) {
    for (size_t i = 0; i < seen_.size(); ++i) seen_[i] += more.seen_[i];
  }
  const std::vector<uint32_t>& seen() const { return seen_; }

 private:
  std::vector<uint32_t> seen_;  // zeros and ones of each context
};

// Bits for each decision.
class Prices {
 public:
  explicit Prices(const Counts& counts);
  float of(uint32_t context, int bit) const {
    return bits_[2 * context + static_cast<uint32_t>(bit)];
  }

 private:
  std::vector<float> bits_;
};

// A visitor that adds up, and need not know how far beyond `limit` it would get.
struct Bill {
  const Prices& prices;
  double bits = 0;
  double limit = std::numeric_limits<double>::infinity();
  bool enough() const { return bits > limit; }
  void pixel(uint32_t context, int bit) { bits += prices.of(context, bit); }
  void pixels(uint32_t context, int bit, long count) {
    bits += static_cast<double>(count) * prices.of(context, bit);
  }
  void empty(long count) { pixels(0, 0, count); }
};

}  // namespace burnisher::jbig2
