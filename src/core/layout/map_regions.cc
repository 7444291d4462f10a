#include "layout/map_regions.h"

#include <algorithm>

namespace burnisher::layout {

namespace {

// Means over squares, through sums of all cells above and left of each.
class Means {
 public:
  Means(const MapGrid& grid, PageMap map) : width_(grid.width), height_(grid.height) {
    sums_.assign(static_cast<size_t>(width_ + 1) * static_cast<size_t>(height_ + 1), 0);
    for (int y = 0; y < height_; ++y) {
      for (int x = 0; x < width_; ++x)
        sum(x + 1, y + 1) = sum(x, y + 1) + sum(x + 1, y) - sum(x, y) + grid.at(map, x, y);
    }
  }

  double at(int x, int y, int around) {
    const int x0 = std::max(0, x - around), x1 = std::min(width_, x + around + 1);
    const int y0 = std::max(0, y - around), y1 = std::min(height_, y + around + 1);
    return (sum(x1, y1) - sum(x0, y1) - sum(x1, y0) + sum(x0, y0)) / ((x1 - x0) * (y1 - y0));
  }

 private:
  double& sum(int x, int y) { return sums_[static_cast<size_t>(y * (width_ + 1) + x)]; }

  int width_, height_;
  std::vector<double> sums_;
};

}  // namespace

std::vector<Box> map_regions(const PageMaps& maps, PageMap map, double seen, int around) {
  const int width = maps.grid().width, height = maps.grid().height;
  Means means(maps.grid(), map);
  std::vector<bool> reached(static_cast<size_t>(width) * static_cast<size_t>(height), false);
  const Affine to_page = maps.to_cells().inverse();
  const auto reach = [&](int x, int y) {
    if (x < 0 || y < 0 || x >= width || y >= height) return false;
    if (reached[static_cast<size_t>(y * width + x)] || means.at(x, y, around) <= seen) return false;
    reached[static_cast<size_t>(y * width + x)] = true;
    return true;
  };
  std::vector<Box> regions;
  std::vector<std::pair<int, int>> edge;
  for (int y0 = 0; y0 < height; ++y0) {
    for (int x0 = 0; x0 < width; ++x0) {
      if (!reach(x0, y0)) continue;
      Box cells;
      edge = {{x0, y0}};
      while (!edge.empty()) {
        const auto [x, y] = edge.back();
        edge.pop_back();
        cells = united(cells, {double(x), double(y), x + 1.0, y + 1.0});
        for (const auto& [u, v] : {std::pair{x - 1, y}, {x + 1, y}, {x, y - 1}, {x, y + 1}}) {
          if (reach(u, v)) edge.emplace_back(u, v);
        }
      }
      Polygon corners = cells.corners();
      for (Point& p : corners) p = to_page(p);
      regions.push_back(bounds(corners));
    }
  }
  return regions;
}

}  // namespace burnisher::layout
