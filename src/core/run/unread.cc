#include "run/unread.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/statistics.h"
#include "clean/blank.h"
#include "raster/blur.h"
#include "raster/convert.h"
#include "raster/text_scale.h"

namespace burnisher::run {
namespace {

constexpr int kPatternSide = 400;  // pixels of the longer side that patterns are measured at
constexpr double kFine = 2,
                 kCoarse = 8;    // standard deviations of the band that text lies in, pixels
constexpr double kPattern = 10;  // grey levels in that band

// Found on the blank pages of three folders of scans (grain: 2,115 "letters" of size 0.57 and
// contrast 0.11; the other side: 1,359 of 0.85 and 0.09; stains: a pattern of 0.13) and on
// photographs of text blurred by eight pixels (57 letters and more, of 2 and more, contrast from
// 0.14).
constexpr int kFewestLetters = 3;
constexpr double kLeastSize = 0.6;
constexpr double kLeastContrast = 0.12;
constexpr double kLeastPattern = 0.18;
constexpr double kSoft = 0.2;

double pattern_share(const Gray& page) {
  const Gray small =
      reduced(page, std::max(1, std::max(page.width(), page.height()) / kPatternSide));
  FloatImage fine(small.width(), small.height()), coarse(small.width(), small.height());
  for (size_t i = 0; i < small.samples().size(); ++i)
    fine.samples()[i] = coarse.samples()[i] = small.samples()[i];
  gaussian_blur(fine, kFine);
  gaussian_blur(coarse, kCoarse);
  double count = 0;
  for (size_t i = 0; i < small.samples().size(); ++i)
    count += coarse.samples()[i] - fine.samples()[i] > kPattern;
  return count / static_cast<double>(std::max<size_t>(1, small.samples().size()));
}

// Paper less the middle of the ink, of the paper's level.
double contrast_of(const Gray& page, const Bitonal& ink) {
  std::vector<double> levels;
  for (int y = 0; y < std::min(page.height(), ink.height()); ++y) {
    for (int x = 0; x < std::min(page.width(), ink.width()); ++x)
      if (ink.ink(x, y)) levels.push_back(page.row(y)[x]);
  }
  const double paper = std::max(1, quantile_of(page, 0.7));
  return levels.empty() ? 0 : (paper - median(levels)) / paper;
}

// The steepest thousandth of the changes from one pixel to the next but one, either way, as a share
// of the contrast: that of the direction that is softer, since a moved picture is soft in one only.
double steepest(const Gray& page) {
  std::array<std::array<int, 256>, 2> steps{};
  for (int y = 0; y + 2 < page.height(); ++y) {
    const uint8_t *row = page.row(y), *below = page.row(y + 2);
    for (int x = 0; x + 2 < page.width(); ++x) {
      ++steps[0][static_cast<size_t>(std::abs(row[x + 2] - row[x]))];
      ++steps[1][static_cast<size_t>(std::abs(below[x] - row[x]))];
    }
  }
  const double contrast = std::max(1, quantile_of(page, 0.9) - quantile_of(page, 0.005));
  double least = 1;
  for (const auto& histogram : steps) {
    double left = 0.001 * page.width() * page.height();
    int level = 255;
    while (level > 0 && (left -= histogram[static_cast<size_t>(level)]) > 0) --level;
    least = std::min(least, level / 2.0 / contrast);
  }
  return least;
}

}  // namespace

Evidence evidence_on(const clean::CleanResult& cleaned) {
  Evidence e;
  const Gray page = to_gray(cleaned.picture);
  e.letters = clean::letters_on(cleaned.ink, cleaned.text_height);
  e.size = cleaned.text_height / (kXHeightInches * cleaned.page.dpi);
  e.contrast = contrast_of(page, cleaned.ink);
  e.pattern = pattern_share(page);
  e.slope = steepest(page);
  return e;
}

std::string unread_reason(const Evidence& e) {
  const bool letters =
      e.letters >= kFewestLetters && e.size >= kLeastSize && e.contrast >= kLeastContrast;
  if (!letters && e.pattern < kLeastPattern) return "";
  if (e.slope < kSoft)
    return "something stands on it that could not be read: the picture is out of focus, or was "
           "moved";
  if (letters)
    return "something stands on it that could not be read: handwriting, a script that no model "
           "knows, or print too damaged";
  return "something stands on it that could not be read";
}

}  // namespace burnisher::run
