#include "clean/faint_ink.h"

#include <algorithm>
#include <cmath>

#include "raster/convert.h"
#include "raster/turn.h"

namespace burnisher::clean {
namespace {

constexpr double kPaper = 0.7, kInk = 0.03, kBrightest = 0.9;  // quantiles of a place's grey levels
// With 14 specks joined lines of a letter and a table.
constexpr int kLeastContrast = 22;  // grey levels between them; paper's grain stays below
constexpr double kGrainSpread = 3;  // and so many times what paper itself spreads by
constexpr double kDepth = 0.45;     // of the contrast, below paper: what is darker is ink

}  // namespace

int add_faint_ink(const Gray& page, const std::vector<Box>& places, Bitonal& ink) {
  int added = 0;
  for (const Box& place : places) {
    const int x0 = std::max(0, static_cast<int>(place.x0)),
              y0 = std::max(0, static_cast<int>(place.y0)),
              x1 = std::min(page.width(), static_cast<int>(std::ceil(place.x1))),
              y1 = std::min(page.height(), static_cast<int>(std::ceil(place.y1)));
    if (x1 - x0 < 2 || y1 - y0 < 2) continue;
    const Gray part = cut_out(page, x0, y0, x1, y1);
    const int paper = quantile_of(part, kPaper), dark = quantile_of(part, kInk);
    const int spread = quantile_of(part, kBrightest) - paper;
    if (paper - dark < kLeastContrast || paper - dark < kGrainSpread * spread) continue;
    const int threshold = paper - static_cast<int>(kDepth * (paper - dark));
    for (int y = y0; y < y1; ++y) {
      for (int x = x0; x < x1; ++x)
        if (page.row(y)[x] < threshold) ink.set_ink(x, y, true);
    }
    ++added;
  }
  return added;
}

}  // namespace burnisher::clean
