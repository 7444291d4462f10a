#include "clean/letter_rows.h"

#include <algorithm>
#include <numeric>

namespace burnisher::clean {
namespace {

// In text heights.
constexpr double kLeastLonger = 0.5, kLeastShorter = 0.15, kMostShorter = 4, kMostLonger = 25;
constexpr double kGap = 1.2;  // between neighbours on a row, at most

constexpr double kLevel = 0.6;  // of the lower one's height that neighbours share
constexpr double kAlike = 2.5;  // one is at most so many times as high as the other

// Sets that grow together (disjoint-set forest, Tarjan 1975).
class Joined {
 public:
  explicit Joined(size_t count) : up_(count), size_(count, 1) {
    std::iota(up_.begin(), up_.end(), size_t{0});
  }
  size_t first(size_t i) {
    while (up_[i] != i) i = up_[i] = up_[up_[i]];
    return i;
  }
  void join(size_t a, size_t b) {
    a = first(a), b = first(b);
    if (a == b) return;
    if (a > b) std::swap(a, b);
    up_[b] = a;
    size_[a] += size_[b];
  }
  int size(size_t i) { return size_[first(i)]; }

 private:
  std::vector<size_t> up_;
  std::vector<int> size_;
};

bool beside(double gap, double shared, double a, double b, double text_height) {
  return gap < kGap * text_height && shared > kLevel * std::min(a, b) &&
         std::max(a, b) < kAlike * std::min(a, b);
}

}  // namespace

bool of_letter_size(const Component& c, double text_height) {
  const double longer = std::max(c.width(), c.height()), shorter = std::min(c.width(), c.height());
  return longer > kLeastLonger * text_height && shorter > kLeastShorter * text_height &&
         shorter < kMostShorter * text_height && longer < kMostLonger * text_height;
}

std::vector<LetterRow> letter_rows(const std::vector<Component>& components, double text_height) {
  std::vector<size_t> order;
  for (size_t i = 0; i < components.size(); ++i)
    if (of_letter_size(components[i], text_height)) order.push_back(i);
  std::sort(order.begin(), order.end(),
            [&](size_t a, size_t b) { return components[a].x0 < components[b].x0; });
  Joined across(components.size()), down(components.size());
  for (size_t i = 0; i < order.size(); ++i) {
    const Component& a = components[order[i]];
    for (size_t k = i + 1; k < order.size() && components[order[k]].x0 < a.x1 + kGap * text_height;
         ++k) {
      const Component& b = components[order[k]];
      const double x_gap = std::max(a.x0, b.x0) - std::min(a.x1, b.x1),
                   y_gap = std::max(a.y0, b.y0) - std::min(a.y1, b.y1);
      if (beside(x_gap, -y_gap, a.height(), b.height(), text_height))
        across.join(order[i], order[k]);
      if (beside(y_gap, -x_gap, a.width(), b.width(), text_height)) down.join(order[i], order[k]);
    }
  }
  std::vector<LetterRow> rows(components.size());
  for (const size_t i : order) {
    rows[i].across_size = across.size(i);
    rows[i].down_size = down.size(i);
    if (rows[i].across_size > 1) rows[i].across = static_cast<int>(across.first(i));
    if (rows[i].down_size > 1) rows[i].down = static_cast<int>(down.first(i));
  }
  return rows;
}

}  // namespace burnisher::clean
