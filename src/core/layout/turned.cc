#include "layout/turned.h"

#include <cmath>

namespace burnisher::layout {

LevelFrame level_frame(int width, int height, double angle) {
  LevelFrame frame;
  frame.side = static_cast<int>(std::ceil(std::hypot(width, height)));
  frame.from_here = Affine::shift(width / 2.0, height / 2.0) * Affine::turn(angle) *
                    Affine::shift(-frame.side / 2.0, -frame.side / 2.0);
  return frame;
}

Bitonal levelled(const Bitonal& ink, const Affine& from_levelled, int width, int height) {
  Bitonal turned(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      const Point p = from_levelled({x + 0.5, y + 0.5});
      const int px = static_cast<int>(std::floor(p.x)), py = static_cast<int>(std::floor(p.y));
      if (px >= 0 && py >= 0 && px < ink.width() && py < ink.height() && ink.ink(px, py))
        turned.set_ink(x, y, true);
    }
  }
  return turned;
}

void turn_blocks(const Affine& map, std::vector<Block>& blocks) {
  const auto moved = [&](const Box& box) {
    Polygon corners = box.corners();
    for (Point& p : corners) p = map(p);
    return corners;
  };
  for (Block& block : blocks) {
    for (Point& p : block.outline) p = map(p);
    for (Line& line : block.lines) {
      for (Point& p : line.baseline) p = map(p);
      for (Point& p : line.outline) p = map(p);
      line.box = bounds(moved(line.box));
    }
    for (Cell& cell : block.cells) cell.box = bounds(moved(cell.box));
  }
}

}  // namespace burnisher::layout
