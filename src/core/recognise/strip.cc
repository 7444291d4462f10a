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

inline int clamped(int value, int size) { return std::clamp(value, 0, size - 1); }

// Rounds down; page positions are far above -4096.
inline int whole(float v) { return static_cast<int>(v + 4096.f) - 4096; }

// One pass per strip column: the mapping is straight down a column, so the place of every sample
// follows from the column's top and its step.
struct Column {
  float x, y, dx, dy;  // page position of the column's top and the step of one strip row
};

inline float bilinear(const Gray& page, float x, float y) {
  const int xi = whole(x), yi = whole(y);
  const float fx = x - static_cast<float>(xi), fy = y - static_cast<float>(yi);
  const uint8_t* upper = page.row(clamped(yi, page.height()));
  const uint8_t* lower = page.row(clamped(yi + 1, page.height()));
  const int x0 = clamped(xi, page.width()), x1 = clamped(xi + 1, page.width());
  const float a = static_cast<float>(upper[x0]) + static_cast<float>(upper[x1] - upper[x0]) * fx;
  const float b = static_cast<float>(lower[x0]) + static_cast<float>(lower[x1] - lower[x0]) * fx;
  return a + (b - a) * fy;
}

// Catmull-Rom weights for the four neighbours of a place `t` between the middle two.
inline std::array<float, 4> cubic_weights(float t) {
  return {((-0.5f * t + 1) * t - 0.5f) * t, (1.5f * t - 2.5f) * t * t + 1,
          ((-1.5f * t + 2) * t + 0.5f) * t, (0.5f * t - 0.5f) * t * t};
}

inline float bicubic(const Gray& page, float x, float y) {
  const int xi = whole(x), yi = whole(y);
  const auto wx = cubic_weights(x - static_cast<float>(xi));
  const auto wy = cubic_weights(y - static_cast<float>(yi));
  const bool inside = xi >= 1 && xi + 2 < page.width();
  float sum = 0;
  for (int j = 0; j < 4; ++j) {
    const uint8_t* row = page.row(clamped(yi + j - 1, page.height()));
    float across = 0;
    for (int i = 0; i < 4; ++i) {
      const int column = inside ? xi + i - 1 : clamped(xi + i - 1, page.width());
      across += wx[static_cast<size_t>(i)] * static_cast<float>(row[column]);
    }
    sum += wy[static_cast<size_t>(j)] * across;
  }
  return sum;
}

BURNISHER_MULTIVERSION Field sample(const Gray& page, const StripMap& map, const StripFrame& frame) {
  Field raw(map.width(), frame.height);
  const int fine = std::max(1, static_cast<int>(std::ceil(map.scale() - 0.05)));
  const float share = 1.f / static_cast<float>(fine * fine), part = 1.f / static_cast<float>(fine);
  for (int x = 0; x < map.width(); ++x) {
    for (int i = 0; i < fine; ++i) {
      const double sx = x + (i + 0.5) / fine;
      const Point top = map.to_page({sx, 0}), step = map.to_page({sx, 1}) - top;
      const Column column{static_cast<float>(top.x - 0.5), static_cast<float>(top.y - 0.5),
                          static_cast<float>(step.x), static_cast<float>(step.y)};
      for (int y = 0; y < frame.height; ++y) {
        if (fine == 1) {
          const float down = static_cast<float>(y) + 0.5f;
          raw.row(y)[x] = bicubic(page, column.x + column.dx * down, column.y + column.dy * down);
          continue;
        }
        float sum = 0;
        for (int j = 0; j < fine; ++j) {
          const float down = static_cast<float>(y) + (static_cast<float>(j) + 0.5f) * part;
          sum += bilinear(page, column.x + column.dx * down, column.y + column.dy * down);
        }
        raw.row(y)[x] += sum * share;
      }
    }
  }
  return raw;
}

struct Levels {
  double low, middle, high;
};

// The 1 %, 50 % and 99 % grey levels of the strip.
Levels levels_of(const Field& raw) {
  std::array<int, 256> histogram{};
  for (float v : raw.samples()) ++histogram[static_cast<size_t>(std::clamp(v, 0.f, 255.f))];
  const auto at = [&](double share) {
    double left = share * static_cast<double>(raw.samples().size());
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
  width_ = std::max(1, static_cast<int>(
                           std::ceil((length + (before + after) * place.x_height) / scale_)));
  for (const Point& p : place.baseline) {
    const Point d = p - origin_;
    bends_.push_back({d.x * along_.x + d.y * along_.y, d.x * down_.x + d.y * down_.y});
  }
}

double StripMap::bend(double along) const {
  if (along <= bends_.front().x) return bends_.front().y;
  for (size_t i = 1; i < bends_.size(); ++i) {
    if (along > bends_[i].x) continue;
    const double span = bends_[i].x - bends_[i - 1].x;
    const double t = span > 0 ? (along - bends_[i - 1].x) / span : 0;
    return bends_[i - 1].y + t * (bends_[i].y - bends_[i - 1].y);
  }
  return bends_.back().y;
}

Point StripMap::to_page(Point strip) const {
  const double along = start_ + strip.x * scale_;
  const double below = bend(along) + (strip.y - frame_.baseline) * scale_;
  return origin_ + along_ * along + down_ * below;
}

Gray extract_strip(const Gray& page, const StripMap& map, const StripFrame& frame) {
  const Field raw = sample(page, map, frame);
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
    const double v = kPaperLevel + gain * (levels.middle - raw.samples()[i]);
    strip.samples()[i] = static_cast<uint8_t>(std::clamp(v, 0.0, 255.0) + 0.5);
  }
  return strip;
}

}  // namespace burnisher::recognise
