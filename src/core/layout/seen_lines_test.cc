// What lines make of leaders, dotted lines and small print: on painted maps, so that each rule is
// seen alone.
#include <gtest/gtest.h>

#include <algorithm>

#include "layout/lines.h"
#include "layout/map_regions.h"
#include "testing/painted_maps.h"

namespace burnisher::layout {
namespace {

using testing::append;
using testing::box_at;
using testing::letters_at;
using testing::line_of;
using testing::PaintedMaps;
using testing::rule_at;

constexpr double kHeight = 20;

std::vector<Component> dots(int from, int to, int y) {
  std::vector<Component> row;
  for (int x = from; x < to; x += 12) row.push_back(box_at(x, y - 4, 4, 4));
  return row;
}

const LetterLine* line_from(const std::vector<LetterLine>& lines, double x) {
  const auto found = std::find_if(lines.begin(), lines.end(), [&](const LetterLine& line) {
    return std::abs(line.box.x0 - x) < 1;
  });
  return found == lines.end() ? nullptr : &*found;
}

// ---- small print ----

Sorted with_small_row(int y) {
  Sorted sorted;
  sorted.letters = letters_at(100, 200, 12);
  for (int i = 0; i < 9; ++i) sorted.marks.push_back(box_at(100 + 9 * i, y, 7, 9));
  return sorted;
}

TEST(SmallPrint, OnALevelOfItsOwnIsALine) {
  const auto lines = chain_lines(with_small_row(230), {}, {}, kHeight);
  ASSERT_EQ(lines.size(), 2u);
  const auto& small = lines[0].letters.size() == 9 ? lines[0] : lines[1];
  EXPECT_EQ(small.letters.size(), 9u);
  EXPECT_EQ(small.box.y0, 230);
}

TEST(SmallPrint, MarksOnALineAreItsOwn) {
  // A row of accents right above the letters, or of scraps among them.
  for (const int y : {172, 185}) {
    const auto lines = chain_lines(with_small_row(y), {}, {}, kHeight);
    ASSERT_EQ(lines.size(), 1u) << y;
    EXPECT_EQ(lines[0].letters.size(), 12u);
  }
}

TEST(SmallPrint, AFewScatteredMarksAreNone) {
  Sorted sorted;
  sorted.letters = letters_at(100, 200, 12);
  for (int i = 0; i < 9; ++i) sorted.marks.push_back(box_at(100 + 70 * i, 240, 7, 9));
  EXPECT_EQ(chain_lines(sorted, {}, {}, kHeight).size(), 1u);
  sorted.marks.resize(2);
  EXPECT_EQ(chain_lines(sorted, {}, {}, kHeight).size(), 1u);
}

// ---- leaders and dotted lines ----

TEST(Leaders, CarryALineToItsPageNumber) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 8));
  append(sorted.letters, letters_at(800, 200, 2));
  sorted.marks = dots(250, 790, 200);
  const auto lines = chain_lines(sorted, {}, {}, kHeight);
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_EQ(lines[0].letters.size(), 10u);
  EXPECT_TRUE(lines[0].has_leader);
}

TEST(Leaders, CrossNoBorderThatAPersonDrew) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 8));
  append(sorted.letters, letters_at(800, 200, 2));
  sorted.marks = dots(250, 790, 200);
  EXPECT_EQ(chain_lines(sorted, {}, {false, {500}}, kHeight).size(), 2u);
}

TEST(DottedLines, PartLabelsAndEntries) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 4));  // Name
  append(sorted.letters, letters_at(500, 200, 5));  // Rank
  sorted.marks = dots(180, 490, 200);
  append(sorted.marks, dots(600, 900, 200));
  const auto lines = chain_lines(sorted, {}, {}, kHeight);
  ASSERT_EQ(lines.size(), 2u);
  ASSERT_NE(line_from(lines, 100), nullptr);
  ASSERT_NE(line_from(lines, 500), nullptr);
  EXPECT_EQ(line_from(lines, 100)->letters.size(), 4u);
  EXPECT_EQ(line_from(lines, 500)->letters.size(), 5u);
}

TEST(DottedLines, AnEntryBetweenDotsIsALineOfItsOwn) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 4));
  append(sorted.letters, letters_at(400, 200, 5));
  sorted.marks = dots(180, 390, 200);
  append(sorted.marks, dots(500, 800, 200));
  const auto lines = chain_lines(sorted, {}, {}, kHeight);
  EXPECT_EQ(lines.size(), 2u);
}

// ---- lines laid over each other ----

TEST(LaidOver, TheSmallerLineJoinsTheLarger) {
  std::vector<LetterLine> lines = {line_of(letters_at(100, 200, 10)),
                                   line_of(letters_at(150, 206, 2)),
                                   line_of(letters_at(100, 300, 10))};
  join_laid_over(lines);
  ASSERT_EQ(lines.size(), 2u);
  EXPECT_EQ(lines[0].letters.size() + lines[0].marks.size(), 12u);
  EXPECT_EQ(lines[1].letters.size(), 10u);
}

TEST(LaidOver, FeetThatTheThresholdBrokeOffJoinTheirLine) {
  std::vector<Component> feet;
  for (int i = 0; i < 6; ++i) feet.push_back(box_at(120 + 18 * i, 196, 8, 10));
  std::vector<LetterLine> lines = {line_of(letters_at(100, 200, 12)), line_of(feet)};
  join_laid_over(lines);
  EXPECT_EQ(lines.size(), 1u);
}

TEST(LaidOver, LinesBesideOrBelowStay) {
  std::vector<LetterLine> lines = {line_of(letters_at(100, 200, 10)),
                                   line_of(letters_at(400, 200, 10)),
                                   line_of(letters_at(100, 226, 10))};
  join_laid_over(lines);
  EXPECT_EQ(lines.size(), 3u);
}

// ---- regions of maps ----

TEST(MapRegions, AreLevelledOverTheirSurroundings) {
  PaintedMaps painted;
  painted.fill(kTableMap, {100, 100, 300, 300});
  painted.fill(kTableMap, {320, 100, 520, 300});
  painted.fill(kTableMap, {800, 800, 810, 810});  // a single cell
  const PageMaps maps = painted.maps();
  EXPECT_EQ(map_regions(maps, kTableMap, 0.5).size(), 3u);
  // Over two cells either way the two make one, and the single cell nothing.
  const std::vector<Box> around = map_regions(maps, kTableMap, 0.5, 2);
  ASSERT_EQ(around.size(), 1u);
  EXPECT_NEAR(around[0].x0, 100, 21);
  EXPECT_NEAR(around[0].x1, 520, 21);
}

TEST(MapRegions, OfNoMapsAreNone) {
  EXPECT_TRUE(map_regions({}, kTableMap, 0.5).empty());
}

}  // namespace
}  // namespace burnisher::layout
