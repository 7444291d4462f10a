#include "raster/convert.h"

#include <array>

#include <algorithm>
#include <cmath>

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

namespace {

template <typename Image>
Image averaged(const Image& picture, int factor) {
  constexpr int channels = Image::channels;
  Image out((picture.width() + factor - 1) / factor, (picture.height() + factor - 1) / factor);
  for (int y = 0; y < out.height(); ++y) {
    for (int x = 0; x < out.width(); ++x) {
      for (int c = 0; c < channels; ++c) {
        int sum = 0, count = 0;
        for (int v = y * factor; v < std::min((y + 1) * factor, picture.height()); ++v) {
          for (int u = x * factor; u < std::min((x + 1) * factor, picture.width()); ++u, ++count)
            sum += picture.row(v)[u * channels + c];
        }
        out.row(y)[x * channels + c] = static_cast<uint8_t>((sum + count / 2) / count);
      }
    }
  }
  return out;
}

}  // namespace

Picture fewer_pixels(const Picture& picture, int factor) {
  if (factor == 1) return std::visit([](const auto& p) -> Picture { return p.clone(); }, picture);
  if (const auto* colour = std::get_if<Colour>(&picture)) return averaged(*colour, factor);
  return averaged(to_gray(picture), factor);
}

namespace {

// For every place of the new row, where in the old one its share begins, and the weights from
// there.
struct Shares {
  std::vector<int> first;
  std::vector<float> weight;  // `reach` of each place
  int reach = 1;
};

Shares shares_of(int from, int to, double factor) {
  // Half the width of a triangle: one old sample where it grows, one new one where it shrinks.
  const double half = std::max(1.0, 1 / factor);
  Shares shares;
  shares.reach = std::min(from, static_cast<int>(2 * half) + 2);
  for (int i = 0; i < to; ++i) {
    const double centre = (i + 0.5) / factor - 0.5;
    const int first =
        std::clamp(static_cast<int>(std::ceil(centre - half)), 0, from - shares.reach);
    float sum = 0;
    const size_t start = shares.weight.size();
    for (int k = 0; k < shares.reach; ++k) {
      const double away = std::abs(first + k - centre);
      shares.weight.push_back(static_cast<float>(std::max(0.0, 1 - away / half)));
      sum += shares.weight.back();
    }
    if (sum <= 0) shares.weight[start] = sum = 1;
    for (size_t k = start; k < shares.weight.size(); ++k) shares.weight[k] /= sum;
    shares.first.push_back(first);
  }
  return shares;
}

}  // namespace

BURNISHER_MULTIVERSION Gray scaled(const Gray& picture, double factor) {
  const int width = std::max(1, static_cast<int>(std::lround(picture.width() * factor)));
  const int height = std::max(1, static_cast<int>(std::lround(picture.height() * factor)));
  const Shares across = shares_of(picture.width(), width, factor);
  const Shares down = shares_of(picture.height(), height, factor);
  Gray out(width, height);
  std::vector<float> mixed(static_cast<size_t>(picture.width()));
  for (int y = 0; y < height; ++y) {
    std::fill(mixed.begin(), mixed.end(), 0.f);
    for (int k = 0; k < down.reach; ++k) {
      const float w = down.weight[static_cast<size_t>(y * down.reach + k)];
      const uint8_t* row = picture.row(down.first[static_cast<size_t>(y)] + k);
      for (int x = 0; x < picture.width(); ++x) mixed[static_cast<size_t>(x)] += w * row[x];
    }
    uint8_t* to = out.row(y);
    for (int x = 0; x < width; ++x) {
      const float* weight =
          across.weight.data() + static_cast<size_t>(x) * static_cast<size_t>(across.reach);
      const float* from = mixed.data() + across.first[static_cast<size_t>(x)];
      float sum = 0.5f;
      for (int k = 0; k < across.reach; ++k) sum += weight[k] * from[k];
      to[x] = static_cast<uint8_t>(std::min(255.f, sum));
    }
  }
  return out;
}

}  // namespace burnisher
