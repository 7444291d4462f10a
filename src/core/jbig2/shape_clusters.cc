#include "jbig2/shape_clusters.h"

#include <algorithm>
#include <array>
#include <cstdlib>

namespace burnisher::jbig2 {
namespace {

constexpr int kSizeSlack = 2;  // pixels that the sizes of like shapes may differ by
// ShapeClusters of one size beyond this many are noise, which nothing is like.
constexpr size_t kMostOfASize = 40;

struct Shifts {
  std::array<int, 3> at{};
  int count = 0;
};

// Corners on each other, the opposite ones, half-way.
Shifts shifts_for(int rest) {
  Shifts shifts;
  shifts.at[static_cast<size_t>(shifts.count++)] = 0;
  if (rest != 0) shifts.at[static_cast<size_t>(shifts.count++)] = rest;
  if (std::abs(rest) > 1) shifts.at[static_cast<size_t>(shifts.count++)] = rest / 2;
  return shifts;
}

}  // namespace

ClusterMatch ShapeClusters::laid_over(const Shape& shape, int kind, int limit) const {
  const Shape& other = at(kind);
  const Shifts across = shifts_for(shape.width - other.width);
  const Shifts down = shifts_for(shape.height - other.height);
  ClusterMatch best;
  for (int i = 0; i < across.count; ++i) {
    for (int j = 0; j < down.count; ++j) {
      const int dx = across.at[static_cast<size_t>(i)], dy = down.at[static_cast<size_t>(j)];
      const int found = difference(shape, other, dx, dy, limit);
      if (found > limit) continue;
      best = {kind, dx, dy, found};
      limit = found - 1;
    }
  }
  return best;
}

std::vector<ClusterMatch> ShapeClusters::near(const Shape& shape, size_t most) const {
  const auto nearer = [](const ClusterMatch& a, const ClusterMatch& b) {
    return a.difference < b.difference;
  };
  std::vector<ClusterMatch> found;
  int limit = static_cast<int>(share_ * (shape.width + shape.height)) + 2;
  for (int w = shape.width - kSizeSlack; w <= shape.width + kSizeSlack; ++w) {
    auto size = by_size_.lower_bound({w, shape.height - kSizeSlack});
    const auto end = by_size_.upper_bound({w, shape.height + kSizeSlack});
    for (; size != end; ++size) {
      for (const int kind : size->second) {
        if (std::abs(at(kind).ink - shape.ink) > limit) continue;
        const ClusterMatch match = laid_over(shape, kind, limit);
        if (match.kind < 0) continue;
        found.insert(std::upper_bound(found.begin(), found.end(), match, nearer), match);
        if (found.size() > most) found.pop_back();
        if (found.size() == most) limit = found.back().difference - 1;
        if (limit < 0) return found;
      }
    }
  }
  return found;
}

int ShapeClusters::add(const Shape& shape) {
  kinds_.push_back(&shape);
  const int number = static_cast<int>(kinds_.size()) - 1;
  auto& alike = by_size_[{shape.width, shape.height}];
  if (alike.size() < kMostOfASize) alike.push_back(number);
  return number;
}

}  // namespace burnisher::jbig2
