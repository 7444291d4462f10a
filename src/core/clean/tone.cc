#include "clean/tone.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/multiversion.h"
#include "clean/binarise.h"
#include "raster/components.h"
#include "raster/convert.h"
#include "raster/text_scale.h"

namespace burnisher::clean {
namespace {

constexpr double kMostlyDark = 0.6;  // share of dark pixels from which a page may be inverse

using Curve = std::array<uint8_t, 256>;

Curve curve_of(const ToneSettings& settings) {
  Curve curve{};
  for (int v = 0; v < 256; ++v) {
    const double lit = std::pow(v / 255.0, 1 / settings.gamma) + settings.brightness / 100;
    curve[static_cast<size_t>(v)] = static_cast<uint8_t>(std::clamp(lit * 255, 0.0, 255.0) + 0.5);
  }
  return curve;
}

// The median of nine by a network of minima and maxima (Smith 1996), for every pixel of a row.
BURNISHER_MULTIVERSION
void median_row(const uint8_t* above, const uint8_t* here, const uint8_t* below, int width,
                uint8_t* out) {
  for (int x = 1; x < width - 1; ++x) {
    uint8_t p[9] = {above[x - 1], above[x],     above[x + 1], here[x - 1], here[x],
                    here[x + 1],  below[x - 1], below[x],     below[x + 1]};
    const auto sort = [&p](int a, int b) {
      const uint8_t low = std::min(p[a], p[b]), high = std::max(p[a], p[b]);
      p[a] = low;
      p[b] = high;
    };
    sort(1, 2), sort(4, 5), sort(7, 8), sort(0, 1), sort(3, 4), sort(6, 7);
    sort(1, 2), sort(4, 5), sort(7, 8), sort(0, 3), sort(5, 8), sort(4, 7);
    sort(3, 6), sort(1, 4), sort(2, 5), sort(4, 7), sort(4, 2), sort(6, 4);
    sort(4, 2);
    out[x] = p[4];
  }
}

int letters_in(const Gray& small) {
  const std::vector<Component> list = components_of(to_bitonal(small, otsu_threshold(small))).list;
  const double height = dominant_height(list);
  return static_cast<int>(std::count_if(list.begin(), list.end(), [&](const Component& c) {
    return height > 0 && c.height() > 0.7 * height && c.height() < 2.2 * height &&
           c.width() < 3 * height;
  }));
}

Gray negative(const Gray& picture) {
  Gray out = picture.clone();
  for (uint8_t& v : out.samples()) v = static_cast<uint8_t>(255 - v);
  return out;
}

}  // namespace

bool changes(const ToneSettings& settings) {
  return settings.gamma != 1 || settings.brightness != 0 || settings.median;
}

Gray median_filtered(const Gray& picture) {
  Gray out = picture.clone();
  for (int y = 1; y + 1 < picture.height(); ++y) {
    median_row(picture.row(y - 1), picture.row(y), picture.row(y + 1), picture.width(), out.row(y));
  }
  return out;
}

void set_tone(const ToneSettings& settings, Picture& picture) {
  if (std::holds_alternative<Bitonal>(picture)) return;
  if (auto* gray = std::get_if<Gray>(&picture); gray != nullptr && settings.median)
    *gray = median_filtered(*gray);
  if (auto* colour = std::get_if<Colour>(&picture); colour != nullptr && settings.median) {
    for (size_t c = 0; c < 3; ++c) {
      Gray plane(colour->width(), colour->height());
      for (size_t i = 0; i < plane.samples().size(); ++i)
        plane.samples()[i] = colour->samples()[3 * i + c];
      plane = median_filtered(plane);
      for (size_t i = 0; i < plane.samples().size(); ++i)
        colour->samples()[3 * i + c] = plane.samples()[i];
    }
  }
  if (settings.gamma == 1 && settings.brightness == 0) return;
  const Curve curve = curve_of(settings);
  const auto apply = [&](auto& samples) {
    for (uint8_t& v : samples) v = curve[v];
  };
  if (auto* gray = std::get_if<Gray>(&picture)) apply(gray->samples());
  if (auto* colour = std::get_if<Colour>(&picture)) apply(colour->samples());
}

bool is_inverse(const Gray& small) {
  const int threshold = otsu_threshold(small);
  const auto dark = std::count_if(small.samples().begin(), small.samples().end(),
                                  [&](uint8_t v) { return v < threshold; });
  if (static_cast<double>(dark) < kMostlyDark * static_cast<double>(small.samples().size()))
    return false;
  return letters_in(negative(small)) > 2 * letters_in(small) + 5;
}

void invert(Picture& picture) {
  if (auto* bits = std::get_if<Bitonal>(&picture)) {
    for (int y = 0; y < bits->height(); ++y) {
      uint8_t* row = bits->row(y);
      for (int i = 0; i < bits->stride(); ++i) row[i] = static_cast<uint8_t>(~row[i]);
      if (bits->width() % 8 != 0)
        row[bits->stride() - 1] &= static_cast<uint8_t>(0xff << (8 - bits->width() % 8));
    }
    return;
  }
  const auto flip = [](auto& samples) {
    for (uint8_t& v : samples) v = static_cast<uint8_t>(255 - v);
  };
  if (auto* gray = std::get_if<Gray>(&picture)) flip(gray->samples());
  if (auto* colour = std::get_if<Colour>(&picture)) flip(colour->samples());
}

}  // namespace burnisher::clean
