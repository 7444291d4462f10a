#include "jbig2/vote.h"

#include <algorithm>

namespace burnisher::jbig2 {
namespace {

constexpr int kEnough = 128;  // voters; more hardly change a pixel

}  // namespace

Vote::Vote(const Shape& first)
    : first_(first), votes_(static_cast<size_t>(first.width) * static_cast<size_t>(first.height)) {}

void Vote::add(const Shape& shape, int dx, int dy) {
  if (voters_ == kEnough) return;
  ++voters_;
  const int left = std::max(0, -dx), right = std::min(first_.width, shape.width - dx);
  for (int y = std::max(0, -dy); y < first_.height && y + dy < shape.height; ++y) {
    int* votes = &votes_[static_cast<size_t>(y) * static_cast<size_t>(first_.width)];
    for (int x = left; x < right; ++x) votes[x] += shape.pixel(x + dx, y + dy);
  }
}

Shape Vote::winner() const {
  if (voters_ < 3) return first_;
  Shape shape(first_.width, first_.height);
  auto votes = votes_.begin();
  for (int y = 0; y < shape.height; ++y) {
    for (int x = 0; x < shape.width; ++x) {
      if (2 * *votes++ <= voters_) continue;
      shape.set(x, y);
      ++shape.ink;
    }
  }
  return shape;
}

}  // namespace burnisher::jbig2
