// Components that are given, not found, and maps painted by hand instead of seen by the network.
#pragma once

#include <vector>

#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/page_maps.h"

namespace burnisher::testing {

inline Component box_at(int x, int y, int width, int height) {
  return {x, y, x + width, y + height, width * height / 2};
}

inline Component rule_at(int x0, int y0, int x1, int y1) {
  return {x0, y0, x1, y1, (x1 - x0) * (y1 - y0)};
}

// Letters side by side, 14 pixels wide and 20 high, their feet on `y`.
inline std::vector<Component> letters_at(int x, int y, int count, int step = 18) {
  std::vector<Component> letters;
  for (int i = 0; i < count; ++i) letters.push_back(box_at(x + step * i, y - 20, 14, 20));
  return letters;
}

inline void append(std::vector<Component>& to, const std::vector<Component>& more) {
  to.insert(to.end(), more.begin(), more.end());
}

inline layout::LetterLine line_of(const std::vector<Component>& letters) {
  layout::LetterLine line;
  line.letters = letters;
  for (const Component& c : letters) line.box = united(line.box, c.box());
  line.x_height = 20;
  return line;
}

// Maps of a cell for every ten pixels of a page of 1000 x 1000.
struct PaintedMaps {
  layout::MapGrid grid;
  PaintedMaps() {
    grid.width = grid.height = 100;
    grid.values.assign(size_t{100 * 100} * layout::kPageMaps, 0.f);
    fill(layout::kPaperMap, {0, 0, 1000, 1000});
  }
  void fill(layout::PageMap map, const Box& box, float value = 1) {
    for (int y = static_cast<int>(box.y0 / 10); y < box.y1 / 10; ++y) {
      for (int x = static_cast<int>(box.x0 / 10); x < box.x1 / 10; ++x)
        grid.values[static_cast<size_t>(y * 100 + x) * layout::kPageMaps + map] = value;
    }
  }
  layout::PageMaps maps() const { return layout::PageMaps(grid, {0.1, 0, 0, 0, 0.1, 0}); }
};

}  // namespace burnisher::testing
