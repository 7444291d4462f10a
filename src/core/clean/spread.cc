#include "clean/spread.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace burnisher::clean {
namespace {

constexpr double kLandscape = 1.12;                 // width over height
constexpr double kFrom = 0.38, kTo = 0.62;          // where the fold may lie, of the width
constexpr int kFewestLetters = 60;                  // on either side
constexpr double kDarkFold = 0.06;                  // darkening at the fold, of the paper
constexpr double kAlike = 0.6;                      // of the band's width
constexpr double kNarrowBand = 1.2, kWideBand = 4;  // text heights: least, and enough without fold

// Share of the height that letters take in each column of pixels.
std::vector<double> letters_by_column(const std::vector<Component>& components, double text_height,
                                      int width) {
  std::vector<double> cover(static_cast<size_t>(width), 0.0);
  for (const Component& c : components) {
    const bool letter = c.height() > 0.5 * text_height && c.height() < 3 * text_height &&
                        c.width() < 8 * text_height && c.width() > 0.1 * text_height;
    if (!letter) continue;
    for (int x = c.x0; x < c.x1; ++x) cover[static_cast<size_t>(x)] += c.height();
  }
  return cover;
}

// Median brightness of the lighter half of each column: the paper in it.
std::vector<double> paper_by_column(const Gray& small) {
  std::vector<double> light;
  std::vector<uint8_t> column;
  for (int x = 0; x < small.width(); ++x) {
    column.clear();
    for (int y = small.height() / 20; y < small.height() * 19 / 20; y += 2)
      column.push_back(small.row(y)[x]);
    const auto at = column.begin() + static_cast<long>(column.size() * 7 / 10);
    std::nth_element(column.begin(), at, column.end());
    light.push_back(*at);
  }
  return light;
}

struct Band {
  int x0 = 0, x1 = 0;
};

// The widest band in the middle with next to no letters.
Band clear_band(const std::vector<double>& cover, double mean, int width) {
  Band best;
  int start = -1;
  const int from = static_cast<int>(kFrom * width), to = static_cast<int>(kTo * width);
  for (int x = from; x <= to; ++x) {
    const bool clear = x < to && cover[static_cast<size_t>(x)] < 0.04 * mean;
    if (clear && start < 0) start = x;
    if (!clear && start >= 0) {
      if (x - start > best.x1 - best.x0) best = {start, x};
      start = -1;
    }
  }
  return best;
}

// Rules and pictures that go over the band: facing pages share none.
bool crossed(const std::vector<Component>& components, const Band& band) {
  return std::any_of(components.begin(), components.end(),
                     [&](const Component& c) { return c.x0 < band.x0 && c.x1 > band.x1; });
}

// Another band on the page, between letters, that is nearly as wide: columns of a table.
bool one_of_many(const std::vector<double>& cover, double mean, const Band& band) {
  const auto clear = [&](double c) { return c < 0.04 * mean; };
  const double like = kAlike * (band.x1 - band.x0);
  double width = 0;
  bool letters_before = false;
  for (size_t x = 0; x < cover.size(); ++x) {
    if (clear(cover[x])) {
      ++width;
      continue;
    }
    const bool own = static_cast<int>(x) > band.x0 && static_cast<int>(x) - width <= band.x0;
    if (letters_before && !own && width > like) return true;
    letters_before = true;
    width = 0;
  }
  return false;
}

}  // namespace

Fold fold_of(const Gray& small, const std::vector<Component>& components, double text_height) {
  Fold fold;
  const int width = small.width();
  if (text_height <= 0 || width < kLandscape * small.height()) return fold;
  const std::vector<double> cover = letters_by_column(components, text_height, width);
  const double mean = std::accumulate(cover.begin(), cover.end(), 0.0) / width;
  const Band band = clear_band(cover, mean, width);
  if (band.x1 - band.x0 < kNarrowBand * text_height) return fold;
  const double middle = (band.x0 + band.x1) / 2.0;
  int left = 0, right = 0;
  for (const Component& c : components) {
    if (c.height() < 0.5 * text_height || c.height() > 3 * text_height) continue;
    ++(c.x1 < middle ? left : right);
  }
  if (std::min(left, right) < kFewestLetters) return fold;
  // The fold: darkest place in the band against the paper on both sides of it.
  const std::vector<double> light = paper_by_column(small);
  std::vector<double> sorted(light);
  std::nth_element(sorted.begin(), sorted.begin() + width * 6 / 10, sorted.end());
  const double paper = sorted[static_cast<size_t>(width * 6 / 10)];
  const auto first = light.begin() + band.x0, last = light.begin() + band.x1;
  const auto darkest = std::min_element(first, last);
  const double shade = (paper - *darkest) / std::max(1.0, paper);
  const double wide = (band.x1 - band.x0) / text_height;
  // Facing pages keep their own margins: the band is about as wide as both outer margins together.
  double first_letter = 0, last_letter = width;
  for (int x = 0; x < width && cover[static_cast<size_t>(x)] < 0.04 * mean; ++x) first_letter = x;
  for (int x = width - 1; x > 0 && cover[static_cast<size_t>(x)] < 0.04 * mean; --x)
    last_letter = x;
  const double outer = first_letter + (width - last_letter);
  const bool own_margins = (band.x1 - band.x0) > 0.45 * outer && wide > kWideBand &&
                           !crossed(components, band) && !one_of_many(cover, mean, band);
  if (shade < kDarkFold && !own_margins) return fold;
  fold.found = true;
  fold.x = shade >= kDarkFold ? static_cast<double>(darkest - light.begin()) + 0.5 : middle;
  fold.confidence =
      std::clamp(0.4 + 3 * std::max(0.0, shade) + 0.1 * (wide - kNarrowBand), 0.0, 1.0);
  return fold;
}

}  // namespace burnisher::clean
