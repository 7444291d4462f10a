#include "raster/turn.h"

#include <gtest/gtest.h>

#include "raster/convert.h"
#include "raster/warp.h"

namespace burnisher {
namespace {

// Every pixel another: 10 * row + column.
Gray numbered(int width, int height) {
  Gray picture(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x) picture.row(y)[x] = static_cast<uint8_t>(10 * y + x);
  return picture;
}

std::vector<std::vector<int>> rows_of(const Gray& picture) {
  std::vector<std::vector<int>> rows;
  for (int y = 0; y < picture.height(); ++y)
    rows.emplace_back(picture.row(y), picture.row(y) + picture.width());
  return rows;
}
using Rows = std::vector<std::vector<int>>;

// Ink in an odd pattern, over more than one byte a row.
Bitonal pattern(int width, int height) {
  Bitonal picture(width, height);
  for (int y = 0; y < height; ++y)
    for (int x = 0; x < width; ++x)
      if ((x * 7 + y * 5 + x * y) % 3 == 0) picture.set_ink(x, y, true);
  return picture;
}

TEST(Turning, ByQuartersMovesPixelsAndChangesNone) {
  const Gray picture = numbered(3, 2);
  EXPECT_EQ(rows_of(turned(picture, 0)), (Rows{{0, 1, 2}, {10, 11, 12}}));
  EXPECT_EQ(rows_of(turned(picture, 90)), (Rows{{2, 12}, {1, 11}, {0, 10}}));
  EXPECT_EQ(rows_of(turned(picture, 180)), (Rows{{12, 11, 10}, {2, 1, 0}}));
  EXPECT_EQ(rows_of(turned(picture, 270)), (Rows{{10, 0}, {11, 1}, {12, 2}}));
}

TEST(Turning, IsTheSameForEveryKindOfPicture) {
  const Bitonal bits = pattern(21, 13);
  const Gray gray = to_gray(bits);
  for (const int degrees : {0, 90, 180, 270}) {
    const Picture turned_bits = turned(Picture(bits.clone()), degrees);
    EXPECT_EQ(rows_of(to_gray(turned_bits)), rows_of(turned(gray, degrees))) << degrees;
  }
  Colour colour(2, 1);
  for (int i = 0; i < 6; ++i) colour.row(0)[i] = static_cast<uint8_t>(i);
  const Picture around = turned(Picture(std::move(colour)), 180);
  const Colour& there = std::get<Colour>(around);
  EXPECT_EQ(std::vector<int>(there.row(0), there.row(0) + 6), (std::vector<int>{3, 4, 5, 0, 1, 2}));
}

TEST(Turning, FourTimesIsNothing) {
  const Gray picture = numbered(7, 5);
  Gray round = picture.clone();
  for (int i = 0; i < 4; ++i) round = turned(round, 90);
  EXPECT_EQ(rows_of(round), rows_of(picture));
}

TEST(Transposing, MakesRowsColumns) {
  for (const auto& [width, height] : {std::pair{1, 1}, {8, 8}, {21, 13}, {13, 21}, {64, 3}}) {
    const Bitonal picture = pattern(width, height), other = transposed(picture);
    ASSERT_EQ(other.width(), height);
    ASSERT_EQ(other.height(), width);
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x)
        ASSERT_EQ(picture.ink(x, y), other.ink(y, x)) << width << " x " << height;
  }
}

TEST(Cutting, TakesThePartAlone) {
  EXPECT_EQ(rows_of(cut_out(numbered(5, 4), 1, 2, 4, 4)), (Rows{{21, 22, 23}, {31, 32, 33}}));
  const Bitonal bits = pattern(40, 20);
  const Picture part = cut_out(Picture(bits.clone()), 5, 3, 38, 19);
  const Bitonal& cut = std::get<Bitonal>(part);
  ASSERT_EQ(cut.width(), 33);
  for (int y = 0; y < cut.height(); ++y)
    for (int x = 0; x < cut.width(); ++x) ASSERT_EQ(cut.ink(x, y), bits.ink(x + 5, y + 3));
}

TEST(Shrinking, AveragesWholeFields) {
  EXPECT_EQ(rows_of(reduced(numbered(5, 5), 2)),
            (Rows{{5, 7}, {25, 27}}));  // 5.5 and 7.5, rounded down
  const Picture fewer = fewer_pixels(Picture(numbered(5, 3)), 2);
  const Gray& gray = std::get<Gray>(fewer);
  EXPECT_EQ(gray.width(), 3);  // what is left at the edges counts
  EXPECT_EQ(gray.height(), 2);
  EXPECT_EQ(gray.row(1)[2], 24);
  const Picture same = fewer_pixels(Picture(pattern(9, 4)), 1);
  EXPECT_TRUE(std::holds_alternative<Bitonal>(same));
  EXPECT_TRUE(std::holds_alternative<Gray>(fewer_pixels(same, 2)));
}

TEST(Warping, ThroughNothingIsNothingAndShiftsAreExact) {
  const Gray picture = numbered(9, 6);
  EXPECT_EQ(rows_of(warped(picture, PlaneMap(), 9, 6, 255)), rows_of(picture));
  const Gray moved = warped(picture, shifted(PlaneMap(), 2, 1), 7, 5, 255);
  EXPECT_EQ(rows_of(moved), rows_of(cut_out(picture, 2, 1, 9, 6)));
  // Beyond the picture lies the given level.
  const Gray beyond = warped(picture, shifted(PlaneMap(), -20, -20), 3, 2, 200);
  EXPECT_EQ(rows_of(beyond), (Rows{{200, 200, 200}, {200, 200, 200}}));
}

}  // namespace
}  // namespace burnisher
