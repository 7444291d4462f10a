// What shines through a leaf, taken out with the scan of its other side.
#include "clean/other_side.h"

#include <gtest/gtest.h>

#include "clean/align.h"
#include "raster/convert.h"
#include "raster/turn.h"
#include "testing/printed_leaf.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::mirror_image;
using burnisher::testing::printed_leaf;
using burnisher::testing::PrintedLeaf;

constexpr double kDpi = 200;

// Mean level of a scan of the front where only the back has print, and where only the front has.
struct Levels {
  double through = 0, print = 0, bare = 0;
};

Levels levels_of(const Picture& scan, const PrintedLeaf& leaf) {
  const Gray gray = to_gray(scan), back = mirror_image(leaf.back);
  const Affine to_leaf = leaf.front_to_leaf;
  double sums[3] = {}, counts[3] = {};
  for (int y = 20; y < gray.height() - 20; ++y) {
    for (int x = 20; x < gray.width() - 20; ++x) {
      const Point p = to_leaf({x + 0.5, y + 0.5});
      const int i = static_cast<int>(p.x), j = static_cast<int>(p.y);
      if (i < 0 || j < 0 || i >= back.width() || j >= back.height()) continue;
      const bool own = leaf.front.row(j)[i] < 60, others = back.row(j)[i] < 60,
                 none = leaf.front.row(j)[i] == 255 && back.row(j)[i] == 255;
      const int kind = own && !others ? 1 : others && leaf.front.row(j)[i] == 255 ? 0 : 2;
      if (kind == 2 && !none) continue;
      sums[kind] += gray.row(y)[x];
      counts[kind] += 1;
    }
  }
  return {sums[0] / counts[0], sums[1] / counts[1], sums[2] / counts[2]};
}

class OtherSideOfALeaf : public ::testing::TestWithParam<double> {};

TEST_P(OtherSideOfALeaf, GoesAndThePrintStays) {
  const PrintedLeaf leaf = printed_leaf(GetParam());
  Picture scan = leaf.front_scan.clone();
  const Levels before = levels_of(scan, leaf);
  ASSERT_LT(before.through, before.bare - 60 * GetParam());
  const OtherSide found = lift_other_side(seen_side(leaf.back_scan.clone(), kDpi), kDpi, scan);
  ASSERT_TRUE(found.found);
  EXPECT_NEAR(found.strength, GetParam(), 0.4 * GetParam());
  EXPECT_GT(found.correlation, 0.5);
  const Levels after = levels_of(scan, leaf);
  EXPECT_LT(after.bare - after.through, 0.25 * (before.bare - before.through));
  EXPECT_NEAR(after.print, before.print, 6);
  EXPECT_NEAR(after.bare, before.bare, 3);
}

INSTANTIATE_TEST_SUITE_P(Strengths, OtherSideOfALeaf, ::testing::Values(0.08, 0.2, 0.35));

TEST(OtherSide, MayBeScannedUpsideDown) {
  const PrintedLeaf leaf = printed_leaf(0.25);
  const Picture back = turned(Picture(leaf.back_scan.clone()), 180);
  Picture scan = leaf.front_scan.clone();
  EXPECT_TRUE(lift_other_side(seen_side(back, kDpi), kDpi, scan).found);
  const Levels after = levels_of(scan, leaf);
  EXPECT_LT(after.bare - after.through, 12);
}

TEST(OtherSide, MayBeScannedAtAnotherResolution) {
  const PrintedLeaf leaf = printed_leaf(0.25);
  const Picture back = scaled(leaf.back_scan, 0.75);
  Picture scan = leaf.front_scan.clone();
  EXPECT_TRUE(lift_other_side(seen_side(back, 0.75 * kDpi), kDpi, scan).found);
  const Levels after = levels_of(scan, leaf);
  EXPECT_LT(after.bare - after.through, 12);
}

TEST(OtherSide, ColoursLoseItInEveryChannel) {
  const PrintedLeaf leaf = printed_leaf(0.25);
  Colour colour(leaf.front_scan.width(), leaf.front_scan.height());
  for (size_t i = 0; i < leaf.front_scan.samples().size(); ++i)
    for (size_t c = 0; c < 3; ++c)
      colour.samples()[3 * i + c] =
          static_cast<uint8_t>(leaf.front_scan.samples()[i] * (1 - 0.1 * static_cast<double>(c)));
  Picture scan = std::move(colour);
  EXPECT_TRUE(lift_other_side(seen_side(leaf.back_scan.clone(), kDpi), kDpi, scan).found);
  const Levels after = levels_of(scan, leaf);
  EXPECT_LT(after.bare - after.through, 12);
}

TEST(OtherSide, ScansWithNothingInCommonStayAsTheyAre) {
  const PrintedLeaf clean = printed_leaf(0), leaf = printed_leaf(0.25);
  struct Case {
    const char* name;
    const Gray &scan, &beside;
  };
  const Case cases[] = {{"nothing shines through", clean.front_scan, clean.back_scan},
                        {"its own front", leaf.front_scan, leaf.front_scan},
                        {"another leaf", leaf.back_scan, clean.back_scan}};
  for (const Case& c : cases) {
    Picture scan = c.scan.clone();
    EXPECT_FALSE(lift_other_side(seen_side(c.beside.clone(), kDpi), kDpi, scan).found) << c.name;
    EXPECT_EQ(std::get<Gray>(scan).samples(), c.scan.samples()) << c.name;
  }
}

TEST(OtherSide, BitonalScansAndBlankOnesStay) {
  const PrintedLeaf leaf = printed_leaf(0.25);
  Picture bits = to_bitonal(leaf.front_scan, 128);
  EXPECT_FALSE(lift_other_side(seen_side(leaf.back_scan.clone(), kDpi), kDpi, bits).found);
  Picture blank = Gray(900, 1100, 229);
  EXPECT_FALSE(lift_other_side(seen_side(leaf.back_scan.clone(), kDpi), kDpi, blank).found);
  Picture front = leaf.front_scan.clone();
  EXPECT_FALSE(lift_other_side(seen_side(Gray(900, 1100, 229), kDpi), kDpi, front).found);
  Picture tiny = Gray(3, 2, 229);
  EXPECT_FALSE(lift_other_side(seen_side(Gray(1, 1, 0), kDpi), kDpi, tiny).found);
}

Marks marks_of(const Gray& gray) {
  Marks marks{FloatImage(gray.width(), gray.height()), {}};
  for (size_t i = 0; i < gray.samples().size(); ++i)
    marks.strength.samples()[i] = static_cast<float>(255 - gray.samples()[i]) / 255 - 0.08f;
  return marks;
}

TEST(Aligned, FindsTurnAndShiftOfTheSameMarks) {
  const PrintedLeaf leaf = printed_leaf(0);
  const auto map = aligned(marks_of(leaf.front), marks_of(leaf.front_scan));
  ASSERT_TRUE(map.has_value());
  const Affine truth = leaf.front_to_leaf.inverse();
  for (const Point p : {Point{100, 100}, Point{800, 120}, Point{450, 600}, Point{120, 1000}}) {
    EXPECT_NEAR(map->to_other(p).x, truth(p).x, 0.6);
    EXPECT_NEAR(map->to_other(p).y, truth(p).y, 0.6);
  }
}

TEST(Aligned, UnlikeMarksDoNotLieOverEachOther) {
  const PrintedLeaf leaf = printed_leaf(0);
  EXPECT_FALSE(aligned(marks_of(leaf.front), marks_of(leaf.back)).has_value());
}

}  // namespace
}  // namespace burnisher::clean
