#include "clean/align.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <unsupported/Eigen/FFT>
#include <vector>

namespace burnisher::clean {
namespace {

// By `leaf_bench`, and by leaves that don't belong together (other_side_test.cc).
constexpr int kCoarse = 512;          // pixels of the field that is turned and shifted as a whole
constexpr double kMostTurn = 2.4;     // degrees
constexpr double kTurnStep = 0.4;     // degrees: 1.5 pixels at the end of the coarse field
constexpr double kMostShift = 0.125;  // of the field
constexpr int kBlock = 64;            // pixels
constexpr double kFits = 0.3;         // correlation of a block: chance reaches 0.15
constexpr int kFewestBlocks = 6;
constexpr double kFewestShare = 0.25;  // of blocks with marks
constexpr double kOutlier = 2.5;       // pixels from the map that most blocks follow

using Complex = std::complex<float>;
using Spectrum = std::vector<Complex>;  // kCoarse x kCoarse

void transform_lines(Spectrum& s, bool columns, bool back) {
  Eigen::FFT<float> fft;
  std::vector<Complex> line(kCoarse), out(kCoarse);
  const size_t step = columns ? kCoarse : 1, next = columns ? 1 : kCoarse;
  for (size_t k = 0; k < kCoarse; ++k) {
    for (size_t i = 0; i < kCoarse; ++i) line[i] = s[k * next + i * step];
    if (back)
      fft.inv(out, line);
    else
      fft.fwd(out, line);
    for (size_t i = 0; i < kCoarse; ++i) s[k * next + i * step] = out[i];
  }
}

Spectrum spectrum_of(const FloatImage& field, const Affine& from_here) {
  Spectrum s(static_cast<size_t>(kCoarse) * kCoarse);
  const int width = std::min(kCoarse, field.width()), height = std::min(kCoarse, field.height());
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x)
      s[static_cast<size_t>(y) * kCoarse + static_cast<size_t>(x)] =
          value_at(field, from_here({x + 0.5, y + 0.5}));
  }
  transform_lines(s, false, false);
  transform_lines(s, true, false);
  return s;
}

// Where `shifted`, moved, lies best over `fixed`, and how high the peak is.
std::pair<Point, double> best_shift(const Spectrum& fixed, const Spectrum& shifted, int width,
                                    int height) {
  Spectrum product(fixed.size());
  for (size_t i = 0; i < product.size(); ++i) product[i] = std::conj(fixed[i]) * shifted[i];
  transform_lines(product, true, true);
  transform_lines(product, false, true);
  const int most_x = static_cast<int>(kMostShift * width),
            most_y = static_cast<int>(kMostShift * height);
  std::pair<Point, double> best{{0, 0}, 0};
  for (int dy = -most_y; dy <= most_y; ++dy) {
    for (int dx = -most_x; dx <= most_x; ++dx) {
      const auto at = static_cast<size_t>((dy + kCoarse) % kCoarse) * kCoarse +
                      static_cast<size_t>((dx + kCoarse) % kCoarse);
      if (product[at].real() > best.second)
        best = {{static_cast<double>(dx), static_cast<double>(dy)}, product[at].real()};
    }
  }
  return best;
}

Affine turned_about(Point centre, double degrees) {
  return Affine::shift(centre.x, centre.y) * Affine::turn(degrees) *
         Affine::shift(-centre.x, -centre.y);
}

Affine whole_fit(const FloatImage& one, const FloatImage& other) {
  const Spectrum fixed = spectrum_of(one, {});
  const Point centre{one.width() / 2.0, one.height() / 2.0};
  Affine best;
  double highest = 0;
  for (double turn = -kMostTurn; turn < kMostTurn + kTurnStep / 2; turn += kTurnStep) {
    const Affine turned = turned_about(centre, turn);
    const auto [shift, peak] =
        best_shift(fixed, spectrum_of(other, turned), one.width(), one.height());
    if (peak <= highest) continue;
    highest = peak;
    best = turned * Affine::shift(shift.x, shift.y);
  }
  return best;
}

struct Match {
  Point here, there;
  double correlation = 0;
};

// One block's values, its rows and columns each brought to a mean of 0: that lines of print lie
// over lines says nothing, letters have to lie over letters.
class BlockValues {
 public:
  template <typename ValueAt>
  BlockValues(const std::vector<uint8_t>& known, ValueAt value) : known_(known) {
    for (int y = 0; y < kBlock; ++y)
      for (int x = 0; x < kBlock; ++x) at(y, x) = known_at(y, x) ? value(x, y) : 0;
    for (int i = 0; i < kBlock; ++i) level([&](int k) { return i * kBlock + k; });
    for (int i = 0; i < kBlock; ++i) level([&](int k) { return k * kBlock + i; });
  }

  double correlation_with(const BlockValues& other) const {
    double both = 0, own = 0, others = 0;
    for (size_t i = 0; i < values_.size(); ++i) {
      const double a = values_[i], b = other.values_[i];
      both += a * b;
      own += a * a;
      others += b * b;
    }
    return own > 0 && others > 0 ? both / std::sqrt(own * others) : 0;
  }

 private:
  float& at(int y, int x) { return values_[static_cast<size_t>(y * kBlock + x)]; }
  bool known_at(int y, int x) const { return known_[static_cast<size_t>(y * kBlock + x)] != 0; }
  template <typename PlaceOf>
  void level(PlaceOf place_of) {
    float sum = 0;
    int count = 0;
    for (int k = 0; k < kBlock; ++k) {
      const auto place = static_cast<size_t>(place_of(k));
      sum += values_[place];
      count += known_[place] != 0;
    }
    for (int k = 0; k < kBlock && count > 0; ++k) {
      const auto place = static_cast<size_t>(place_of(k));
      if (known_[place] != 0) values_[place] -= sum / static_cast<float>(count);
    }
  }

  const std::vector<uint8_t>& known_;
  std::array<float, static_cast<size_t>(kBlock* kBlock)> values_{};
};

// Where the other's block fits best, within `reach`.
Match best_match(const Marks& one, const FloatImage& other, int x0, int y0,
                 const std::vector<uint8_t>& known, const Affine& to_other, int reach) {
  const BlockValues own(known, [&](int x, int y) { return one.strength.row(y0 + y)[x0 + x]; });
  Match best;
  for (int dy = -reach; dy <= reach; ++dy) {
    for (int dx = -reach; dx <= reach; ++dx) {
      const Point shift{static_cast<double>(dx), static_cast<double>(dy)};
      const BlockValues there(known, [&](int x, int y) {
        return value_at(other, to_other({x0 + x + 0.5, y0 + y + 0.5}) + shift);
      });
      const double c = own.correlation_with(there);
      if (c <= best.correlation) continue;
      best.correlation = c;
      best.here = {x0 + kBlock / 2.0, y0 + kBlock / 2.0};
      best.there = to_other(best.here) + shift;
    }
  }
  return best;
}

// Blocks in which the other has marks, each at the shift that fits best.
std::vector<Match> matches_of(const Marks& one, const Marks& other, const Affine& to_other,
                              int reach) {
  double energy = 0;
  for (const float v : other.strength.samples()) energy += v * v;
  const double usual = energy / static_cast<double>(other.strength.samples().size());
  std::vector<Match> matches;
  std::vector<uint8_t> known(static_cast<size_t>(kBlock) * kBlock);
  for (int y0 = 0; y0 + kBlock <= one.strength.height(); y0 += kBlock) {
    for (int x0 = 0; x0 + kBlock <= one.strength.width(); x0 += kBlock) {
      double there = 0, open = 0;
      for (int y = 0; y < kBlock; ++y) {
        for (int x = 0; x < kBlock; ++x) {
          const bool free = one.known.empty() || one.known.row(y0 + y)[x0 + x] > 0;
          known[static_cast<size_t>(y * kBlock + x)] = free;
          if (!free) continue;
          const double v = value_at(other.strength, to_other({x0 + x + 0.5, y0 + y + 0.5}));
          there += v * v;
          open += 1;
        }
      }
      if (open < 0.2 * kBlock * kBlock || there < usual * open) continue;
      matches.push_back(best_match(one, other.strength, x0, y0, known, to_other, reach));
    }
  }
  return matches;
}

Affine affine_through(const std::vector<Match>& matches, const Affine& guess) {
  Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
  Eigen::Matrix<double, 3, 2> right = Eigen::Matrix<double, 3, 2>::Zero();
  for (const Match& m : matches) {
    const Point off = m.there - guess(m.here);
    const Eigen::Vector3d row(m.here.x / 1000, m.here.y / 1000, 1);
    normal += m.correlation * row * row.transpose();
    right += m.correlation * row * Eigen::RowVector2d(off.x, off.y);
  }
  normal.diagonal().head<2>().array() += 0.05;  // few blocks turn nothing far
  const Eigen::Matrix<double, 3, 2> s = normal.ldlt().solve(right);
  return {guess.a + s(0, 0) / 1000, guess.b + s(1, 0) / 1000, guess.c + s(2, 0),
          guess.d + s(0, 1) / 1000, guess.e + s(1, 1) / 1000, guess.f + s(2, 1)};
}

// The map through the blocks that fit, without those that most others contradict.
std::optional<Alignment> refined(const Marks& one, const Marks& other, const Affine& guess,
                                 int reach) {
  const std::vector<Match> all = matches_of(one, other, guess, reach);
  std::vector<Match> fitting;
  std::copy_if(all.begin(), all.end(), std::back_inserter(fitting),
               [](const Match& m) { return m.correlation >= kFits; });
  Alignment result{guess};
  for (int round = 0; round < 3; ++round) {
    if (static_cast<int>(fitting.size()) < kFewestBlocks) return std::nullopt;
    result.to_other = affine_through(fitting, guess);
    std::vector<Match> near;
    for (const Match& m : fitting) {
      const Point off = m.there - result.to_other(m.here);
      if (std::hypot(off.x, off.y) <= kOutlier) near.push_back(m);
    }
    fitting = std::move(near);
  }
  result.share = static_cast<double>(fitting.size()) / static_cast<double>(all.size());
  if (static_cast<int>(fitting.size()) < kFewestBlocks || result.share < kFewestShare)
    return std::nullopt;
  for (const Match& m : fitting)
    result.correlation += m.correlation / static_cast<double>(fitting.size());
  return result;
}

Marks halved(const Marks& marks) {
  Marks half{clean::halved(marks.strength), {}};
  if (!marks.known.empty()) half.known = clean::halved(marks.known);
  return half;
}

Affine doubled(const Affine& map) {
  return {map.a, map.b, 2 * map.c, map.d, map.e, 2 * map.f};
}

}  // namespace

FloatImage halved(const FloatImage& field) {
  FloatImage half(field.width() / 2, field.height() / 2);
  for (int y = 0; y < half.height(); ++y) {
    const float *a = field.row(2 * y), *b = field.row(2 * y + 1);
    for (int x = 0; x < half.width(); ++x)
      half.row(y)[x] = (a[2 * x] + a[2 * x + 1] + b[2 * x] + b[2 * x + 1]) / 4;
  }
  return half;
}

float value_at(const FloatImage& field, Point p) {
  const double x = p.x - 0.5, y = p.y - 0.5;
  if (x < 0 || y < 0 || x >= field.width() - 1 || y >= field.height() - 1) return 0;
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const auto fx = static_cast<float>(x - i), fy = static_cast<float>(y - j);
  const float *a = field.row(j) + i, *b = field.row(j + 1) + i;
  const float top = a[0] + fx * (a[1] - a[0]), foot = b[0] + fx * (b[1] - b[0]);
  return top + fy * (foot - top);
}

std::optional<Alignment> aligned(const Marks& one, const Marks& other) {
  const Marks half = halved(one), half_other = halved(other);
  FloatImage coarse = halved(half.strength), coarse_other = halved(half_other.strength);
  Affine map = whole_fit(coarse, coarse_other);
  const auto rough = refined(half, half_other, doubled(map), 5);
  if (!rough) return std::nullopt;
  return refined(one, other, doubled(rough->to_other), 3);
}

}  // namespace burnisher::clean
