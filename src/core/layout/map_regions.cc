#include "layout/map_regions.h"

namespace burnisher::layout {

std::vector<Box> map_regions(const Sight& sight, PageMap map, double seen) {
  const int width = sight.maps().width, height = sight.maps().height;
  std::vector<bool> reached(static_cast<size_t>(width) * static_cast<size_t>(height), false);
  const Affine to_page = sight.to_cells().inverse();
  const auto reach = [&](int x, int y) {
    if (x < 0 || y < 0 || x >= width || y >= height) return false;
    if (reached[static_cast<size_t>(y * width + x)] || sight.maps().at(map, x, y) <= seen)
      return false;
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
