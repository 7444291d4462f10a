#include "recognise/strip.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/error.h"
#include "base/multiversion.h"

namespace burnisher::recognise {
namespace {

constexpr double kLeastContrast = 0.08 * 255;  // weaker "ink" than this is paper's own unevenness
constexpr double kInverseAsymmetry = 1.3;      // bright excursions this much wider: white on black

constexpr float kBeyond = -1e6f;  // stands for samples beyond the page: there is paper

inline int clamped(int value, int size) {
  return std::clamp(value, 0, size - 1);
}

// Rounds down; page positions are far above -4096.
inline int whole(float v) {
  return static_cast<int>(v + 4096.f) - 4096;
}

// One pass per strip column: the mapping is straight down a column, so the place of every sample
// follows from the column's top and its step.
struct Column {
  float x, y, dx, dy;  // page position of the column's top and the step of one strip row
};

// Catmull-Rom weights for the four neighbours of a place `t` between the middle two.
inline std::array<float, 4> cubic_weights(float t) {
  return {((-0.5f * t + 1) * t - 0.5f) * t, (1.5f * t - 2.5f) * t * t + 1,
          ((-1.5f * t + 2) * t + 0.5f) * t, (0.5f * t - 0.5f) * t * t};
}

// Reading a page at places between its pixels. Inside, no neighbour needs to be checked against the
// page's edge; that is the case for nearly every column of nearly every line.
template <bool kInside>
struct Sampler {
  const uint8_t* first;
  int width, height;

  float at(int x, int y) const {
    if (!kInside) {
      x = clamped(x, width);
      y = clamped(y, height);
    }
    return static_cast<float>(first[static_cast<ptrdiff_t>(y) * width + x]);
  }

  float bilinear(float x, float y) const {
    const int xi = whole(x), yi = whole(y);
    const float fx = x - static_cast<float>(xi), fy = y - static_cast<float>(yi);
    const float upper = at(xi, yi) + (at(xi + 1, yi) - at(xi, yi)) * fx;
    const float lower = at(xi, yi + 1) + (at(xi + 1, yi + 1) - at(xi, yi + 1)) * fx;
    return upper + (lower - upper) * fy;
  }

  float bicubic(float x, float y) const {
    const int xi = whole(x), yi = whole(y);
    const auto wx = cubic_weights(x - static_cast<float>(xi));
    const auto wy = cubic_weights(y - static_cast<float>(yi));
    float sum = 0;
    for (int j = 0; j < 4; ++j) {
      const int row = yi + j - 1;
      const float across = wx[0] * at(xi - 1, row) + wx[1] * at(xi, row) + wx[2] * at(xi + 1, row) +
                           wx[3] * at(xi + 2, row);
      sum += wy[static_cast<size_t>(j)] * across;
    }
    return sum;
  }

  // Adds `share` times the column's samples, `fine` of them for each strip row, to `out`.
  void add_column(const Column& c, int rows, int fine, float share, float* out, int stride) const {
    const float part = 1.f / static_cast<float>(fine);
    for (int y = 0; y < rows; ++y) {
      float sum = 0;
      for (int j = 0; j < fine; ++j) {
        const float down = static_cast<float>(y) + (static_cast<float>(j) + 0.5f) * part;
        const float px = c.x + c.dx * down, py = c.y + c.dy * down;
        sum += fine == 1 ? bicubic(px, py) : bilinear(px, py);
      }
      out[static_cast<ptrdiff_t>(y) * stride] += sum * share;
    }
  }
};

bool inside(const Gray& page, const Column& c, int rows) {
  const float x = c.x + c.dx * static_cast<float>(rows), y = c.y + c.dy * static_cast<float>(rows);
  return std::min(c.x, x) > 2 && std::max(c.x, x) < static_cast<float>(page.width() - 3) &&
         std::min(c.y, y) > 2 && std::max(c.y, y) < static_cast<float>(page.height() - 3);
}

BURNISHER_MULTIVERSION FloatImage sample(const Gray& page, const StripMap& map,
                                         const StripFrame& frame) {
  FloatImage raw(map.width(), frame.height);
  const int fine = std::max(1, static_cast<int>(std::ceil(map.scale() - 0.05)));
  const float share = 1.f / static_cast<float>(fine * fine);
  const Box page_box{0, 0, static_cast<double>(page.width()), static_cast<double>(page.height())};
  const Sampler<true> quick{page.row(0), page.width(), page.height()};
  const Sampler<false> careful{page.row(0), page.width(), page.height()};
  for (int x = 0; x < map.width(); ++x) {
    for (int i = 0; i < fine; ++i) {
      const double sx = x + (i + 0.5) / fine;
      const Point top = map.to_page({sx, 0}), step = map.to_page({sx, 1}) - top;
      const Column column{static_cast<float>(top.x - 0.5), static_cast<float>(top.y - 0.5),
                          static_cast<float>(step.x), static_cast<float>(step.y)};
      if (inside(page, column, frame.height)) {
        quick.add_column(column, frame.height, fine, share, raw.row(0) + x, map.width());
      } else {
        careful.add_column(column, frame.height, fine, share, raw.row(0) + x, map.width());
      }
    }
    // Letters that the picture's edge cuts would be drawn out into strokes beyond it.
    const Point top = map.to_page({x + 0.5, 0}), step = map.to_page({x + 0.5, 1}) - top;
    for (int y = 0; y < frame.height; ++y) {
      const Point p = top + step * (y + 0.5);
      if (!page_box.contains(p)) raw.row(y)[x] = kBeyond;
    }
  }
  return raw;
}

struct Levels {
  double low, middle, high;
};

// The 1 %, 50 % and 99 % grey levels of the strip.
Levels levels_of(const FloatImage& raw) {
  std::array<int, 256> histogram{};
  int count = 0;
  for (float v : raw.samples()) {
    if (v == kBeyond) continue;
    ++histogram[static_cast<size_t>(std::clamp(v, 0.f, 255.f))];
    ++count;
  }
  const auto at = [&](double share) {
    double left = share * count;
    for (int level = 0; level < 256; ++level) {
      left -= histogram[static_cast<size_t>(level)];
      if (left <= 0) return level + 0.5;
    }
    return 255.0;
  };
  return {at(0.01), at(0.5), at(0.99)};
}

}  // namespace

StripMap::StripMap(const LinePlace& place, const StripFrame& frame, double before, double after)
    : frame_(frame) {
  if (place.baseline.size() < 2 || place.x_height <= 0) {
    throw SettingsError("a line needs a baseline of two points and an x-height above 0");
  }
  origin_ = place.baseline.front();
  const Point span = place.baseline.back() - origin_;
  const double length = std::max(1e-6, std::hypot(span.x, span.y));
  along_ = span * (1 / length);
  down_ = {-along_.y, along_.x};
  scale_ = place.x_height / frame.x_height;
  start_ = -before * place.x_height;
  width_ = std::max(
      1, static_cast<int>(std::ceil((length + (before + after) * place.x_height) / scale_)));
  for (const Point& p : place.baseline) {
    const Point d = p - origin_;
    bends_.push_back({d.x * along_.x + d.y * along_.y, d.x * down_.x + d.y * down_.y});
  }
}

Point StripMap::to_page(Point strip) const {
  const double along = start_ + strip.x * scale_;
  const double below = height_at(bends_, along) + (strip.y - frame_.baseline) * scale_;
  return origin_ + along_ * along + down_ * below;
}

Gray extract_strip(const Gray& page, const StripMap& map, const StripFrame& frame) {
  const FloatImage raw = sample(page, map, frame);
  Levels levels = levels_of(raw);
  double sign = 1;
  if (levels.high - levels.middle > kInverseAsymmetry * (levels.middle - levels.low)) {
    sign = -1;
    std::swap(levels.low, levels.high);
  }
  const double contrast = std::max(kLeastContrast, sign * (levels.middle - levels.low));
  const double gain = sign * (kInkLevel - kPaperLevel) / contrast;
  Gray strip(raw.width(), raw.height());
  for (size_t i = 0; i < raw.samples().size(); ++i) {
    const float sample = raw.samples()[i];
    const double v =
        sample == kBeyond ? kPaperLevel : kPaperLevel + gain * (levels.middle - sample);
    strip.samples()[i] = static_cast<uint8_t>(std::clamp(v, 0.0, 255.0) + 0.5);
  }
  return strip;
}

}  // namespace burnisher::recognise
