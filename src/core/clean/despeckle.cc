#include "clean/despeckle.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace burnisher::clean {
namespace {

constexpr double kAutomaticShare = 1.0 / 3;  // of the text height
constexpr double kNear = 1.0;                // text heights within which a letter claims a dot
constexpr double kRowReach = 2.5;            // text heights to the next dot of a leader
constexpr double kRowDrift = 0.25;
constexpr int kGrain = 2;         // pixels that no letter claims on a fine scan
constexpr double kFineScan = 12;  // text height from which on that holds

// Components by coarse cells, to find neighbours quickly.
class Grid {
 public:
  Grid(const std::vector<Component>& list, double cell) : list_(list), cell_(cell) {}

  void add(int index) {
    const Component& c = list_[static_cast<size_t>(index)];
    for (int gy = at(c.y0); gy <= at(c.y1); ++gy) {
      for (int gx = at(c.x0); gx <= at(c.x1); ++gx) cells_[key(gx, gy)].push_back(index);
    }
  }

  template <typename Test>
  bool any(const Component& c, double reach, const Test& test) const {
    for (int gy = at(c.y0 - reach); gy <= at(c.y1 + reach); ++gy) {
      for (int gx = at(c.x0 - reach); gx <= at(c.x1 + reach); ++gx) {
        const auto found = cells_.find(key(gx, gy));
        if (found == cells_.end()) continue;
        for (int i : found->second) {
          if (test(list_[static_cast<size_t>(i)])) return true;
        }
      }
    }
    return false;
  }

 private:
  int at(double v) const { return static_cast<int>(std::floor(v / cell_)); }
  static int64_t key(int x, int y) {
    return (static_cast<int64_t>(y) << 32) ^ static_cast<uint32_t>(x);
  }

  const std::vector<Component>& list_;
  double cell_;
  std::unordered_map<int64_t, std::vector<int>> cells_;
};

double gap(const Component& a, const Component& b) {
  const double dx = std::max({0, a.x0 - b.x1, b.x0 - a.x1});
  const double dy = std::max({0, a.y0 - b.y1, b.y0 - a.y1});
  return std::hypot(dx, dy);
}

bool in_row(const Component& a, const Component& b, double text_height) {
  const double dy = (a.y0 + a.y1 - b.y0 - b.y1) / 2.0, dx = (a.x0 + a.x1 - b.x0 - b.x1) / 2.0;
  return std::fabs(dy) < kRowDrift * text_height && std::fabs(dx) > 1 &&
         std::fabs(dx) < kRowReach * text_height && a.area < 2.5 * b.area && b.area < 2.5 * a.area;
}

}  // namespace

int despeckle(const DespeckleSettings& settings, double text_height, Bitonal& ink) {
  const double limit = settings.size >= 0 ? settings.size : kAutomaticShare * text_height;
  if (limit <= 0 || text_height <= 0) return 0;
  const Components found = components_of(ink);
  const std::vector<Component>& list = found.list;
  Grid letters(list, 2 * text_height), dots(list, 2 * text_height);
  const auto small = [&](const Component& c) { return c.width() <= limit && c.height() <= limit; };
  for (size_t i = 0; i < list.size(); ++i) {
    const Component& c = list[i];
    if (c.height() > 0.6 * text_height && c.height() < 6 * text_height && !small(c))
      letters.add(static_cast<int>(i));
    if (small(c)) dots.add(static_cast<int>(i));
  }
  std::vector<bool> gone(list.size(), false);
  int count = 0;
  for (size_t i = 0; i < list.size(); ++i) {
    const Component& c = list[i];
    if (!small(c)) continue;
    const bool grain = c.area <= kGrain && text_height >= kFineScan;
    const double near = kNear * text_height;
    const bool claimed =
        !grain && letters.any(c, near, [&](const Component& l) { return gap(c, l) <= near; });
    if (claimed) continue;
    bool before = false, after = false;
    dots.any(c, kRowReach * text_height, [&](const Component& d) {
      if (in_row(c, d, text_height)) (d.x0 < c.x0 ? before : after) = true;
      return before && after;
    });
    const bool leader =
        !grain && (before || after) && c.height() >= 0.08 * text_height &&
        dots.any(c, kRowReach * text_height, [&](const Component& d) {
          return in_row(c, d, text_height) &&
                 (before && after ? true
                                  : dots.any(d, kRowReach * text_height, [&](const Component& e) {
                                      return &e != &c && &e != &d && in_row(d, e, text_height);
                                    }));
        });
    gone[i] = !leader;
    count += gone[i];
  }
  erase(found, gone, ink);
  return count;
}

}  // namespace burnisher::clean
