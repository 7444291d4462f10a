#include "layout/faint_text.h"

#include <algorithm>
#include <cmath>

namespace burnisher::layout {
namespace {

constexpr float kText = 0.5f;    // of the core map
constexpr double kBare = 0.035;  // share of ink in a cell's surroundings; print covers more
constexpr int kFewest = 4;       // cells of a run; fewer are spaces between words
constexpr double kAbove = 1.2, kBelow = 0.6;  // cells that a line's letters reach beyond its core

double ink_share(const Bitonal& ink, const Box& box) {
  const int x0 = std::max(0, static_cast<int>(box.x0)), y0 = std::max(0, static_cast<int>(box.y0));
  const int x1 = std::min(ink.width(), static_cast<int>(std::ceil(box.x1))),
            y1 = std::min(ink.height(), static_cast<int>(std::ceil(box.y1)));
  if (x1 <= x0 || y1 <= y0) return 1;
  int count = 0;
  for (int y = y0; y < y1; ++y)
    for (int x = x0; x < x1; ++x) count += ink.ink(x, y);
  return static_cast<double>(count) / ((x1 - x0) * (y1 - y0));
}

}  // namespace

std::vector<Box> text_without_ink(const PageMaps& maps, const Bitonal& ink) {
  std::vector<Box> found;
  if (maps.empty()) return found;
  const MapGrid& grid = maps.grid();
  const Affine to_page = maps.to_cells().inverse();
  const auto box_of = [&](double x0, double y0, double x1, double y1) {
    return bounds({to_page({x0, y0}), to_page({x1, y0}), to_page({x0, y1}), to_page({x1, y1})});
  };
  for (int y = 0; y < grid.height; ++y) {
    int run = 0;
    for (int x = 0; x <= grid.width; ++x) {
      const bool bare = x < grid.width && grid.at(kBandMap, x, y) > kText &&
                        grid.at(kAxisCosMap, x, y) > 0 &&
                        ink_share(ink, box_of(x - 0.5, y - 0.5, x + 1.5, y + 1.5)) < kBare;
      if (bare) {
        ++run;
        continue;
      }
      if (run >= kFewest) found.push_back(box_of(x - run, y - kAbove, x, y + 1 + kBelow));
      run = 0;
    }
  }
  return found;
}

}  // namespace burnisher::layout
