#include "clean/other_side.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "clean/align.h"
#include "clean/background.h"
#include "raster/blur.h"
#include "raster/convert.h"

namespace burnisher::clean {
namespace {

constexpr int kMeasured = 1800;    // pixels of the longer side, at most, that all is measured on
constexpr double kSurround = 12;   // pixels there: what marks stand out from
constexpr float kOwnPrint = 0.6f;  // of the paper's light; darker is this side's print
constexpr int kRoundPrint = 3;     // pixels there: soft edges of print tell nothing
constexpr float kOthersGhost = 0.35f;  // paler marks of the other side are this one's own print
constexpr double kWeakest = 0.015;     // of the paper's light; less nobody sees
constexpr double kStrongest = 0.6;
// Blurs of what shines through that are tried, pixels measured on: paper scatters it.
constexpr std::array<double, 6> kBlurs = {0.4, 0.8, 1.3, 2, 3, 4.5};
constexpr int kCell = 96;  // pixels measured on, of the grid on which the strength changes
// A cell follows the page's strength as though so much of a usual cell's print spoke for it.
constexpr double kHeld = 0.15;

// A side at the scale that is measured on.
struct Side {
  Gray gray;
  FloatImage light;  // of the bare paper, 0-255
  double scale = 1;  // of its scan's pixels
};

FloatImage light_of(const Gray& gray) {
  const Paper paper = paper_of(gray, 0);
  FloatImage light(gray.width(), gray.height());
  for (int y = 0; y < gray.height(); ++y) {
    for (int x = 0; x < gray.width(); ++x) {
      const double across = std::clamp<double>(x, 0.5 * paper.cell + 1,
                                               (paper.light.width() - 0.5) * paper.cell - 1),
                   down = std::clamp<double>(y, 0.5 * paper.cell + 1,
                                             (paper.light.height() - 0.5) * paper.cell - 1);
      light.row(y)[x] =
          std::max(1.f, value_at(paper.light, Point{across, down} * (1.0 / paper.cell)));
    }
  }
  return light;
}

double measured_scale(const Picture& picture) {
  return std::min(1.0,
                  kMeasured / static_cast<double>(std::max(width_of(picture), height_of(picture))));
}

Side side_of(Gray gray, double scale) {
  Side side{std::move(gray), {}, scale};
  side.light = light_of(side.gray);
  return side;
}

// As it is seen through the paper: mirrored, or upside down and mirrored.
Gray seen_through(const Gray& gray, bool upside_down) {
  Gray out(gray.width(), gray.height());
  for (int y = 0; y < gray.height(); ++y) {
    if (upside_down)
      std::copy_n(gray.row(gray.height() - 1 - y), gray.width(), out.row(y));
    else
      std::reverse_copy(gray.row(y), gray.row(y) + gray.width(), out.row(y));
  }
  return out;
}

// Less its surroundings, so far as they are known.
FloatImage standing_out(const FloatImage& field, const FloatImage& known) {
  FloatImage sum(field.width(), field.height()), weight = known.clone();
  for (size_t i = 0; i < sum.samples().size(); ++i)
    sum.samples()[i] = field.samples()[i] * known.samples()[i];
  gaussian_blur(sum, kSurround);
  gaussian_blur(weight, kSurround);
  for (size_t i = 0; i < sum.samples().size(); ++i) {
    const float around = sum.samples()[i] / std::max(1e-3f, weight.samples()[i]);
    sum.samples()[i] = known.samples()[i] * (field.samples()[i] - around);
  }
  return sum;
}

// 1 where this side has no print of its own near by.
FloatImage free_of_print(const Side& side) {
  const int width = side.gray.width(), height = side.gray.height();
  FloatImage free(width, height, 1.f);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      if (side.gray.row(y)[x] > kOwnPrint * side.light.row(y)[x]) continue;
      const int x0 = std::max(0, x - kRoundPrint), x1 = std::min(width - 1, x + kRoundPrint);
      for (int j = std::max(0, y - kRoundPrint); j <= std::min(height - 1, y + kRoundPrint); ++j)
        std::fill(free.row(j) + x0, free.row(j) + x1 + 1, 0.f);
    }
  }
  return free;
}

// Logarithms, in which what shines through is added: how much darker than paper.
FloatImage darkness_of(const Side& side) {
  FloatImage dark(side.gray.width(), side.gray.height());
  for (int y = 0; y < dark.height(); ++y) {
    for (int x = 0; x < dark.width(); ++x)
      dark.row(y)[x] =
          std::clamp(-std::log((side.gray.row(y)[x] + 1) / side.light.row(y)[x]), -0.3f, 0.7f);
  }
  return dark;
}

// 0 paper ... 1 ink; this side's own print, which is seen through the other, left out.
FloatImage print_of(const Side& side) {
  FloatImage print(side.gray.width(), side.gray.height());
  for (int y = 0; y < print.height(); ++y) {
    for (int x = 0; x < print.width(); ++x) {
      const float dark = 1 - side.gray.row(y)[x] / side.light.row(y)[x];
      print.row(y)[x] = std::clamp((dark - kOthersGhost) / (1 - kOthersGhost), 0.f, 1.f);
    }
  }
  return print;
}

FloatImage carried_over(const FloatImage& print, const Affine& to_other, int width, int height) {
  FloatImage carried(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      carried.row(y)[x] = value_at(print, to_other({x + 0.5, y + 0.5}));
  return carried;
}

// How `dark` follows `print` where the page is free: least squares, as a whole and cell by cell.
struct Fit {
  double both = 0, prints = 0, darks = 0;
  double strength() const { return prints > 0 ? both / prints : 0; }
  double correlation() const {
    return prints > 0 && darks > 0 ? both / std::sqrt(prints * darks) : 0;
  }
};

Fit fit_of(const FloatImage& dark, const FloatImage& print, int x0, int y0, int x1, int y1) {
  Fit fit;
  for (int y = y0; y < y1; ++y) {
    for (int x = x0; x < x1; ++x) {
      const double d = dark.row(y)[x], p = print.row(y)[x];
      fit.both += d * p;
      fit.prints += p * p;
      fit.darks += d * d;
    }
  }
  return fit;
}

// Values at the cells' centres.
FloatImage strengths_of(const FloatImage& dark, const FloatImage& print, double usual) {
  const int columns = (dark.width() + kCell - 1) / kCell,
            rows = (dark.height() + kCell - 1) / kCell;
  const double held = kHeld * fit_of(dark, print, 0, 0, dark.width(), dark.height()).prints /
                      (static_cast<double>(columns) * rows);
  FloatImage strengths(columns, rows);
  for (int r = 0; r < rows; ++r) {
    for (int c = 0; c < columns; ++c) {
      const Fit fit =
          fit_of(dark, print, c * kCell, r * kCell, std::min(dark.width(), (c + 1) * kCell),
                 std::min(dark.height(), (r + 1) * kCell));
      const double own = (fit.both + held * usual) / (fit.prints + held);
      strengths.row(r)[c] = static_cast<float>(std::clamp(own, 0.0, kStrongest));
    }
  }
  return strengths;
}

float strength_at(const FloatImage& strengths, Point p) {
  const double x = std::clamp(p.x / kCell, 0.5, strengths.width() - 0.5),
               y = std::clamp(p.y / kCell, 0.5, strengths.height() - 0.5);
  if (strengths.width() < 2 || strengths.height() < 2) return strengths.samples().front();
  return value_at(
      strengths, {std::min(x, strengths.width() - 0.501), std::min(y, strengths.height() - 0.501)});
}

// What the other side takes away from the light.
struct Veil {
  FloatImage taken;  // logarithm, by pixels measured on
  double scale = 1;  // of the scan's pixels
};

template <typename Dense>
void lift(const Veil& veil, Dense& scan) {
  for (int y = 0; y < scan.height(); ++y) {
    uint8_t* row = scan.row(y);
    for (int x = 0; x < scan.width(); ++x) {
      const Point p = Point{x + 0.5, y + 0.5} * veil.scale;
      const float taken = value_at(veil.taken, p);
      if (taken < 1e-3f) continue;
      const float gain = std::exp(taken);
      for (int c = 0; c < Dense::channels; ++c) {
        uint8_t& v = row[Dense::channels * x + c];
        v = static_cast<uint8_t>(std::min(255.f, v * gain + 0.5f));
      }
    }
  }
}

// Nothing becomes lighter than the paper round it.
void keep_below_paper(const Side& page, FloatImage& taken) {
  for (int y = 0; y < taken.height(); ++y) {
    for (int x = 0; x < taken.width(); ++x) {
      const float room =
          std::log(page.light.row(y)[x] / (static_cast<float>(page.gray.row(y)[x]) + 1));
      taken.row(y)[x] = std::clamp(taken.row(y)[x], 0.f, std::max(0.f, room + 0.02f));
    }
  }
}

// What the other side takes away, when it stands like this. `own`: what stands out on the page.
std::optional<Veil> veil_of(const Side& page, const Marks& own, const Side& back,
                            OtherSide& found) {
  const int width = page.gray.width(), height = page.gray.height();
  const FloatImage print = print_of(back);
  const FloatImage &dark = own.strength, &free = own.known;
  const FloatImage everywhere(print.width(), print.height(), 1.f);
  const auto map = aligned(own, {standing_out(print, everywhere), {}});
  if (!map) return std::nullopt;
  const FloatImage carried = carried_over(print, map->to_other, width, height);
  FloatImage blurred, standing;
  Fit best;
  for (const double sigma : kBlurs) {
    FloatImage soft = carried.clone();
    gaussian_blur(soft, sigma);
    FloatImage out = standing_out(soft, free);
    const Fit fit = fit_of(dark, out, 0, 0, width, height);
    if (fit.correlation() <= best.correlation()) continue;
    best = fit;
    blurred = std::move(soft);
    standing = std::move(out);
  }
  if (blurred.empty() || best.strength() < kWeakest) return std::nullopt;
  found = {true, 1 - std::exp(-best.strength()), map->correlation};
  const FloatImage strengths = strengths_of(dark, standing, best.strength());
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) blurred.row(y)[x] *= strength_at(strengths, {x + 0.5, y + 0.5});
  keep_below_paper(page, blurred);
  return Veil{std::move(blurred), page.scale};
}

}  // namespace

SeenSide seen_side(const Picture& scan, double dpi) {
  const double scale = measured_scale(scan);
  return {scaled(to_gray(scan), scale), scale * dpi};
}

OtherSide lift_other_side(const SeenSide& other, double dpi, Picture& scan) {
  OtherSide result;
  if (std::holds_alternative<Bitonal>(scan)) return result;
  const double scale = measured_scale(scan);
  const Side page = side_of(scaled(to_gray(scan), scale), scale);
  const double to_page = scale * dpi / other.dpi;
  const Gray back = scaled(other.gray, std::fabs(to_page - 1) < 0.002 ? 1 : to_page);
  Marks own{{}, free_of_print(page)};
  own.strength = standing_out(darkness_of(page), own.known);
  for (const bool upside_down : {false, true}) {
    const auto veil = veil_of(page, own, side_of(seen_through(back, upside_down), to_page), result);
    if (!veil) continue;
    if (auto* gray = std::get_if<Gray>(&scan)) lift(*veil, *gray);
    if (auto* colour = std::get_if<Colour>(&scan)) lift(*veil, *colour);
    break;
  }
  return result;
}

}  // namespace burnisher::clean
