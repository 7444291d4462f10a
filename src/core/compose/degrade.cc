#include "compose/degrade.h"

#include <algorithm>
#include <cmath>

#include "base/multiversion.h"
#include "raster/blur.h"
#include "raster/jpeg.h"

namespace burnisher::compose {
namespace {

// A sum of three uniform numbers is normal enough for noise, and quick. Standard deviation 1.
float quick_normal(Random& random) {
  const uint64_t bits = random.next();
  const auto sum =
      static_cast<int>((bits & 0xffff) + ((bits >> 16) & 0xffff) + ((bits >> 32) & 0xffff));
  return static_cast<float>(sum - 98302) * (2 / 65536.f);
}

float smooth_step(float v, float centre, float half_width) {
  const float t = std::clamp((v - centre) / (2 * half_width) + 0.5f, 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

void add_paper(FloatImage& light, double x_height, const ScanDamage& damage, Random& random) {
  const int width = light.width(), height = light.height();
  if (damage.gradient > 0) {
    const double angle = random.uniform(0, 6.2832);
    const double dx = std::cos(angle) / width, dy = std::sin(angle) / height;
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) {
        light.row(y)[x] -= static_cast<float>(
            damage.gradient * (0.5 + dx * (x - width / 2.0) + dy * (y - height / 2.0)));
      }
    }
  }
  if (damage.stain > 0) {
    const FloatImage cloud = soft_noise(width, height, damage.stain_size * x_height, random);
    for (size_t i = 0; i < light.samples().size(); ++i) {
      light.samples()[i] -=
          static_cast<float>(damage.stain) * smooth_step(cloud.samples()[i], 1.f, 0.3f);
    }
  }
  if (damage.texture > 0) {
    const FloatImage grain = soft_noise(width, height, 1.5 + 0.08 * x_height, random);
    for (size_t i = 0; i < light.samples().size(); ++i) {
      light.samples()[i] += static_cast<float>(damage.texture) * grain.samples()[i];
    }
  }
}

// Dark specks on paper and light ones in ink, from a pixel up to a fifth of an x-height.
void add_specks(FloatImage& light, double x_height, const ScanDamage& damage, Random& random) {
  const double area = light.width() * static_cast<double>(light.height()) / (x_height * x_height);
  const double expected = damage.specks * area / 100;
  const int count = static_cast<int>(expected + random.uniform());
  for (int i = 0; i < count; ++i) {
    const double cx = random.uniform(0, light.width()), cy = random.uniform(0, light.height());
    const double radius = std::max(0.6, x_height * 0.1 * random.uniform() * random.uniform());
    const float level = static_cast<float>(random.chance(0.75) ? random.uniform(0, 0.5) : 0.95);
    const int reach = static_cast<int>(radius + 1);
    for (int y = std::max(0, static_cast<int>(cy) - reach);
         y <= std::min(light.height() - 1, static_cast<int>(cy) + reach); ++y) {
      for (int x = std::max(0, static_cast<int>(cx) - reach);
           x <= std::min(light.width() - 1, static_cast<int>(cx) + reach); ++x) {
        const double d = std::hypot(x + 0.5 - cx, y + 0.5 - cy);
        const float cover = std::clamp(static_cast<float>(radius + 0.5 - d), 0.f, 1.f);
        light.row(y)[x] += (level - light.row(y)[x]) * cover;
      }
    }
  }
}

void binarise(FloatImage& light, double x_height, const ScanDamage& damage) {
  if (damage.threshold == Threshold::kLocal) {
    FloatImage mean = light.clone();
    gaussian_blur(mean, std::max(2.0, 0.9 * x_height));
    for (size_t i = 0; i < light.samples().size(); ++i) {
      const float limit =
          mean.samples()[i] - static_cast<float>(0.14 * (1 - damage.threshold_level));
      light.samples()[i] = light.samples()[i] < limit ? 0.f : 1.f;
    }
    return;
  }
  // The level lies between ink and paper as they stand: nobody scans at a level that blackens all.
  std::vector<float> sorted(light.samples());
  const auto at = [&](double share) {
    auto place = sorted.begin() + static_cast<long>(share * static_cast<double>(sorted.size() - 1));
    std::nth_element(sorted.begin(), place, sorted.end());
    return *place;
  };
  const float dark = at(0.02), paper = at(0.6);
  const float limit = dark + (paper - dark) * static_cast<float>(damage.threshold_level);
  for (float& v : light.samples()) v = v < limit ? 0.f : 1.f;
}

}  // namespace

BURNISHER_MULTIVERSION FloatImage soft_noise(int width, int height, double grain, Random& random) {
  grain = std::max(1.0, grain);
  const int columns = static_cast<int>(width / grain) + 3,
            rows = static_cast<int>(height / grain) + 3;
  FloatImage knots(columns, rows);
  for (float& v : knots.samples()) v = 1.5f * quick_normal(random);
  FloatImage noise(width, height);
  std::vector<int> left(static_cast<size_t>(width));
  std::vector<float> share(static_cast<size_t>(width));
  for (int x = 0; x < width; ++x) {
    const double at = x / grain;
    left[static_cast<size_t>(x)] = static_cast<int>(at);
    share[static_cast<size_t>(x)] = static_cast<float>(at - std::floor(at));
  }
  for (int y = 0; y < height; ++y) {
    const double at = y / grain;
    const float fy = static_cast<float>(at - std::floor(at));
    const float* upper = knots.row(static_cast<int>(at));
    const float* lower = knots.row(static_cast<int>(at) + 1);
    float* out = noise.row(y);
    for (int x = 0; x < width; ++x) {
      const int k = left[static_cast<size_t>(x)];
      const float fx = share[static_cast<size_t>(x)];
      const float a = upper[k] + (upper[k + 1] - upper[k]) * fx;
      const float b = lower[k] + (lower[k + 1] - lower[k]) * fx;
      out[x] = a + (b - a) * fy;
    }
  }
  return noise;
}

namespace {

// Thin strokes and joins vanish, as from worn type and too hard a threshold.
void starve_hairlines(ScanDamage& d, Random& random) {
  d.ink_blur = random.uniform(0.055, 0.1);
  d.ink_threshold = random.uniform(0.58, 0.76);
  d.ragged = random.uniform(0.03, 0.14);
  d.erosion = 0;
}

// Too much ink or an over-dark copy: strokes swell and counters fill in.
void flood(ScanDamage& d, Random& random) {
  d.ink_blur = random.uniform(0.06, 0.12);
  d.ink_threshold = random.uniform(0.3, 0.45);
  d.ragged = random.uniform(0.03, 0.12);
}

}  // namespace

ScanDamage draw_damage(ScanLevel level, Random& random) {
  const bool clean = level == ScanLevel::kClean, heavy = level == ScanLevel::kHeavy;
  ScanDamage d;
  if (random.chance(clean ? 0.3 : 0.75)) {
    d.ink_blur = random.uniform(0.02, 0.085);
    d.ink_threshold = 0.5 + random.uniform(-1, 1) * (clean ? 0.08 : heavy ? 0.17 : 0.13);
    d.ragged = random.uniform(0, clean ? 0.06 : heavy ? 0.16 : 0.1);
  }
  // Worn and pale places don't come together: a line without ink teaches nothing.
  if (!clean && random.chance(0.6)) {
    if (random.chance(0.5))
      d.erosion = random.uniform(0.03, heavy ? 0.2 : 0.12);
    else
      d.fading = random.uniform(0.1, heavy ? 0.6 : 0.35);
  }
  const double press_fault = random.uniform();
  const double starved = clean ? 0.05 : heavy ? 0.22 : 0.15;
  if (press_fault < starved) {
    starve_hairlines(d, random);
  } else if (press_fault < starved + (clean ? 0.02 : heavy ? 0.2 : 0.12)) {
    flood(d, random);
  }
  if (random.chance(clean ? 0.03 : heavy ? 0.3 : 0.15)) {
    d.mottle = random.uniform(0.1, clean ? 0.2 : heavy ? 0.55 : 0.4);
  }
  d.ink = random.uniform(clean ? 0.75 : heavy ? 0.3 : 0.45, 1);
  d.paper = random.uniform(clean ? 0.85 : 0.65, 1);
  if (!clean) {
    if (random.chance(0.4)) d.texture = random.uniform(0.005, heavy ? 0.045 : 0.025);
    if (random.chance(0.3)) d.gradient = random.uniform(0.05, 0.3);
    if (random.chance(heavy ? 0.25 : 0.12)) d.stain = random.uniform(0.05, 0.25);
    if (random.chance(heavy ? 0.3 : 0.18)) d.show_through = random.uniform(0.05, 0.25);
  }
  if (random.chance(clean ? 0.1 : heavy ? 0.6 : 0.35))
    d.specks = random.uniform(0.5, heavy ? 14 : 7);
  d.blur = random.uniform(0.1, clean ? 0.7 : heavy ? 1.1 : 0.9);
  d.noise = random.uniform(0, clean ? 0.012 : heavy ? 0.055 : 0.03);
  if (random.chance(clean ? 0.3 : 0.5)) {
    d.jpeg_quality = static_cast<int>(random.uniform(clean ? 55 : heavy ? 18 : 32, 93));
  }
  if (random.chance(clean ? 0.25 : 0.35)) {
    d.threshold = random.chance(0.6) && d.gradient == 0 ? Threshold::kGlobal : Threshold::kLocal;
    d.threshold_level = 0.5 + random.uniform(-1, 1) * (clean ? 0.1 : heavy ? 0.22 : 0.16);
    d.noise = std::min(d.noise, 0.045);
  }
  d.inverse = random.chance(0.015);
  return d;
}

namespace {

// Ink goes missing in patches of about `grain` pixels.
void take_away(FloatImage& ink, double strength, double grain, Random& random) {
  const FloatImage pale = soft_noise(ink.width(), ink.height(), grain, random);
  for (size_t i = 0; i < ink.samples().size(); ++i) {
    ink.samples()[i] *=
        1 - static_cast<float>(strength) * smooth_step(pale.samples()[i], 0.3f, 0.8f);
  }
}

}  // namespace

void type_through_ribbon(ScanDamage& damage, Random& random) {
  damage.ink_blur = random.uniform(0.06, 0.14);
  damage.ink_threshold = random.uniform(0.34, 0.5);
  damage.ragged = random.uniform(0.03, 0.14);
  damage.ink = random.uniform(0.45, 0.95);
  if (random.chance(0.5)) damage.mottle = random.uniform(0.15, 0.5);
  if (random.chance(0.5)) damage.fading = random.uniform(0.1, 0.45);
}

BURNISHER_MULTIVERSION void press(FloatImage& ink, double x_height, const ScanDamage& damage,
                                  Random& random) {
  if (damage.ink_blur <= 0 && damage.erosion <= 0 && damage.fading <= 0 && damage.mottle <= 0) {
    return;
  }
  const int width = ink.width(), height = ink.height();
  const double sigma = std::max(0.5, damage.ink_blur * x_height);
  gaussian_blur(ink, sigma);
  FloatImage edge(width, height, static_cast<float>(damage.ink_threshold));
  if (damage.ragged > 0) {
    const FloatImage rough = soft_noise(width, height, std::max(1.2, 0.07 * x_height), random);
    for (size_t i = 0; i < edge.samples().size(); ++i) {
      edge.samples()[i] += static_cast<float>(damage.ragged) * rough.samples()[i];
    }
  }
  if (damage.erosion > 0) {
    const FloatImage worn = soft_noise(width, height, random.uniform(0.25, 1.5) * x_height, random);
    for (size_t i = 0; i < edge.samples().size(); ++i) {
      edge.samples()[i] += static_cast<float>(damage.erosion) * std::max(0.f, worn.samples()[i]);
    }
  }
  const float half_width = static_cast<float>(std::clamp(0.6 / sigma, 0.08, 0.5));
  for (size_t i = 0; i < ink.samples().size(); ++i) {
    const float centre = std::min(edge.samples()[i], 0.88f);
    ink.samples()[i] = smooth_step(ink.samples()[i], centre, half_width);
  }
  if (damage.fading > 0) {
    take_away(ink, damage.fading, random.uniform(0.4, 6) * x_height, random);
  }
  if (damage.mottle > 0) {
    take_away(ink, damage.mottle, random.uniform(0.08, 0.3) * x_height, random);
  }
}

BURNISHER_MULTIVERSION Gray scan(const FloatImage& ink, const FloatImage* verso, double x_height,
                                 const ScanDamage& damage, Random& random) {
  const int width = ink.width(), height = ink.height();
  FloatImage light(width, height, static_cast<float>(damage.paper));
  add_paper(light, x_height, damage, random);
  if (verso != nullptr && damage.show_through > 0) {
    for (size_t i = 0; i < light.samples().size(); ++i) {
      light.samples()[i] -= static_cast<float>(damage.show_through) * verso->samples()[i];
    }
  }
  for (size_t i = 0; i < light.samples().size(); ++i) {
    float& v = light.samples()[i];
    v *= 1 - ink.samples()[i] * static_cast<float>(damage.ink) * 0.97f;
  }
  if (damage.specks > 0) add_specks(light, x_height, damage, random);
  gaussian_blur(light, damage.blur);
  if (damage.noise > 0) {
    const float scale = static_cast<float>(damage.noise);
    for (float& v : light.samples()) v += scale * quick_normal(random);
  }
  if (damage.threshold != Threshold::kNone) binarise(light, x_height, damage);
  Gray picture(width, height);
  for (size_t i = 0; i < light.samples().size(); ++i) {
    float v = std::clamp(light.samples()[i], 0.f, 1.f);
    if (damage.inverse) v = 1 - v;
    picture.samples()[i] = static_cast<uint8_t>(v * 255 + 0.5f);
  }
  if (damage.jpeg_quality > 0 && damage.threshold == Threshold::kNone) {
    JpegRead again = read_jpeg(write_jpeg(picture, damage.jpeg_quality), 1e9);
    picture = std::move(std::get<Gray>(again.picture));
  }
  return picture;
}

}  // namespace burnisher::compose
