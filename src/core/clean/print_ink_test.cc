#include "clean/print_ink.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "raster/convert.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::ink_pixels;

// How dark a point is, 0 to 1, by places in pixels of the scan.
using Drawing = std::function<double(double x, double y)>;

// A scanner's picture of it: the mean over each pixel, softened by half a pixel either way.
Gray scanned(const Drawing& drawing, int width, int height) {
  constexpr int kFine = 8;
  Gray picture(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      double sum = 0;
      for (int v = -kFine / 2; v < kFine * 3 / 2; ++v)
        for (int u = -kFine / 2; u < kFine * 3 / 2; ++u)
          sum += drawing(x + (u + 0.5) / kFine, y + (v + 0.5) / kFine);
      picture.row(y)[x] =
          static_cast<uint8_t>(std::lround(230 * (1 - sum / (4.0 * kFine * kFine))));
    }
  }
  return picture;
}

double in_bar(double v, double from, double to) {
  return v >= from && v < to ? 1 : 0;
}

Bitonal page_ink(const Gray& picture) {
  return binarise(picture, {}, 200);
}

TEST(PrintInk, EdgesStandWhereTheyWerePrintedToHalfAPixelOfTheScan) {
  const Gray picture = scanned(
      [](double x, double y) {
        double dark = 0;
        for (int i = 0; i < 8; ++i) dark += in_bar(x, 20.25 + 25 * i, 26.75 + 25 * i);
        return y > 20 && y < 100 ? 0.9 * dark : 0;
      },
      220, 120);
  const Bitonal print = print_ink(picture, page_ink(picture), 200);
  ASSERT_EQ(print.width(), 440);
  ASSERT_EQ(print.height(), 240);
  for (int i = 0; i < 8; ++i) {
    const int from = static_cast<int>(std::lround(2 * (20.25 + 25 * i)));
    int first = -1, last = -1;
    for (int x = from - 12; x < from + 26; ++x) {
      if (!print.ink(x, 120)) continue;
      if (first < 0) first = x;
      last = x;
    }
    EXPECT_NEAR(first, from, 1);
    EXPECT_NEAR(last + 1, 2 * (26.75 + 25 * i), 1);
  }
}

// Letters of dark stems with a pale hairline between, as H has it in a modern face.
Gray hairlines() {
  return scanned(
      [](double x, double y) {
        if (y < 20 || y > 60) return 0.0;
        const double at = std::fmod(x, 40.0);
        if (in_bar(at, 8, 12) > 0 || in_bar(at, 15, 19) > 0) return 0.95;
        return at > 12 && at < 15 ? 0.7 * in_bar(y, 39.6, 40.6) : 0.0;
      },
      400, 80);
}

TEST(PrintInk, HairlinesHoldBesideDarkStems) {
  const Gray picture = hairlines();
  const Bitonal ink = page_ink(picture);
  const Bitonal print = print_ink(picture, ink, 200);
  int held = 0, thick = 0;
  for (int letter = 1; letter < 9; ++letter) {
    bool whole = true;
    for (int x = 2 * (40 * letter + 13); x < 2 * (40 * letter + 14); ++x) {
      int column = 0;
      for (int y = 60; y < 100; ++y) column += print.ink(x, y);
      whole = whole && column > 0;
      thick += column > 5;
    }
    held += whole;
  }
  EXPECT_EQ(held, 8);
  EXPECT_EQ(thick, 0);
}

TEST(PrintInk, NothingIsPutWhereCleaningLeftNone) {
  const Gray picture = hairlines();
  EXPECT_EQ(ink_pixels(print_ink(picture, Bitonal(400, 80), 200)), 0);
  Bitonal one(400, 80);
  for (int y = 25; y < 35; ++y)
    for (int x = 88; x < 92; ++x) one.set_ink(x, y, true);
  const Bitonal print = print_ink(picture, one, 200);
  EXPECT_GT(ink_pixels(print), 100);
  for (int y = 0; y < print.height(); ++y)
    for (int x = 0; x < print.width(); ++x)
      EXPECT_TRUE(!print.ink(x, y) || (x > 170 && x < 190 && y > 44 && y < 76));
}

TEST(PrintInk, WhiteOnBlackThatCleaningTurnedComesAsItIs) {
  Gray picture = hairlines();
  Bitonal ink(400, 80);
  for (int y = 0; y < 80; ++y) {
    for (int x = 0; x < 400; ++x) {
      if (picture.row(y)[x] < 128) ink.set_ink(x, y, true);
      picture.row(y)[x] = static_cast<uint8_t>(240 - picture.row(y)[x]);
    }
  }
  const Bitonal print = print_ink(picture, ink, 200);
  double both = 0;
  for (int y = 0; y < 160; ++y)
    for (int x = 0; x < 800; ++x) both += print.ink(x, y) && ink.ink(x / 2, y / 2);
  EXPECT_GT(both, 0.98 * 4 * ink_pixels(ink));
  EXPECT_LT(ink_pixels(print), 1.02 * 4 * ink_pixels(ink));
}

TEST(PrintInk, TinyPagesAreDoubledAsTheyAre) {
  Bitonal ink(3, 2);
  ink.set_ink(1, 1, true);
  EXPECT_EQ(ink_pixels(print_ink(Gray(3, 2, 20), ink, 200)), 4);
}

CleanResult leaning(double dpi) {
  Scan scan;
  testing::PrintedPage page(static_cast<int>(6 * dpi), static_cast<int>(3 * dpi));
  page.print_column(testing::prose(6, 50), 0.5 * dpi, 0.6 * dpi, 0.15 * dpi, 0.25 * dpi);
  scan.picture = page.picture(1.0);
  scan.stated_dpi = dpi;
  return std::move(clean(scan, {}).front());
}

TEST(PrintedPage, IsTwiceAsFineBelow400DpiAndLeadsBackToTheSamePlaces) {
  const CleanResult cleaned = leaning(200);
  const PrintedPage printed = printed_page(cleaned);
  EXPECT_EQ(printed.page.dpi, 400);
  EXPECT_EQ(printed.ink.width(), 2 * cleaned.page.width);
  EXPECT_EQ(printed.page.width, printed.ink.width());
  const Point there = cleaned.page.geometry.to_scan({100, 150}),
              again = printed.page.geometry.to_scan({200, 300});
  EXPECT_NEAR(there.x, again.x, 1e-9);
  EXPECT_NEAR(there.y, again.y, 1e-9);
  EXPECT_EQ(printed_page(leaning(400)).page.dpi, 400);
  EXPECT_EQ(print_factor(399), 2);
  EXPECT_EQ(print_factor(400), 1);
}

TEST(PrintedPage, ABitonalScanIsLeftToThePixel) {
  const CleanResult gray = leaning(200);
  Scan scan;
  scan.picture = gray.ink.clone();
  scan.stated_dpi = 200;
  const CleanResult cleaned = std::move(clean(scan, in_place()).front());
  const PrintedPage printed = printed_page(cleaned);
  EXPECT_EQ(printed.page.dpi, 200);
  EXPECT_EQ(printed.ink.bytes(), delivered_ink(cleaned).bytes());
}

}  // namespace
}  // namespace burnisher::clean
