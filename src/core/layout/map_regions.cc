#include "layout/map_regions.h"

#include <cmath>
#include <map>

namespace burnisher::layout {

MapRegions::MapRegions(const Sight& sight, PageMap map, double seen)
    : sight_(sight), width_(sight.maps().width), height_(sight.maps().height) {
  of_.assign(static_cast<size_t>(width_) * static_cast<size_t>(height_), -1);
  const Affine to_page = sight.to_cells().inverse();
  const auto inside = [&](int x, int y) {
    return x >= 0 && y >= 0 && x < width_ && y < height_ && sight.maps().at(map, x, y) > seen;
  };
  const auto label = [&](int x, int y) -> int& { return of_[static_cast<size_t>(y * width_ + x)]; };
  std::vector<std::pair<int, int>> reach;
  for (int y0 = 0; y0 < height_; ++y0) {
    for (int x0 = 0; x0 < width_; ++x0) {
      if (!inside(x0, y0) || label(x0, y0) >= 0) continue;
      Box cells;
      const int region = count();
      reach = {{x0, y0}};
      label(x0, y0) = region;
      while (!reach.empty()) {
        const auto [x, y] = reach.back();
        reach.pop_back();
        cells = united(cells, {double(x), double(y), x + 1.0, y + 1.0});
        for (const auto& [u, v] : {std::pair{x - 1, y}, {x + 1, y}, {x, y - 1}, {x, y + 1}}) {
          if (!inside(u, v) || label(u, v) >= 0) continue;
          label(u, v) = region;
          reach.emplace_back(u, v);
        }
      }
      Polygon corners = cells.corners();
      for (Point& p : corners) p = to_page(p);
      boxes_.push_back(bounds(corners));
    }
  }
}

int MapRegions::at(Point page) const {
  const Point c = sight_.to_cells()(page);
  const int x = static_cast<int>(std::floor(c.x)), y = static_cast<int>(std::floor(c.y));
  if (x < 0 || y < 0 || x >= width_ || y >= height_) return -1;
  return of_[static_cast<size_t>(y * width_ + x)];
}

int MapRegions::holding(const Box& box, double share) const {
  if (count() == 0) return -1;
  const int across =
      std::max(1, static_cast<int>(std::ceil(box.width() / sight_.pixels_of_cell())));
  std::map<int, int> votes;
  for (int i = 0; i < across; ++i)
    ++votes[at({box.x0 + (i + 0.5) * box.width() / across, box.centre().y})];
  for (const auto& [region, cells] : votes) {
    if (region >= 0 && cells > share * across) return region;
  }
  return -1;
}

}  // namespace burnisher::layout
