#include "layout/maps_picture.h"

#include <algorithm>

namespace burnisher::layout {
namespace {

struct Tint {
  PageMap map;
  float red, green, blue;  // 0-255
  float strength;          // 0-1, of a map that is sure
};

// Broad things first, thin ones over them.
constexpr Tint kTints[] = {
    {kTableMap, 250, 205, 60, 0.35f},  {kPictureMap, 150, 90, 200, 0.5f},
    {kMarkMap, 240, 110, 170, 0.6f},   {kBorderMap, 120, 120, 120, 0.5f},
    {kRuleMap, 215, 40, 40, 0.7f},     {kBandMap, 50, 110, 220, 0.6f},
    {kBaselineMap, 15, 40, 120, 0.6f}, {kEndMap, 245, 140, 20, 0.9f},
};

}  // namespace

Colour picture_of(const MapGrid& grid, const Gray& page) {
  Colour out(page.width(), page.height());
  for (int y = 0; y < page.height(); ++y) {
    const uint8_t* gray = page.row(y);
    uint8_t* to = out.row(y);
    for (int x = 0; x < page.width(); ++x, to += 3) {
      const int u = std::min(x / kCellPixels, grid.width - 1);
      const int v = std::min(y / kCellPixels, grid.height - 1);
      const float pale = 128.f + gray[x] / 2.f;  // so that the tints can be seen over ink
      const float light = pale * (0.4f + 0.6f * grid.at(kPaperMap, u, v));
      float rgb[3] = {light, light, light};
      for (const Tint& tint : kTints) {
        const float share = tint.strength * grid.at(tint.map, u, v);
        const bool level = tint.map != kBandMap || grid.at(kAxisCosMap, u, v) > 0;
        const float colour[3] = {tint.red, level ? tint.green : 160.f, level ? tint.blue : 60.f};
        for (int k = 0; k < 3; ++k) rgb[k] += share * (colour[k] - rgb[k]);
      }
      for (int k = 0; k < 3; ++k) to[k] = static_cast<uint8_t>(std::clamp(rgb[k], 0.f, 255.f));
    }
  }
  return out;
}

}  // namespace burnisher::layout
