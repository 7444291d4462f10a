#include "clean/binarise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/multiversion.h"
#include "clean/ink_levels.h"
#include "raster/bits.h"
#include "raster/blur.h"
#include "raster/convert.h"

namespace burnisher::clean {
namespace {

constexpr double kWindowInches = 0.12;  // about three x-heights of 10-point type
constexpr double kLeastRange = 14;      // grey levels; windows of plain paper stay well below it
constexpr double kTextShare = 0.85;     // of the windows have less deviation than text has; higher
                                        // shares see borders and pictures instead of faint text
constexpr float kBetween = 0.5f;        // where between paper and ink the limit lies
constexpr int kCell = 4;                // statistics are kept for cells of 4 x 4 pixels

// Mean and deviation in a window, on the cell grid.
struct LocalStatistics {
  FloatImage mean, deviation;
};

// Sums and sums of squares of whole cells in a band of rows.
BURNISHER_MULTIVERSION
void add_band(const Gray& page, int y0, int y1, int whole, uint32_t* sums, uint32_t* squares) {
  for (int y = y0; y < y1; ++y) {
    const uint8_t* row = page.row(y);
    for (int c = 0; c < whole; ++c) {
      const uint32_t p0 = row[4 * c], p1 = row[4 * c + 1], p2 = row[4 * c + 2], p3 = row[4 * c + 3];
      sums[c] += p0 + p1 + p2 + p3;
      squares[c] += p0 * p0 + p1 * p1 + p2 * p2 + p3 * p3;
    }
  }
}

LocalStatistics statistics_of(const Gray& page, double window) {
  static_assert(kCell == 4, "add_band adds four pixels at a time");
  const int columns = (page.width() + kCell - 1) / kCell,
            rows = (page.height() + kCell - 1) / kCell, whole = page.width() / kCell;
  LocalStatistics s{FloatImage(columns, rows), FloatImage(columns, rows)};
  std::vector<uint32_t> sums(static_cast<size_t>(columns)), squares(static_cast<size_t>(columns));
  for (int r = 0; r < rows; ++r) {
    const int y0 = r * kCell, y1 = std::min(page.height(), y0 + kCell);
    std::fill(sums.begin(), sums.end(), 0u);
    std::fill(squares.begin(), squares.end(), 0u);
    add_band(page, y0, y1, whole, sums.data(), squares.data());
    for (int y = y0; y < y1; ++y) {
      for (int x = whole * kCell; x < page.width(); ++x) {
        const uint32_t v = page.row(y)[x];
        sums.back() += v;
        squares.back() += v * v;
      }
    }
    for (int c = 0; c < columns; ++c) {
      const int wide = c < whole ? kCell : page.width() - whole * kCell;
      const float count = static_cast<float>(wide * (y1 - y0));
      s.mean.row(r)[c] = static_cast<float>(sums[static_cast<size_t>(c)]) / count;
      s.deviation.row(r)[c] = static_cast<float>(squares[static_cast<size_t>(c)]) / count;
    }
  }
  // A Gaussian weighs the near more than the far; its sigma covers what a box of `window` would.
  const double sigma = window / kCell / 2.5;
  gaussian_blur(s.mean, sigma);
  gaussian_blur(s.deviation, sigma);
  for (size_t i = 0; i < s.mean.samples().size(); ++i) {
    const float m = s.mean.samples()[i];
    s.deviation.samples()[i] = std::sqrt(std::max(0.f, s.deviation.samples()[i] - m * m));
  }
  return s;
}

float percentile(const FloatImage& field, double share) {
  std::vector<float> sorted(field.samples());
  auto at = sorted.begin() + static_cast<long>(share * static_cast<double>(sorted.size() - 1));
  std::nth_element(sorted.begin(), at, sorted.end());
  return *at;
}

BURNISHER_MULTIVERSION
void threshold_row(const float* row, const float* upper, const float* lower, float share, int width,
                   uint8_t* below) {
  for (int x = 0; x < width; ++x)
    below[x] = row[x] < upper[x] + (lower[x] - upper[x]) * share ? 1 : 0;
}

// Ink is what is darker than `limit`, a grid of cells of `cell` pixels, bilinear between their
// centres, after sharpening.
Bitonal below_limit(const Gray& page, const FloatImage& limit, int cell, float sharpening) {
  Bitonal ink(page.width(), page.height());
  const auto width = static_cast<size_t>(page.width());
  std::vector<float> upper(width), lower(width), sharp(width);
  std::vector<uint8_t> below(width);
  int spread = -1;  // the row of cells that `upper` stands for
  for (int y = 0; y < page.height(); ++y) {
    const double at = std::clamp((y + 0.5) / cell - 0.5, 0.0, limit.height() - 1.0);
    const int row = static_cast<int>(at);
    if (row != spread) {
      spread_cells(limit.row(row), limit.width(), cell, page.width(), upper.data());
      spread_cells(limit.row(std::min(row + 1, limit.height() - 1)), limit.width(), cell,
                   page.width(), lower.data());
      spread = row;
    }
    sharpen_row(page.row(std::max(0, y - 1)), page.row(y),
                page.row(std::min(page.height() - 1, y + 1)), sharpening, page.width(),
                sharp.data());
    threshold_row(sharp.data(), upper.data(), lower.data(), static_cast<float>(at - row),
                  page.width(), below.data());
    pack_bits(below.data(), page.width(), ink.row(y));
  }
  return ink;
}

Bitonal binarise_locally(const Gray& page, double window, double weight) {
  const LocalStatistics s = statistics_of(page, window);
  const double range = std::max<double>(kLeastRange, percentile(s.deviation, kTextShare));
  FloatImage limit(s.mean.width(), s.mean.height());
  for (size_t i = 0; i < limit.samples().size(); ++i) {
    const double share = std::min(1.0, s.deviation.samples()[i] / range);
    limit.samples()[i] = static_cast<float>(s.mean.samples()[i] * (1 - weight * (1 - share)));
  }
  return below_limit(page, limit, kCell, 0);
}

// After the idea of Su, Lu and Tan (2013) that a threshold belongs between ink and paper as they
// are nearby; both are measured on cells instead of at edges.
Bitonal binarise_between(const Gray& page, double dpi) {
  const InkLevels levels = ink_levels_of(page, dpi);
  FloatImage limit(levels.darkness.width(), levels.darkness.height());
  for (size_t i = 0; i < limit.samples().size(); ++i)
    limit.samples()[i] =
        levels.paper.light.samples()[i] * (1 - kBetween * levels.darkness.samples()[i]);
  return below_limit(page, limit, levels.paper.cell, levels.sharpening);
}

std::array<double, 256> histogram_of(const Gray& page) {
  // Four tables in turn: equal neighbours need not wait for each other's count.
  std::array<std::array<uint32_t, 256>, 4> counts{};
  const auto& samples = page.samples();
  for (size_t i = 0; i < samples.size(); ++i) ++counts[i & 3][samples[i]];
  std::array<double, 256> histogram{};
  for (size_t v = 0; v < 256; ++v) {
    histogram[v] = static_cast<double>(counts[0][v]) + counts[1][v] + counts[2][v] + counts[3][v];
  }
  return histogram;
}

}  // namespace

int otsu_threshold(const Gray& page) {
  const auto histogram = histogram_of(page);
  double total = 0, total_sum = 0;
  for (int v = 0; v < 256; ++v) {
    total += histogram[static_cast<size_t>(v)];
    total_sum += v * histogram[static_cast<size_t>(v)];
  }
  double below = 0, below_sum = 0, best = -1;
  int threshold = 128;
  for (int v = 0; v < 255; ++v) {
    below += histogram[static_cast<size_t>(v)];
    below_sum += v * histogram[static_cast<size_t>(v)];
    const double above = total - below;
    if (below == 0 || above == 0) continue;
    const double apart = below_sum / below - (total_sum - below_sum) / above;
    const double between = below * above * apart * apart;
    if (between > best) {
      best = between;
      threshold = v + 1;
    }
  }
  return threshold;
}

Bitonal binarise(const Gray& page, const BinariseSettings& settings, double dpi) {
  if (settings.method == BinariseMethod::kGlobal) return to_bitonal(page, otsu_threshold(page));
  if (settings.method == BinariseMethod::kAuto) return binarise_between(page, dpi > 0 ? dpi : 300);
  const double window =
      settings.window > 0 ? settings.window : kWindowInches * (dpi > 0 ? dpi : 300);
  return binarise_locally(page, std::max(8.0, window), settings.weight);
}

}  // namespace burnisher::clean
