// What coding a bitmap will cost, before it is coded: the bits that an adaptive coder needs for
// each decision once it has seen all of them, from counts of how often each fell which way.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <vector>

namespace burnisher::jbig2 {

// A visitor of contexts that counts.
class ContextCounts {
 public:
  explicit ContextCounts(size_t contexts) : seen_(2 * contexts) {}
  void pixel(uint32_t context, int bit) { ++seen_[2 * context + static_cast<uint32_t>(bit)]; }
  void pixels(uint32_t context, int bit, long count) {
    seen_[2 * context + static_cast<uint32_t>(bit)] += static_cast<uint32_t>(count);
  }
  void empty(long count) { pixels(0, 0, count); }
  bool enough() const { return false; }
  void add(const ContextCounts& more) {
    for (size_t i = 0; i < seen_.size(); ++i) seen_[i] += more.seen_[i];
  }
  const std::vector<uint32_t>& seen() const { return seen_; }

 private:
  std::vector<uint32_t> seen_;  // zeros and ones of each context
};

// What each decision costs, in shares of a bit: so small that all fit into the nearest cache, whole
// so that they add up fast.
class BitCosts {
 public:
  static constexpr double kSteps = 1024;  // of a bit

  explicit BitCosts(const ContextCounts& counts);
  // The table: zeros and ones of each context.
  const uint16_t* steps() const { return steps_.data(); }
  double bits_of(uint32_t context, int bit) const {
    return steps_[2 * context + static_cast<uint32_t>(bit)] / kSteps;
  }

 private:
  std::vector<uint16_t> steps_;
};

// A visitor that adds up, and need not know how far beyond `limit` it would get.
class CostSum {
 public:
  explicit CostSum(const BitCosts& costs, double bits = 0,
                   double limit = std::numeric_limits<double>::infinity())
      : costs_(costs.steps()),
        before_(bits),
        limit_(limit < kMost ? static_cast<uint64_t>(std::max(0.0, limit - bits) * BitCosts::kSteps)
                             : std::numeric_limits<uint64_t>::max()) {}

  bool enough() const { return sum_ > limit_; }
  void pixel(uint32_t context, int bit) {
    sum_ += costs_[2 * context + static_cast<uint32_t>(bit)];
  }
  void pixels(uint32_t context, int bit, long count) {
    sum_ += static_cast<uint64_t>(count) * costs_[2 * context + static_cast<uint32_t>(bit)];
  }
  void empty(long count) { pixels(0, 0, count); }
  double bits() const { return before_ + static_cast<double>(sum_) / BitCosts::kSteps; }

 private:
  static constexpr double kMost = 1e12;  // bits; more is no limit

  const uint16_t* costs_;
  double before_;
  uint64_t sum_ = 0, limit_;
};

}  // namespace burnisher::jbig2
