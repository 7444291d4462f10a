#include "raster/convert.h"

#include <array>

#include <algorithm>

#include "base/multiversion.h"

namespace burnisher {
namespace {

BURNISHER_MULTIVERSION void luminance(const uint8_t* rgb, int count, uint8_t* gray) {
  for (int x = 0; x < count; ++x) {
    gray[x] = static_cast<uint8_t>(
        (rgb[3 * x] * 77 + rgb[3 * x + 1] * 150 + rgb[3 * x + 2] * 29 + 128) >> 8);
  }
}

BURNISHER_MULTIVERSION void add_row(const uint8_t* from, int count, int factor, uint32_t* sums) {
  for (int x = 0; x < count; ++x) {
    uint32_t sum = 0;
    for (int i = 0; i < factor; ++i) sum += from[x * factor + i];
    sums[x] += sum;
  }
}

}  // namespace

Gray to_gray(const Bitonal& picture) {
  Gray gray(picture.width(), picture.height(), 255);
  for (int y = 0; y < picture.height(); ++y) {
    const uint8_t* bits = picture.row(y);
    uint8_t* row = gray.row(y);
    for (int x = 0; x < picture.width(); ++x) {
      if ((bits[x >> 3] >> (7 - (x & 7))) & 1) row[x] = 0;
    }
  }
  return gray;
}

Gray to_gray(const Picture& picture) {
  if (const auto* gray = std::get_if<Gray>(&picture)) return gray->clone();
  if (const auto* bitonal = std::get_if<Bitonal>(&picture)) return to_gray(*bitonal);
  const Colour& colour = std::get<Colour>(picture);
  Gray gray(colour.width(), colour.height());
  for (int y = 0; y < colour.height(); ++y) luminance(colour.row(y), colour.width(), gray.row(y));
  return gray;
}

Bitonal to_bitonal(const Gray& picture, int threshold) {
  Bitonal ink(picture.width(), picture.height());
  for (int y = 0; y < picture.height(); ++y) {
    const uint8_t* row = picture.row(y);
    uint8_t* bits = ink.row(y);
    for (int x = 0; x < picture.width(); ++x) {
      if (row[x] < threshold) bits[x >> 3] = static_cast<uint8_t>(bits[x >> 3] | 0x80 >> (x & 7));
    }
  }
  return ink;
}

Gray reduced(const Gray& picture, int factor) {
  if (factor <= 1) return picture.clone();
  Gray small(std::max(1, picture.width() / factor), std::max(1, picture.height() / factor));
  const int across = std::min(small.width(), picture.width() / factor);
  const uint32_t area = static_cast<uint32_t>(factor * factor);
  std::vector<uint32_t> sums(static_cast<size_t>(small.width()));
  for (int y = 0; y < small.height(); ++y) {
    std::fill(sums.begin(), sums.end(), 0);
    for (int j = 0; j < factor; ++j) {
      add_row(picture.row(std::min(picture.height() - 1, y * factor + j)), across, factor,
              sums.data());
    }
    for (int x = 0; x < small.width(); ++x) {
      small.row(y)[x] = static_cast<uint8_t>(sums[static_cast<size_t>(x)] / area);
    }
  }
  return small;
}

int quantile_of(const Gray& picture, double share) {
  // Four tables in turn: equal neighbours need not wait for each other's count.
  std::array<std::array<uint32_t, 256>, 4> counts{};
  const auto& samples = picture.samples();
  for (size_t i = 0; i < samples.size(); ++i) ++counts[i & 3][samples[i]];
  double left = share * static_cast<double>(samples.size());
  for (size_t v = 0; v < 256; ++v) {
    left -= static_cast<double>(counts[0][v]) + counts[1][v] + counts[2][v] + counts[3][v];
    if (left < 0) return static_cast<int>(v);
  }
  return 255;
}

}  // namespace burnisher
