#include "raster/image.h"

namespace burnisher {

int width_of(const Picture& picture) {
  return std::visit([](const auto& p) { return p.width(); }, picture);
}

int height_of(const Picture& picture) {
  return std::visit([](const auto& p) { return p.height(); }, picture);
}

}  // namespace burnisher
