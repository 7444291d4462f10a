#include "clean/ink_levels.h"

#include <algorithm>
#include <vector>

#include "base/multiversion.h"
#include "raster/blur.h"
#include "raster/text_scale.h"

namespace burnisher::clean {
namespace {

constexpr double kSharpening = 1.6;  // on paper without grain...
constexpr double kTooGrainy = 0.05;  // ...none where the grain is this share of the paper
// Share of the way from paper to ink where no ink tells it.
constexpr float kDefaultDarkness = 0.5f;
constexpr float kFaintest = 0.5f;  // of the typical darkness of ink; less is show-through
constexpr double kGrainFloor = 9;  // standard deviations of the grain
constexpr double kInkReach = 2.5;  // cells that ink speaks for

// How much darker than paper the ink is in each cell, as a share; cells without ink take it from
// around them, so that nothing fainter passes for ink there.
FloatImage darkness_of(const Paper& paper, float& least) {
  const size_t cells = paper.light.samples().size();
  FloatImage dark(paper.light.width(), paper.light.height());
  for (size_t i = 0; i < cells; ++i) {
    const float share = 1 - paper.darkest.samples()[i] / std::max(1.f, paper.light.samples()[i]);
    dark.samples()[i] = std::max(0.f, share);
  }
  const auto floor_of_grain = static_cast<float>(kGrainFloor * paper.grain);
  const float typical = paper.darkness > 0 ? paper.darkness : kDefaultDarkness;
  least = std::max(kFaintest * typical, floor_of_grain);
  // Weighted smoothing: only cells with ink have a say; a little of the typical everywhere.
  FloatImage weight(dark.width(), dark.height());
  for (size_t i = 0; i < cells; ++i) {
    const bool ink = dark.samples()[i] >= least;
    weight.samples()[i] = ink ? 1.f : 0.f;
    dark.samples()[i] = ink ? dark.samples()[i] : 0.f;
  }
  gaussian_blur(dark, kInkReach);
  gaussian_blur(weight, kInkReach);
  for (size_t i = 0; i < cells; ++i) {
    constexpr float kPrior = 0.02f;  // weight of the page's own levels where a window has no ink
    dark.samples()[i] =
        std::max(least, (dark.samples()[i] + kPrior * typical) / (weight.samples()[i] + kPrior));
  }
  return dark;
}

}  // namespace

InkLevels ink_levels_of(const Gray& page, double dpi) {
  InkLevels levels;
  levels.paper = paper_of(page, kXHeightInches * dpi);
  levels.darkness = darkness_of(levels.paper, levels.faintest);
  const double calm = std::clamp(1 - levels.paper.grain / kTooGrainy, 0.0, 1.0);
  levels.sharpening = static_cast<float>(kSharpening * calm);
  return levels;
}

void spread_cells(const float* cells, int columns, int cell, int width, float* limits) {
  for (int x = 0; x < std::min(width, cell / 2); ++x) limits[x] = cells[0];
  for (int c = 0; c + 1 < columns; ++c) {
    const float step = (cells[c + 1] - cells[c]) / static_cast<float>(cell);
    const int first = c * cell + cell / 2;
    const float rest = static_cast<float>(first) + 0.5f - static_cast<float>(c * cell) -
                       static_cast<float>(cell) / 2;
    float* to = limits + first;
    const int count = std::min(cell, width - first);
    for (int i = 0; i < count; ++i) to[i] = cells[c] + step * (static_cast<float>(i) + rest);
  }
  for (int x = std::max(0, (columns - 1) * cell + cell / 2); x < width; ++x)
    limits[x] = cells[columns - 1];
}

BURNISHER_MULTIVERSION
void sharpen_row(const uint8_t* above, const uint8_t* row, const uint8_t* below, float strength,
                 int width, float* out) {
  for (int x = 1; x < width - 1; ++x) {
    const float around = static_cast<float>(above[x] + below[x] + row[x - 1] + row[x + 1]) * 0.25f;
    out[x] = row[x] + strength * (row[x] - around);
  }
  out[0] = row[0];
  out[width - 1] = row[width - 1];
}

}  // namespace burnisher::clean
