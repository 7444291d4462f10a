#include "jbig2/prototype.h"

#include <algorithm>
#include <array>

namespace burnisher::jbig2 {
namespace {

constexpr int kEnough = 128;  // members; no byte of votes runs over
constexpr int kLane = 8;      // pixels

// For eight pixels, the leftmost in the highest bit, a vote in the byte of each that has ink.
std::array<uint64_t, 256> spread_votes() {
  std::array<uint64_t, 256> votes{};
  for (uint64_t pixels = 0; pixels < votes.size(); ++pixels) {
    for (int i = 0; i < kLane; ++i) votes[pixels] |= (pixels >> (7 - i) & 1) << (8 * i);
  }
  return votes;
}

// The eight pixels of row `y` from `x` on; beyond the shape there is no ink.
size_t eight_from(const Shape& shape, int y, int x) {
  const uint64_t* row =
      shape.rows.data() + static_cast<size_t>(y) * static_cast<size_t>(shape.words);
  const auto word = [&](int i) { return i < 0 || i >= shape.words ? uint64_t{0} : row[i]; };
  const int first = x >= 0 ? x / 64 : -((63 - x) / 64);
  const int shift = x - 64 * first;
  const uint64_t bits =
      shift == 0 ? word(first) : word(first) << shift | word(first + 1) >> (64 - shift);
  return static_cast<size_t>(bits >> 56);
}

}  // namespace

Prototype::Prototype(const Shape& first)
    : first_(first),
      lanes_((first.width + kLane - 1) / kLane),
      counts_(static_cast<size_t>(lanes_) * static_cast<size_t>(first.height)) {}

void Prototype::add(const Shape& shape, int dx, int dy) {
  static const std::array<uint64_t, 256> kVotes = spread_votes();
  if (members_ == kEnough) return;
  ++members_;
  for (int y = std::max(0, -dy); y < first_.height && y + dy < shape.height; ++y) {
    uint64_t* votes = &counts_[static_cast<size_t>(y) * static_cast<size_t>(lanes_)];
    for (int lane = 0; lane < lanes_; ++lane)
      votes[lane] += kVotes[eight_from(shape, y + dy, kLane * lane + dx)];
  }
}

Shape Prototype::majority() const {
  if (members_ < 3) return first_;
  Shape shape(first_.width, first_.height);
  for (int y = 0; y < shape.height; ++y) {
    const uint64_t* votes = &counts_[static_cast<size_t>(y) * static_cast<size_t>(lanes_)];
    for (int x = 0; x < shape.width; ++x) {
      const int count = static_cast<int>(votes[x / kLane] >> (8 * (x % kLane)) & 0xFF);
      if (2 * count <= members_) continue;
      shape.set(x, y);
      ++shape.ink;
    }
  }
  return shape;
}

}  // namespace burnisher::jbig2
