#include "clean/clean.h"

#include <algorithm>
#include <cmath>

#include <fmt/core.h>

#include "clean/edges.h"
#include "clean/skew.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "raster/turn.h"
#include "raster/warp.h"

namespace burnisher::clean {
namespace {

constexpr int kMeasureWidth = 1100;          // pixels; enough to measure on
constexpr double kTextHeightInches = 0.062;  // x-height of 10-point type
constexpr double kLikelyDpi[] = {100, 150, 200, 240, 300, 400, 600};
constexpr double kDefaultDpi = 300;
constexpr int kFewestLetters = 6;  // a page with fewer is blank

struct Measure {
  double text_height = 0;
  Skew skew;
};

Measure measure(const Gray& gray, const CleanSettings& settings, double dpi) {
  const int factor = std::max(1, std::min(gray.width(), gray.height()) / kMeasureWidth);
  const Gray small = turned(reduced(gray, factor), settings.turn);
  const Bitonal ink = binarise(small, settings.binarise, dpi / factor);
  const Components found = components_of(ink);
  Measure m;
  const double height = dominant_height(found.list);
  m.text_height = height * factor;
  if (settings.deskew) m.skew = skew_of(found.list, height, settings.skew_limit);
  return m;
}

double estimated_dpi(double text_height) {
  if (text_height <= 0) return kDefaultDpi;
  const double raw = text_height / kTextHeightInches;
  return *std::min_element(std::begin(kLikelyDpi), std::end(kLikelyDpi), [&](double a, double b) {
    return std::fabs(std::log(a / raw)) < std::fabs(std::log(b / raw));
  });
}

// Exact, unlike sines and cosines: a quarter turn must not blur.
Affine quarter_turn(int degrees) {
  switch (degrees) {
    case 90:
      return {0, 1, 0, -1, 0, 0};
    case 180:
      return {-1, 0, 0, 0, -1, 0};
    case 270:
      return {0, -1, 0, 1, 0, 0};
    default:
      return {};
  }
}

// The map from page to scan that turns the scan by `turn` and levels content then standing
// counter-clockwise by `skew`, with a canvas just large enough for all of the scan.
Geometry levelled(int width, int height, int turn, double skew, int& page_width, int& page_height) {
  const Affine to_page_turn = Affine::turn(-skew) * quarter_turn(turn);
  const Box hull =
      bounds({to_page_turn({0, 0}), to_page_turn({static_cast<double>(width), 0}),
              to_page_turn({0, static_cast<double>(height)}),
              to_page_turn({static_cast<double>(width), static_cast<double>(height)})});
  page_width = static_cast<int>(std::ceil(hull.width() - 1e-6));
  page_height = static_cast<int>(std::ceil(hull.height() - 1e-6));
  const Affine to_page = Affine::shift(-hull.x0, -hull.y0) * to_page_turn;
  return {to_page.inverse(), width, height};
}

uint8_t paper_level(const Gray& gray) {
  const Gray small = reduced(gray, std::max(1, gray.width() / 200));
  std::vector<uint8_t> sorted(small.samples());
  std::nth_element(sorted.begin(), sorted.begin() + static_cast<long>(sorted.size() * 6 / 10),
                   sorted.end());
  return sorted[sorted.size() * 6 / 10];
}

Picture levelled_picture(const Picture& scan, const Page& page, uint8_t paper) {
  const PlaneMap& map = page.geometry.to_scan;
  if (const auto* gray = std::get_if<Gray>(&scan))
    return warped(*gray, map, page.width, page.height, paper);
  if (const auto* colour = std::get_if<Colour>(&scan))
    return warped(*colour, map, page.width, page.height, paper);
  const Gray gray = to_gray(std::get<Bitonal>(scan));
  return to_bitonal(warped(gray, map, page.width, page.height, 255), 128);
}

Picture copied(const Picture& picture) {
  return std::visit([](const auto& p) -> Picture { return p.clone(); }, picture);
}

// Components of letter size with another beside them, along rows or, on sideways pages, along
// columns: specks hardly ever stand in rows.
int letters_on(const Bitonal& ink, double text_height) {
  std::vector<Component> sized;
  for (const Component& c : components_of(ink).list) {
    const double longer = std::max(c.width(), c.height()),
                 shorter = std::min(c.width(), c.height());
    if (longer > 0.5 * text_height && shorter > 0.15 * text_height && shorter < 4 * text_height &&
        longer < 25 * text_height) {
      sized.push_back(c);
    }
  }
  const auto beside = [&](const Component& a, const Component& b) {
    const double x_gap = std::max(a.x0, b.x0) - std::min(a.x1, b.x1),
                 y_gap = std::max(a.y0, b.y0) - std::min(a.y1, b.y1);
    const double lower = std::min(a.height(), b.height()), slimmer = std::min(a.width(), b.width());
    const bool row = x_gap < 1.2 * text_height && -y_gap > 0.6 * lower &&
                     std::max(a.height(), b.height()) < 2.5 * lower;
    const bool column = y_gap < 1.2 * text_height && -x_gap > 0.6 * slimmer &&
                        std::max(a.width(), b.width()) < 2.5 * slimmer;
    return row || column;
  };
  std::sort(sized.begin(), sized.end(),
            [](const Component& a, const Component& b) { return a.x0 < b.x0; });
  int letters = 0;
  for (size_t i = 0; i < sized.size() && letters < kFewestLetters; ++i) {
    if (sized[i].width() > 4 * sized[i].height()) letters += 2;  // letters that touch
    for (size_t k = i + 1; k < sized.size() && sized[k].x0 < sized[i].x1 + 1.2 * text_height; ++k) {
      if (!beside(sized[i], sized[k])) continue;
      ++letters;
      break;
    }
  }
  return letters;
}

}  // namespace

CleanResult clean(const Scan& scan, const CleanSettings& settings) {
  CleanResult result;
  result.notes = scan.notes;
  result.scan_gray = to_gray(scan.picture);
  const Gray& gray = result.scan_gray;
  const double stated = settings.dpi > 0 ? settings.dpi : scan.stated_dpi;
  const Measure m = measure(gray, settings, stated > 0 ? stated : kDefaultDpi);
  result.text_height = m.text_height;
  result.skew_confidence = m.skew.confidence;

  Page& page = result.page;
  page.file = scan.file;
  page.number = scan.page;
  page.dpi = stated;
  if (stated <= 0) {
    page.dpi = estimated_dpi(m.text_height);
    result.dpi_estimated = true;
    result.notes.push_back(
        fmt::format("the file states no believable resolution; {:.0f} dpi was estimated from the "
                    "text (--dpi sets it)",
                    page.dpi));
  }
  page.width = gray.width();
  page.height = gray.height();
  page.geometry = {Affine{}, page.width, page.height};
  const bool crooked = std::fabs(m.skew.degrees) >= settings.straight;
  if (crooked) result.skew = m.skew.degrees;
  if (crooked || settings.turn != 0) {
    page.geometry =
        levelled(gray.width(), gray.height(), settings.turn, result.skew, page.width, page.height);
    result.picture = levelled_picture(scan.picture, page, paper_level(gray));
  } else {
    result.picture = copied(scan.picture);
  }
  if (const auto* bitonal = std::get_if<Bitonal>(&result.picture)) {
    result.ink = bitonal->clone();
  } else {
    const auto* level = std::get_if<Gray>(&result.picture);
    result.ink = level != nullptr ? binarise(*level, settings.binarise, page.dpi)
                                  : binarise(to_gray(result.picture), settings.binarise, page.dpi);
  }
  clear_edges(page.geometry, result.ink);
  result.specks = despeckle(settings.despeckle, result.text_height, result.ink);
  double area = 0;
  for (uint8_t byte : result.ink.bytes()) area += __builtin_popcount(byte);
  result.ink_share = area / (static_cast<double>(page.width) * page.height);
  result.blank =
      result.text_height <= 0 || letters_on(result.ink, result.text_height) < kFewestLetters;
  return result;
}

}  // namespace burnisher::clean
