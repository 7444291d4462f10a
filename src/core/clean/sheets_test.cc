// What a scan holds: one sheet or two, borders round it, curl, white on black, its side up.

#include <gtest/gtest.h>

#include <cmath>

#include "base/random.h"
#include "clean/dewarp.h"
#include "clean/inverse.h"
#include "clean/tone.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "raster/turn.h"
#include "raster/warp.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;

PrintedPage log_page() {
  PrintedPage page(1400, 1700);
  page.print_column(prose(24, 58), 150, 250, 40, 56);
  return page;
}

// Two pages side by side, with `fold` grey levels of shadow at the fold.
Gray facing_pages(int fold) {
  PrintedPage page(2600, 1700);
  page.print_column(prose(24, 48), 150, 250, 40, 56);
  page.print_column(prose(24, 48), 1430, 250, 40, 56);
  Gray picture = page.picture();
  for (int y = 0; y < picture.height(); ++y) {
    for (int x = 1180; x < 1420; ++x) {
      const double away = std::fabs(x - 1300) / 120.0;
      picture.row(y)[x] = static_cast<uint8_t>(picture.row(y)[x] - fold * (1 - away));
    }
  }
  return picture;
}

TEST(Spreads, ArePartedAtTheFold) {
  const auto pages = clean(scan_of(facing_pages(90)), {});
  ASSERT_EQ(pages.size(), 2u);
  EXPECT_NEAR(pages[0].page.width, 1300, 10);
  EXPECT_EQ(pages[0].page.part, 1);
  EXPECT_EQ(pages[1].page.part, 2);
  const Point corner = pages[1].page.geometry.to_scan({0, 0});
  EXPECT_NEAR(corner.x, 1300, 10);
  EXPECT_NEAR(corner.y, 0, 1);
}

TEST(Spreads, OfPagesWithMarginsOfTheirOwnNeedNoShadow) {
  PrintedPage page(2800, 1700);
  page.print_column(prose(24, 44), 150, 250, 40, 56);
  page.print_column(prose(24, 44), 1560, 250, 40, 56);
  EXPECT_EQ(clean(scan_of(page.picture()), {}).size(), 2u);
}

TEST(Spreads, ColumnsOfOnePageAreNone) {
  PrintedPage landscape(2600, 1700);
  landscape.print_column(prose(24, 48), 250, 250, 40, 56);
  landscape.print_column(prose(24, 48), 1340, 250, 40, 56);
  EXPECT_EQ(clean(scan_of(landscape.picture()), {}).size(), 1u);
  EXPECT_EQ(clean(scan_of(log_page().picture()), {}).size(), 1u);
}

TEST(Spreads, StayTogetherWhenAsked) {
  CleanSettings settings;
  settings.split = false;
  EXPECT_EQ(cleaned(scan_of(facing_pages(90)), settings).page.width, 2600);
}

TEST(Borders, DarkOnesAreCutOffAndPositionsStillCount) {
  Gray picture = log_page().picture();
  for (int y = 0; y < picture.height(); ++y) {
    for (int x = 0; x < picture.width(); ++x) {
      if (x < 60 || y < 40 || y > 1660) picture.row(y)[x] = 20;
    }
  }
  const CleanResult result = cleaned(scan_of(picture.clone()));
  EXPECT_TRUE(result.cropped);
  EXPECT_NEAR(result.page.width, 1340, 12);
  EXPECT_NEAR(result.page.height, 1620, 24);
  const Point corner = result.page.geometry.to_scan({0, 0});
  EXPECT_NEAR(corner.x, 60, 8);
  EXPECT_NEAR(corner.y, 40, 8);
  CleanSettings whole;
  whole.crop = Crop::kOff;
  EXPECT_EQ(cleaned(scan_of(std::move(picture)), whole).page.width, 1400);
}

TEST(Borders, APageWithoutThemIsNotCut) {
  const CleanResult result = cleaned(scan_of(log_page().picture()));
  EXPECT_FALSE(result.cropped);
  EXPECT_EQ(result.page.width, 1400);
}

TEST(CropToText, KeepsAMarginAndThePositions) {
  CleanSettings settings;
  settings.crop = Crop::kText;
  settings.margin_mm = 4;
  const CleanResult result = cleaned(scan_of(log_page().picture()), settings);
  const double margin = 4 / 25.4 * 300;
  const Point corner = result.page.geometry.to_scan({0, 0});
  EXPECT_NEAR(corner.x, 150 - margin, 6);
  EXPECT_LT(result.page.width, 1400);
  EXPECT_EQ(width_of(result.picture), result.page.width);
  EXPECT_EQ(result.ink.height(), result.page.height);
}

// The page with its lines sinking to the right as a bound page curls.
Gray curled(const Gray& flat, double depth) {
  auto bend = std::make_shared<DisplacementField>();
  bend->step = 20;
  bend->columns = flat.width() / 20 + 2;
  bend->rows = 2;
  for (int r = 0; r < 2; ++r) {
    for (int c = 0; c < bend->columns; ++c) {
      const double x = c * 20.0 / flat.width();
      bend->down.push_back(static_cast<float>(-depth * std::pow(x, 4)));
    }
  }
  return warped(flat, PlaneMap(Affine{}, bend), flat.width(), flat.height(), 255);
}

double roughness(const CleanResult& result) {
  // Ink per row varies most where lines are straight and level.
  double sum = 0;
  for (int y = 0; y < result.ink.height(); ++y) {
    double row = 0;
    for (int i = 0; i < result.ink.stride(); ++i) row += __builtin_popcount(result.ink.row(y)[i]);
    sum += row * row;
  }
  return sum;
}

TEST(Dewarping, MakesCurledLinesAboutAsLevelAsFlatOnes) {
  const Gray flat = log_page().picture();
  CleanSettings as_it_is;
  as_it_is.dewarp = false;
  const double level = roughness(cleaned(scan_of(flat.clone())));
  const CleanResult bent = cleaned(scan_of(curled(flat, 70)), as_it_is);
  const CleanResult straightened = cleaned(scan_of(curled(flat, 70)));
  EXPECT_GT(straightened.curl, 10);
  EXPECT_LT(roughness(bent) / level, 0.80);
  EXPECT_GT(roughness(straightened) / level, 0.93);
}

TEST(Dewarping, PositionsLeadBackThroughTheBend) {
  const CleanResult result = cleaned(scan_of(curled(log_page().picture(), 45)));
  const PlaneMap& map = result.page.geometry.to_scan;
  for (const Point& p : {Point{200, 300}, Point{1200, 300}, Point{1250, 1500}}) {
    const Point back = map.back(map(p));
    EXPECT_NEAR(back.x, p.x, 0.02);
    EXPECT_NEAR(back.y, p.y, 0.02);
  }
}

TEST(Dewarping, LeavesStraightPagesAlone) {
  EXPECT_EQ(cleaned(scan_of(log_page().picture())).curl, 0);
  EXPECT_EQ(cleaned(scan_of(log_page().picture(2))).curl, 0);
}

TEST(InversePages, AreTurnedToBlackOnWhite) {
  Picture negative = log_page().picture();
  invert(negative);
  const CleanResult result = cleaned(scan_of(std::move(negative)));
  EXPECT_TRUE(result.inverse);
  EXPECT_FALSE(result.blank);
  EXPECT_GT(std::get<Gray>(result.picture).row(20)[20], 200);
}

TEST(InversePages, DarkPicturesAreNone) {
  PrintedPage page = log_page();
  page.rule(0, 0, 1400, 0, 2200);
  EXPECT_FALSE(cleaned(scan_of(page.picture())).inverse);
  EXPECT_FALSE(cleaned(scan_of(Gray(900, 900, 12))).inverse);
}

TEST(InverseBlocks, BecomeBlackOnWhiteAmongOrdinaryText) {
  PrintedPage plain(1400, 500);
  plain.print({"Hallow Rock", 120, 250, 60});
  Bitonal ink = to_bitonal(plain.picture(), 140);
  const size_t letters = components_of(ink).list.size();
  for (int y = 170; y < 300; ++y) {
    for (int x = 60; x < 600; ++x) ink.set_ink(x, y, !ink.ink(x, y));
  }
  ASSERT_EQ(turn_inverse_blocks(26, ink), 1);
  EXPECT_EQ(components_of(ink).list.size(), letters);
}

TEST(InverseBlocks, SolidAndHatchedOnesAreLeftAlone) {
  PrintedPage page(1000, 600);
  page.rule(100, 300, 900, 300, 200).disc(500, 300, 90);
  Bitonal ink = to_bitonal(page.picture(), 140);
  for (int x = 150; x < 850; x += 40) {
    for (int y = 230; y < 370; ++y) {
      for (int k = 0; k < 8; ++k) ink.set_ink(x + k, y, false);
    }
  }
  const Bitonal before = ink.clone();
  EXPECT_EQ(turn_inverse_blocks(20, ink), 0);
  EXPECT_EQ(ink.bytes(), before.bytes());
}

TEST(Tone, GammaLightensTheMiddleAndKeepsTheEnds) {
  Picture picture = Gray(2, 1);
  std::get<Gray>(picture).samples() = {0, 128};
  ToneSettings settings;
  settings.gamma = 2;
  set_tone(settings, picture);
  EXPECT_EQ(std::get<Gray>(picture).samples()[0], 0);
  EXPECT_NEAR(std::get<Gray>(picture).samples()[1], 181, 1);
}

TEST(Tone, TheMedianTakesGrainAndKeepsEdges) {
  Gray picture(20, 20, 200);
  for (int y = 0; y < 20; ++y) {
    for (int x = 10; x < 20; ++x) picture.row(y)[x] = 30;
  }
  picture.row(5)[4] = 0;
  const Gray out = median_filtered(picture);
  EXPECT_EQ(out.row(5)[4], 200);
  EXPECT_EQ(out.row(9)[9], 200);
  EXPECT_EQ(out.row(9)[10], 30);
}

TEST(Grain, IsMeasuredOnBarePaperAlone) {
  Gray page = log_page().picture();
  EXPECT_LT(grain_of(page), 0.5);
  Random random(3);
  for (uint8_t& v : page.samples()) {
    v = static_cast<uint8_t>(std::clamp(v - 20 + 8 * random.normal(), 0.0, 255.0));
  }
  EXPECT_NEAR(grain_of(page), 8, 2.5);
}

// A page scanned at one threshold, strewn with specks of one to four pixels.
Gray strewn_page() {
  Gray page = log_page().picture();
  Random random(5);
  for (uint8_t& v : page.samples()) v = v < 128 ? 0 : 255;
  for (int i = 0; i < 220000; ++i) {
    const int x = random.index(page.width() - 2), y = random.index(page.height() - 2);
    const int wide = 1 + random.index(2), high = 1 + random.index(2);
    for (int j = 0; j < high; ++j)
      for (int k = 0; k < wide; ++k) page.row(y + j)[x + k] = random.chance(0.7) ? 0 : 255;
  }
  return page;
}

TEST(Grain, StrewnOverAPageDoesNotHideItsPrint) {
  const CleanResult bare = cleaned(scan_of(log_page().picture())),
                    strewn = cleaned(scan_of(strewn_page()));
  EXPECT_FALSE(bare.grainy);
  ASSERT_TRUE(strewn.grainy);
  EXPECT_NEAR(strewn.text_height, bare.text_height, 0.25 * bare.text_height);
  EXPECT_LT(components_of(strewn.ink).list.size(), 2 * components_of(bare.ink).list.size());
  // What is delivered stays as it was scanned; what is read is smooth.
  EXPECT_EQ(std::get<Gray>(strewn.picture).samples(), strewn_page().samples());
  EXPECT_LT(grain_of(smooth_page(strewn)), grain_of(strewn_page()) / 4);
}

}  // namespace
}  // namespace burnisher::clean
