
#include <gtest/gtest.h>

#include <cmath>

#include "clean/edges.h"
#include "clean/skew.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "raster/turn.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::ink_pixels;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;

PrintedPage book_page() {
  PrintedPage page(1400, 1000);
  page.print_column(prose(14, 52), 150, 160, 44, 58);
  return page;
}

Skew measured(const Gray& picture) {
  const Components found = components_of(to_bitonal(picture, 128));
  return skew_of(found.list, dominant_height(found.list), 20);
}

class SkewAngles : public ::testing::TestWithParam<double> {};

TEST_P(SkewAngles, AreFoundToAFewHundredths) {
  const Skew skew = measured(book_page().picture(GetParam()));
  EXPECT_NEAR(skew.degrees, GetParam(), 0.04);
  EXPECT_GT(skew.confidence, 0.8);
}

INSTANTIATE_TEST_SUITE_P(Skew, SkewAngles,
                         ::testing::Values(-17.0, -4.3, -0.6, 0.0, 0.12, 1.0, 2.5, 9.0));

TEST(Skew, AnEmptyPageHasNone) {
  const Skew skew = measured(Gray(300, 300, 255));
  EXPECT_EQ(skew.degrees, 0);
  EXPECT_EQ(skew.confidence, 0);
}

TEST(Clean, AStraightPageIsLeftAloneToThePixel) {
  const Gray picture = book_page().picture();
  const CleanResult result = cleaned(scan_of(picture.clone()), {});
  EXPECT_EQ(std::get<Gray>(result.picture).samples(), picture.samples());
  EXPECT_TRUE(result.page.geometry.to_scan.is_identity());
}

TEST(Clean, ACrookedPageComesOutStraightAndItsPixelsLeadBack) {
  const CleanResult result = cleaned(scan_of(book_page().picture(2.0)), {});
  EXPECT_NEAR(result.skew, 2.0, 0.05);
  EXPECT_NEAR(measured(std::get<Gray>(result.picture)).degrees, 0, 0.05);
  // The middle of the page is the middle of the scan.
  const Point middle =
      result.page.geometry.to_scan({result.page.width / 2.0, result.page.height / 2.0});
  EXPECT_NEAR(middle.x, 700, 1);
  EXPECT_NEAR(middle.y, 500, 1);
}

TEST(Clean, QuarterTurnsMovePixelsWithoutChangingThem) {
  const Gray upright = book_page().picture();
  for (const int turn : {90, 180, 270}) {
    CleanSettings settings;
    settings.turn = turn;
    const CleanResult result = cleaned(scan_of(turned(upright, 360 - turn)), settings);
    EXPECT_EQ(std::get<Gray>(result.picture).samples(), upright.samples()) << turn;
    // Page pixels lead back to the same grey in the scan.
    const Point there = result.page.geometry.to_scan({200.5, 150.5});
    const Gray scan = turned(upright, 360 - turn);
    EXPECT_EQ(scan.row(static_cast<int>(there.y))[static_cast<int>(there.x)], upright.row(150)[200])
        << turn;
  }
}

TEST(Clean, DeskewCanBeSwitchedOff) {
  CleanSettings settings;
  settings.deskew = false;
  EXPECT_EQ(cleaned(scan_of(book_page().picture(2.0)), settings).skew, 0);
}

TEST(Clean, BitonalScansStayBitonal) {
  Scan scan = scan_of(Gray(1, 1));
  scan.picture = to_bitonal(book_page().picture(1.5), 128);
  EXPECT_TRUE(std::holds_alternative<Bitonal>(cleaned(scan, {}).picture));
}

TEST(Clean, AMissingResolutionIsEstimatedFromTheTextAndSaid) {
  const CleanResult result = cleaned(scan_of(book_page().picture(), 0), {});
  EXPECT_TRUE(result.dpi_estimated);
  EXPECT_EQ(result.page.dpi, 300);  // 44 pixels an em are about 10.5 points
  ASSERT_EQ(result.notes.size(), 1u);
  EXPECT_NE(result.notes[0].find("estimated"), std::string::npos);
}

TEST(Clean, BlankPagesAreBlank) {
  EXPECT_TRUE(cleaned(scan_of(Gray(800, 1000, 240)), {}).blank);
  EXPECT_FALSE(cleaned(scan_of(book_page().picture()), {}).blank);
}

TEST(Binarise, OtsuParsTwoPeaks) {
  Gray page(100, 100, 200);
  for (int y = 0; y < 30; ++y) std::fill_n(page.row(y), 100, static_cast<uint8_t>(40));
  const int threshold = otsu_threshold(page);
  EXPECT_GT(threshold, 40);
  EXPECT_LE(threshold, 200);
}

// Light that falls off from left to right, down to the grey of the ink on the bright side.
TEST(Binarise, LocalThresholdsFollowTheLight) {
  Gray page = book_page().picture();
  for (int y = 0; y < page.height(); ++y) {
    for (int x = 0; x < page.width(); ++x) {
      const double light = 1 - 0.65 * x / page.width();
      page.row(y)[x] = static_cast<uint8_t>((page.row(y)[x] * 0.6 + 100) * light);
    }
  }
  const Bitonal truth = to_bitonal(book_page().picture(), 128);
  const auto wrong = [&](BinariseMethod method) {
    BinariseSettings settings;
    settings.method = method;
    const Bitonal ink = binarise(page, settings, 300);
    int count = 0;
    for (size_t i = 0; i < ink.bytes().size(); ++i)
      count += __builtin_popcount(ink.bytes()[i] ^ truth.bytes()[i]);
    return count;
  };
  EXPECT_LT(wrong(BinariseMethod::kLocal), wrong(BinariseMethod::kGlobal) / 5);
  EXPECT_LT(wrong(BinariseMethod::kAuto), wrong(BinariseMethod::kLocal));
}

TEST(Binarise, PaperGrainIsNoInk) {
  Gray page(600, 600);
  for (size_t i = 0; i < page.samples().size(); ++i)
    page.samples()[i] = static_cast<uint8_t>(215 + (i * 7919 % 13));
  const Bitonal ink = binarise(page, {}, 300);
  int count = 0;
  for (uint8_t byte : ink.bytes()) count += __builtin_popcount(byte);
  EXPECT_EQ(count, 0);
}

TEST(Despeckle, TakesStrayDotsAndLeavesPunctuation) {
  PrintedPage page(900, 400);
  page.print({"i. j: é, ö; 3.14 end.", 60, 120, 60});
  const Bitonal clean_text = to_bitonal(page.picture(), 128);
  page.disc(450, 300, 3).disc(120, 340, 2).disc(700, 260, 4);
  Bitonal ink = to_bitonal(page.picture(), 128);
  EXPECT_EQ(despeckle({}, 28, ink), 3);
  EXPECT_EQ(ink.bytes(), clean_text.bytes());
}

TEST(Despeckle, LeavesTheDotsOfJoinedLetters) {
  PrintedPage page(900, 400);
  for (int word = 0; word < 6; ++word) {
    const double x = 60 + 130.0 * word;
    page.rule(x, 100, x + 90, 100, 8).rule(x + 2, 60, x + 2, 100, 8);  // joined, one upright
    page.disc(x + 40, 116, 4).disc(x + 60, 116, 4);                    // below
    page.disc(x + 50, 78, 4);                                          // within
  }
  const Bitonal print = to_bitonal(page.picture(), 128);
  page.disc(450, 300, 4).disc(120, 340, 4);
  Bitonal ink = to_bitonal(page.picture(), 128);
  EXPECT_EQ(despeckle({}, 28, ink), 2);
  EXPECT_EQ(ink.bytes(), print.bytes());
}

TEST(Despeckle, LeavesLeaders) {
  PrintedPage page(1200, 200);
  page.print({"Oil", 40, 100, 50}).print({"17", 1100, 100, 50});
  for (int x = 160; x < 1060; x += 30) page.disc(x, 97, 3);
  Bitonal ink = to_bitonal(page.picture(), 128);
  EXPECT_EQ(despeckle({}, 23, ink), 0);
}

TEST(Despeckle, ASizeOfZeroRemovesNothing) {
  PrintedPage page(200, 200);
  page.disc(100, 100, 2);
  Bitonal ink = to_bitonal(page.picture(), 128);
  DespeckleSettings settings;
  settings.size = 0;
  EXPECT_EQ(despeckle(settings, 20, ink), 0);
}

TEST(Edges, ShadowsAlongTheEdgesGoAndTextStays) {
  PrintedPage page(1000, 800);
  page.print({"Skerrow Light", 200, 400, 60});
  const Bitonal text = to_bitonal(page.picture(), 128);
  page.rule(0, 0, 12, 800, 12).rule(992, 100, 998, 500, 6).rule(0, 790, 1000, 800, 10);
  Bitonal ink = to_bitonal(page.picture(), 128);
  EXPECT_EQ(clear_edges({Affine{}, 1000, 800}, 30, ink), 2);
  EXPECT_EQ(ink.bytes(), text.bytes());
}

// A sheet photographed on a dark table: the table is one component round all print.
TEST(Edges, TheBedRoundASheetGoesAndAPictureThatFillsThePageStays) {
  PrintedPage page(1000, 800);
  page.print({"Skerrow Light", 300, 400, 60});
  const Bitonal text = to_bitonal(page.picture(), 128);
  Bitonal bed = text.clone(), picture(1000, 800);
  for (int y = 0; y < 800; ++y) {
    for (int x = 0; x < 1000; ++x) {
      if (x < 120 + y / 20 || x > 880 || y < 90 || y > 720) bed.set_ink(x, y, true);
      picture.set_ink(x, y, true);
    }
  }
  EXPECT_EQ(clear_edges({Affine{}, 1000, 800}, 30, bed), 1);
  EXPECT_EQ(bed.bytes(), text.bytes());
  EXPECT_EQ(clear_edges({Affine{}, 1000, 800}, 30, picture), 0);
}

}  // namespace
}  // namespace burnisher::clean
