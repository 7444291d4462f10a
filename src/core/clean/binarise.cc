#include "clean/binarise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/multiversion.h"
#include "raster/blur.h"
#include "raster/convert.h"

namespace burnisher::clean {
namespace {

constexpr double kWindowInches = 0.12;  // about three x-heights of 10-point type
constexpr double kLeastRange = 14;      // grey levels; windows of plain paper stay well below it
constexpr double kTextShare = 0.85;     // of the windows have less deviation than text has; higher
                                        // shares see borders and pictures instead of faint text
constexpr int kCell = 4;                // statistics are kept for cells of 4 x 4 pixels

// Mean and deviation in a window, on the cell grid.
struct LocalStatistics {
  Field mean, deviation;
};

LocalStatistics statistics_of(const Gray& page, double window) {
  const int columns = (page.width() + kCell - 1) / kCell,
            rows = (page.height() + kCell - 1) / kCell;
  LocalStatistics s{Field(columns, rows), Field(columns, rows)};
  for (int r = 0; r < rows; ++r) {
    for (int c = 0; c < columns; ++c) {
      int sum = 0, squares = 0, count = 0;
      for (int y = r * kCell; y < std::min(page.height(), (r + 1) * kCell); ++y) {
        const uint8_t* row = page.row(y);
        for (int x = c * kCell; x < std::min(page.width(), (c + 1) * kCell); ++x, ++count) {
          sum += row[x];
          squares += row[x] * row[x];
        }
      }
      s.mean.row(r)[c] = static_cast<float>(sum) / static_cast<float>(count);
      s.deviation.row(r)[c] = static_cast<float>(squares) / static_cast<float>(count);
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

float percentile(const Field& field, double share) {
  std::vector<float> sorted(field.samples());
  auto at = sorted.begin() + static_cast<long>(share * static_cast<double>(sorted.size() - 1));
  std::nth_element(sorted.begin(), at, sorted.end());
  return *at;
}

BURNISHER_MULTIVERSION
void threshold_row(const uint8_t* row, const float* limits, int width, uint8_t* below) {
  for (int x = 0; x < width; ++x) below[x] = static_cast<float>(row[x]) < limits[x] ? 1 : 0;
}

void pack_row(const uint8_t* below, int width, uint8_t* bits) {
  for (int x = 0; x + 8 <= width; x += 8) {
    const uint8_t* b = below + x;
    bits[x >> 3] = static_cast<uint8_t>(b[0] << 7 | b[1] << 6 | b[2] << 5 | b[3] << 4 | b[4] << 3 |
                                        b[5] << 2 | b[6] << 1 | b[7]);
  }
  for (int x = width & ~7; x < width; ++x) {
    if (below[x]) bits[x >> 3] = static_cast<uint8_t>(bits[x >> 3] | 0x80 >> (x & 7));
  }
}

Bitonal binarise_locally(const Gray& page, double window, double weight) {
  const LocalStatistics s = statistics_of(page, window);
  const double range = std::max<double>(kLeastRange, percentile(s.deviation, kTextShare));
  Field limit(s.mean.width(), s.mean.height());
  for (size_t i = 0; i < limit.samples().size(); ++i) {
    const double share = std::min(1.0, s.deviation.samples()[i] / range);
    limit.samples()[i] = static_cast<float>(s.mean.samples()[i] * (1 - weight * (1 - share)));
  }
  Bitonal ink(page.width(), page.height());
  std::vector<float> limits(static_cast<size_t>(page.width()));
  std::vector<uint8_t> below(static_cast<size_t>(page.width()));
  for (int y = 0; y < page.height(); ++y) {
    const double at = std::clamp((y + 0.5) / kCell - 0.5, 0.0, limit.height() - 1.0);
    const int upper = static_cast<int>(at), lower = std::min(upper + 1, limit.height() - 1);
    const float fy = static_cast<float>(at - upper);
    for (int x = 0; x < page.width(); ++x) {
      const float across = std::clamp((static_cast<float>(x) + 0.5f) / kCell - 0.5f, 0.f,
                                      static_cast<float>(limit.width() - 1));
      const int left = static_cast<int>(across), right = std::min(left + 1, limit.width() - 1);
      const float fx = across - static_cast<float>(left);
      const float a = limit.row(upper)[left] * (1 - fx) + limit.row(upper)[right] * fx;
      const float b = limit.row(lower)[left] * (1 - fx) + limit.row(lower)[right] * fx;
      limits[static_cast<size_t>(x)] = a * (1 - fy) + b * fy;
    }
    threshold_row(page.row(y), limits.data(), page.width(), below.data());
    pack_row(below.data(), page.width(), ink.row(y));
  }
  return ink;
}

std::array<double, 256> histogram_of(const Gray& page) {
  std::array<double, 256> histogram{};
  for (uint8_t v : page.samples()) ++histogram[v];
  return histogram;
}

// Evenly lit: the paper's brightness, block by block, hardly varies and is far from the ink.
bool evenly_lit(const Gray& page) {
  const int cell = std::max(8, std::min(page.width(), page.height()) / 24);
  const Gray small = reduced(page, std::max(1, cell / 8));
  std::vector<int> brightness;
  for (int y = 0; y + 8 <= small.height(); y += 8) {
    for (int x = 0; x + 8 <= small.width(); x += 8) {
      std::vector<uint8_t> block;
      for (int j = 0; j < 8; ++j)
        block.insert(block.end(), small.row(y + j) + x, small.row(y + j) + x + 8);
      std::nth_element(block.begin(), block.begin() + 51, block.end());
      brightness.push_back(block[51]);
    }
  }
  if (brightness.size() < 4) return false;
  std::sort(brightness.begin(), brightness.end());
  const int low = brightness[brightness.size() / 20],
            high = brightness[brightness.size() * 19 / 20];
  const auto histogram = histogram_of(page);
  const int threshold = otsu_threshold(page);
  double dark = 0, dark_sum = 0;
  for (int v = 0; v < threshold; ++v) {
    dark += histogram[static_cast<size_t>(v)];
    dark_sum += histogram[static_cast<size_t>(v)] * v;
  }
  const double ink = dark > 0 ? dark_sum / dark : 0;
  return high - low < 0.15 * (low - ink) && low - ink > 80;
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
  const bool global = settings.method == BinariseMethod::kGlobal ||
                      (settings.method == BinariseMethod::kAuto && evenly_lit(page));
  if (global) return to_bitonal(page, otsu_threshold(page));
  const double window =
      settings.window > 0 ? settings.window : kWindowInches * (dpi > 0 ? dpi : 300);
  return binarise_locally(page, std::max(8.0, window), settings.weight);
}

}  // namespace burnisher::clean
