#include "layout/faint_text.h"

#include <gtest/gtest.h>

#include "testing/painted_maps.h"

namespace burnisher::layout {
namespace {

using burnisher::testing::PaintedMaps;

// Text is seen from 200 to 600 at a height of 500; the first half of it has ink.
PaintedMaps half_inked(Bitonal& ink) {
  PaintedMaps painted;
  painted.fill(kAxisCosMap, {0, 0, 1000, 1000});
  painted.fill(kBandMap, {200, 500, 600, 510});
  for (int y = 490; y < 515; ++y)
    for (int x = 200; x < 400; x += 8)
      for (int i = 0; i < 3; ++i) ink.set_ink(x + i, y, true);
  return painted;
}

TEST(FaintText, IsWhereTextIsSeenWithoutInk) {
  Bitonal ink(1000, 1000);
  const std::vector<Box> places = text_without_ink(half_inked(ink).maps(), ink);
  ASSERT_EQ(places.size(), 1u);
  EXPECT_NEAR(places[0].x0, 400, 15);
  EXPECT_NEAR(places[0].x1, 600, 1);
  EXPECT_LT(places[0].y0, 500);
  EXPECT_GT(places[0].y1, 510);
}

TEST(FaintText, SpacesBetweenWordsAreNone) {
  Bitonal ink(1000, 1000);
  PaintedMaps painted = half_inked(ink);
  painted.fill(kBandMap, {430, 500, 600, 510}, 0);
  EXPECT_TRUE(text_without_ink(painted.maps(), ink).empty());
}

TEST(FaintText, NorIsTextOnItsSideOrAPageThatNobodyLookedAt) {
  Bitonal ink(1000, 1000);
  PaintedMaps painted = half_inked(ink);
  painted.fill(kAxisCosMap, {0, 0, 1000, 1000}, -1);
  EXPECT_TRUE(text_without_ink(painted.maps(), ink).empty());
  EXPECT_TRUE(text_without_ink({}, ink).empty());
}

}  // namespace
}  // namespace burnisher::layout
