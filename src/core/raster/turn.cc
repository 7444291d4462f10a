#include "raster/turn.h"

namespace burnisher {

Gray turned(const Gray& picture, int degrees) {
  const int width = picture.width(), height = picture.height();
  if (degrees == 0) return picture.clone();
  if (degrees == 180) {
    Gray out(width, height);
    for (int y = 0; y < height; ++y) {
      const uint8_t* from = picture.row(height - 1 - y);
      for (int x = 0; x < width; ++x) out.row(y)[x] = from[width - 1 - x];
    }
    return out;
  }
  Gray out(height, width);
  for (int y = 0; y < width; ++y) {
    uint8_t* to = out.row(y);
    for (int x = 0; x < height; ++x) {
      to[x] = degrees == 90 ? picture.row(x)[width - 1 - y] : picture.row(height - 1 - x)[y];
    }
  }
  return out;
}

}  // namespace burnisher
