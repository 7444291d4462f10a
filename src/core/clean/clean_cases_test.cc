// Scans as they really come: faint, bordered, coarse, turned and crooked at once.

#include <gtest/gtest.h>

#include <cmath>

#include "raster/convert.h"
#include "raster/turn.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::ink_pixels;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;

PrintedPage page_at(double dpi, int lines = 16) {
  const double size = 10.5 / 72 * dpi;
  PrintedPage page(static_cast<int>(5 * dpi), static_cast<int>(4.2 * dpi));
  page.print_column(prose(lines, 52), 0.5 * dpi, 0.6 * dpi, size, 1.3 * size);
  return page;
}

class Resolutions : public ::testing::TestWithParam<double> {};

TEST_P(Resolutions, ScaleTheTextHeightAndNothingElse) {
  const double dpi = GetParam();
  const CleanResult result = cleaned(scan_of(page_at(dpi).picture(1.3), dpi), {});
  EXPECT_NEAR(result.text_height / dpi, 10.5 / 72 * 0.459, 0.012);
  EXPECT_NEAR(result.skew, 1.3, 0.06);
  EXPECT_FALSE(result.blank);
}

INSTANTIATE_TEST_SUITE_P(Dpi, Resolutions, ::testing::Values(150.0, 200.0, 300.0, 600.0));

TEST(CleanCases, FaintTextIsInkAlsoBesideABlackBorder) {
  const Gray full = page_at(300).picture();
  Gray faint = full.clone();
  for (uint8_t& v : faint.samples()) v = static_cast<uint8_t>(200 - (255 - v) * 45 / 255);
  // The lid of the scanner shows as a black bar along one edge.
  for (int y = 0; y < faint.height(); ++y) {
    for (int x = 0; x < 40; ++x) faint.row(y)[x] = 5;
  }
  BinariseSettings local;
  local.method = BinariseMethod::kLocal;
  CleanSettings settings;
  settings.binarise = local;
  const CleanResult result = cleaned(scan_of(std::move(faint), 300), settings);
  const int expected = ink_pixels(to_bitonal(full, 128));
  EXPECT_NEAR(ink_pixels(result.ink), expected, 0.25 * expected);
}

TEST(CleanCases, TurnedAndCrookedAtOnceComesOutStraight) {
  CleanSettings settings;
  settings.turn = 90;
  const Gray upright = page_at(200).picture(-1.7);
  const CleanResult result = cleaned(scan_of(turned(upright, 270), 200), settings);
  EXPECT_NEAR(result.skew, -1.7, 0.06);
  // A round trip through the geometry stays within the scan.
  const Point corner =
      result.page.geometry.to_scan({result.page.width / 2.0, result.page.height / 2.0});
  EXPECT_NEAR(corner.x, result.page.geometry.scan_width / 2.0, 1);
  EXPECT_NEAR(corner.y, result.page.geometry.scan_height / 2.0, 1);
}

TEST(CleanCases, AGivenResolutionIsBelievedWithoutAWord) {
  CleanSettings settings;
  settings.dpi = 240;
  const CleanResult result = cleaned(scan_of(page_at(300).picture(), 0), settings);
  EXPECT_EQ(result.page.dpi, 240);
  EXPECT_FALSE(result.dpi_estimated);
  EXPECT_TRUE(result.notes.empty());
}

TEST(CleanCases, TheCanvasGrowsSoThatNothingIsCutOff) {
  const CleanResult result = cleaned(scan_of(page_at(200).picture(8), 200), {});
  const Page& page = result.page;
  EXPECT_GT(page.width, 1000);
  const Projective to_page = page.geometry.to_scan.plane().inverse();
  for (const Point& corner : {Point{0, 0}, Point{1000, 0}, Point{0, 840}, Point{1000, 840}}) {
    const Point p = to_page(corner);
    EXPECT_GE(p.x, -0.01);
    EXPECT_GE(p.y, -0.01);
    EXPECT_LE(p.x, page.width + 0.01);
    EXPECT_LE(p.y, page.height + 0.01);
  }
}

TEST(CleanCases, ColourStaysColour) {
  Colour colour(600, 400);
  const Gray gray = page_at(120, 8).picture();
  for (int y = 0; y < 400; ++y) {
    for (int x = 0; x < 600; ++x) {
      colour.row(y)[3 * x] = gray.row(y)[x];
      colour.row(y)[3 * x + 1] = gray.row(y)[x];
      colour.row(y)[3 * x + 2] = static_cast<uint8_t>(gray.row(y)[x] / 2);
    }
  }
  Scan scan = scan_of(Gray(1, 1), 120);
  scan.picture = std::move(colour);
  EXPECT_TRUE(std::holds_alternative<Colour>(cleaned(scan, {}).picture));
}

TEST(CleanCases, APageOfSpecksIsBlankAndAPageNumberIsNot) {
  PrintedPage specks(1000, 1400);
  for (int i = 0; i < 120; ++i) specks.disc(60 + (i * 577) % 880, 60 + (i * 863) % 1280, 3 + i % 3);
  EXPECT_TRUE(cleaned(scan_of(specks.picture(), 200), {}).blank);
  PrintedPage sideways(900, 1300);
  sideways.print_column(prose(8, 30), 80, 200, 44, 60);
  EXPECT_FALSE(cleaned(scan_of(turned(sideways.picture(), 90), 300), {}).blank);
}

TEST(CleanCases, NotesOfTheScanAreKept) {
  Scan scan = scan_of(page_at(300).picture(), 300);
  scan.notes = {"the JPEG data end early"};
  EXPECT_EQ(cleaned(scan, {}).notes, scan.notes);
}

TEST(Turn, FourQuarterTurnsAreNone) {
  const Gray page = page_at(120, 4).picture();
  Gray turning = page.clone();
  for (int i = 0; i < 4; ++i) turning = turned(turning, 90);
  EXPECT_EQ(turning.samples(), page.samples());
  EXPECT_EQ(turned(turned(page, 90), 180).samples(), turned(page, 270).samples());
}

TEST(Turn, CounterClockwiseBringsTheRightEdgeToTheTop) {
  Gray page(3, 2, 0);
  page.row(0)[2] = 9;  // upper right corner
  EXPECT_EQ(turned(page, 90).row(0)[0], 9);
}

}  // namespace
}  // namespace burnisher::clean
