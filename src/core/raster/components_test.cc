#include "raster/components.h"

#include <gtest/gtest.h>

#include <cmath>

#include "raster/blur.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "raster/warp.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

Bitonal drawn(const std::vector<std::string>& rows) {
  Bitonal ink(static_cast<int>(rows[0].size()), static_cast<int>(rows.size()));
  for (size_t y = 0; y < rows.size(); ++y) {
    for (size_t x = 0; x < rows[y].size(); ++x)
      ink.set_ink(static_cast<int>(x), static_cast<int>(y), rows[y][x] == '#');
  }
  return ink;
}

TEST(Components, DiagonalNeighboursAreOne) {
  const Components found = components_of(drawn({"#....", ".#...", "....#"}));
  ASSERT_EQ(found.list.size(), 2u);
  EXPECT_EQ(found.list[0].area, 2);
  EXPECT_EQ(found.list[0].x1, 2);
  EXPECT_EQ(found.list[1].x0, 4);
}

TEST(Components, ArmsThatMeetLaterAreOne) {
  const Components found = components_of(drawn({"#...#", "#...#", "#####"}));
  ASSERT_EQ(found.list.size(), 1u);
  EXPECT_EQ(found.list[0].area, 9);
  for (const burnisher::Run& run : found.runs) EXPECT_EQ(run.component, 0);
}

TEST(Components, RunsCrossBytesAndReachTheEdge) {
  const Components found = components_of(drawn({".........##########"}));
  ASSERT_EQ(found.runs.size(), 1u);
  EXPECT_EQ(found.runs[0].x0, 9);
  EXPECT_EQ(found.runs[0].x1, 19);
}

TEST(Components, EmptyPagesHaveNone) {
  EXPECT_TRUE(components_of(Bitonal(40, 3)).list.empty());
}

TEST(TextScale, IsTheXHeightOfThePagesText) {
  testing::PrintedPage page(1200, 900);
  page.print_column(testing::prose(12, 40), 80, 100, 50, 62);
  page.print({"BOARD", 80, 860, 120});
  const double height = dominant_height(components_of(to_bitonal(page.picture(), 128)).list);
  EXPECT_NEAR(height, 50 * 0.46, 3);  // Liberation Serif: x-height 0.46 em
}

TEST(TextScale, StrokesAreAsWideAsMostRuns) {
  std::vector<burnisher::Run> runs;
  for (int i = 0; i < 60; ++i) runs.push_back({i, 10, 14 + (i % 10 == 0 ? 20 : 0), 0});
  EXPECT_NEAR(stroke_width(runs), 4, 1);
  EXPECT_EQ(stroke_width({}), 0);
}

TEST(Components, ErasedOnesLeaveTheOthers) {
  Bitonal ink(40, 20);
  for (int x = 2; x < 8; ++x) ink.set_ink(x, 5, true);
  for (int x = 20; x < 30; ++x) ink.set_ink(x, 5, true);
  const Components found = components_of(ink);
  ASSERT_EQ(found.list.size(), 2u);
  const bool first_is_left = found.list[0].x0 == 2;
  erase(found, {first_is_left, !first_is_left}, ink);
  EXPECT_FALSE(ink.ink(4, 5));
  EXPECT_TRUE(ink.ink(24, 5));
}

TEST(TextScale, TooFewLettersTellNothing) {
  EXPECT_EQ(dominant_height({{0, 0, 10, 10, 50}}), 0);
}

TEST(Warp, IdentityChangesNothing) {
  testing::PrintedPage page(200, 60);
  page.print({"Skerrow", 10, 45, 40});
  const Gray picture = page.picture();
  EXPECT_EQ(warped(picture, Affine{}, 200, 60, 255).samples(), picture.samples());
}

TEST(Warp, ShiftsAndFills) {
  Gray picture(10, 10, 100);
  const Gray moved = warped(picture, Affine::shift(-4, 0), 10, 10, 255);
  EXPECT_EQ(moved.row(5)[2], 255);
  EXPECT_EQ(moved.row(5)[8], 100);
}

TEST(Warp, TurnThereAndBackIsNearlyTheSame) {
  FloatImage smooth(80, 80);
  Gray picture(80, 80);
  for (int y = 0; y < 80; ++y) {
    for (int x = 0; x < 80; ++x)
      picture.row(y)[x] = static_cast<uint8_t>(128 + 100 * std::sin(x * 0.2) * std::cos(y * 0.15));
  }
  const Affine turn = Affine::shift(40, 40) * Affine::turn(7) * Affine::shift(-40, -40);
  const Gray there = warped(picture, turn, 80, 80, 255),
             back = warped(there, turn.inverse(), 80, 80, 255);
  for (int y = 20; y < 60; ++y) {
    for (int x = 20; x < 60; ++x) EXPECT_NEAR(back.row(y)[x], picture.row(y)[x], 3);
  }
}

TEST(Blur, KeepsTheSumAndSpreads) {
  FloatImage field(41, 41);
  field.row(20)[20] = 1;
  gaussian_blur(field, 2);
  double sum = 0;
  for (float v : field.samples()) sum += v;
  EXPECT_NEAR(sum, 1, 1e-4);
  EXPECT_LT(field.row(20)[20], 0.1);
  EXPECT_FLOAT_EQ(field.row(20)[18], field.row(22)[20]);
}

}  // namespace
}  // namespace burnisher
