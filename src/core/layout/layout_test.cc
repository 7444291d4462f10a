#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "layout/blocks.h"
#include "layout/gutters.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/segment.h"
#include "page/table.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "testing/printed_page.h"

namespace burnisher::layout {
namespace {

using burnisher::testing::PrintedPage;
using burnisher::testing::prose;

constexpr double kLiberationXHeight = 0.459;  // em

Page segmented(const PrintedPage& printed, SegmentSettings settings = {}) {
  const Bitonal ink = to_bitonal(printed.picture(), 128);
  Page page;
  page.width = ink.width();
  page.height = ink.height();
  segment(ink, 0, settings, page);
  return page;
}

std::vector<Line> lines_of(const Page& page) {
  std::vector<Line> lines;
  for (const Block& block : page.blocks)
    lines.insert(lines.end(), block.lines.begin(), block.lines.end());
  return lines;
}

TEST(Segment, EveryPrintedLineIsOneLineWithItsBaselineAndSize) {
  PrintedPage printed(1400, 1200);
  printed.print_column(prose(15, 55), 120, 150, 44, 60);
  const std::vector<Line> lines = lines_of(segmented(printed));
  ASSERT_EQ(lines.size(), 15u);
  for (size_t i = 0; i < lines.size(); ++i) {
    const double baseline = 150 + 60.0 * static_cast<double>(i);
    EXPECT_NEAR(lines[i].baseline.front().y, baseline, 1.5);
    EXPECT_NEAR(lines[i].baseline.back().y, baseline, 1.5);
    EXPECT_NEAR(lines[i].x_height, 44 * kLiberationXHeight, 1.5);
  }
}

TEST(Segment, TwoColumnsAreReadOneAfterTheOther) {
  PrintedPage printed(1700, 1300);
  printed.print({"The Skerrow Light Board", 450, 120, 70});
  printed.print_column(prose(18, 34), 120, 240, 40, 52);
  printed.print_column(prose(18, 34), 920, 240, 40, 52);
  const Page page = segmented(printed);
  const std::vector<Line> lines = lines_of(page);
  ASSERT_EQ(lines.size(), 37u);
  EXPECT_LT(lines[0].box.y0, 130);
  for (size_t i = 1; i <= 18; ++i) EXPECT_LT(lines[i].box.x1, 900) << i;
  for (size_t i = 19; i <= 36; ++i) EXPECT_GT(lines[i].box.x0, 900) << i;
}

TEST(Segment, ColumnsCanBeSwitchedOff) {
  PrintedPage printed(1700, 1300);
  printed.print_column(prose(18, 34), 120, 240, 40, 52);
  printed.print_column(prose(18, 34), 840, 240, 40, 52);
  SegmentSettings settings;
  settings.columns = 1;
  EXPECT_EQ(lines_of(segmented(printed, settings)).size(), 18u);
}

TEST(Segment, WideGapsStayWithinALine) {
  PrintedPage printed(1400, 800);
  printed.print_column(prose(6, 55), 120, 150, 44, 60);
  printed.print({"Lamp oil", 120, 600, 44}).print({"412", 520, 600, 44});
  EXPECT_EQ(lines_of(segmented(printed)).size(), 7u);
}

TEST(Segment, RowsHoweverWideApartAreATable) {
  PrintedPage printed(1700, 900);
  const char* rows[][2] = {{"Lamp oil", "412"}, {"Wicks", "24"}, {"Rope", "95"}, {"Coal", "38"}};
  for (int i = 0; i < 4; ++i)
    printed.print({rows[i][0], 120, 200 + 70.0 * i, 44})
        .print({rows[i][1], 1500, 200 + 70.0 * i, 44});
  printed.print({"A note that stands alone", 120, 700, 44});
  const Page page = segmented(printed);
  const auto table = std::find_if(page.blocks.begin(), page.blocks.end(),
                                  [](const Block& b) { return b.kind == BlockKind::kTable; });
  ASSERT_NE(table, page.blocks.end());
  EXPECT_EQ(row_count(*table), 4);
  EXPECT_EQ(column_count(*table), 2);
  EXPECT_EQ(printed_lines(*table).size(), 4u);
}

TEST(Segment, TwoPiecesThatHappenToStandLevelStayApart) {
  PrintedPage printed(1700, 900);
  printed.print({"Engineer’s Office", 120, 200, 44}).print({"12 March", 1400, 200, 44});
  printed.print_column(prose(8, 60), 120, 300, 44, 60);
  EXPECT_EQ(lines_of(segmented(printed)).size(), 10u);
}

TEST(Segment, CapitalsBorrowTheXHeightOfThePage) {
  PrintedPage printed(1400, 900);
  printed.print_column(prose(9, 55), 120, 150, 44, 60);
  printed.print({"SKERROW LIGHT BOARD 1887", 120, 780, 44});
  const std::vector<Line> lines = lines_of(segmented(printed));
  ASSERT_EQ(lines.size(), 10u);
  EXPECT_NEAR(lines.back().x_height, 44 * kLiberationXHeight, 1.5);
}

TEST(Segment, ASingleShortLineIsFound) {
  PrintedPage printed(500, 90);
  printed.print({"Relieved at noon.", 20, 60, 44});
  const std::vector<Line> lines = lines_of(segmented(printed));
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_NEAR(lines[0].baseline.front().y, 60, 2);
}

TEST(Segment, EmptyPagesHaveNoBlocks) {
  EXPECT_TRUE(segmented(PrintedPage(300, 300)).blocks.empty());
}

TEST(Segment, LargeBlackAreasArePicturesAndLongLinesRules) {
  PrintedPage printed(1400, 1200);
  printed.print_column(prose(6, 55), 120, 150, 44, 60);
  printed.rule(300, 600, 900, 1000, 1).rule(100, 1100, 1300, 1100, 4);
  const Page page = segmented(printed);
  const auto count = [&](BlockKind kind) {
    return std::count_if(page.blocks.begin(), page.blocks.end(),
                         [&](const Block& b) { return b.kind == kind; });
  };
  EXPECT_EQ(count(BlockKind::kPicture), 1);
  EXPECT_EQ(count(BlockKind::kSeparator), 1);
}

TEST(Letters, PunchHolesAreNoLetters) {
  const double h = 20;
  const Component hole{0, 0, 40, 40, 1256}, letter{100, 0, 118, 20, 150},
      stop{120, 15, 125, 20, 20};
  const Sorted sorted = sort_components({hole, letter, stop}, h);
  EXPECT_EQ(sorted.pictures.size(), 1u);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.marks.size(), 1u);
}

std::vector<Box> column(double x0, double x1, int lines) {
  std::vector<Box> pieces;
  for (int i = 0; i < lines; ++i) pieces.push_back({x0, 100 + i * 50.0, x1, 130 + i * 50.0});
  return pieces;
}

std::vector<Box> joined(std::vector<Box> a, const std::vector<Box>& b) {
  a.insert(a.end(), b.begin(), b.end());
  return a;
}

TEST(Gutters, LieBetweenColumnsOfText) {
  const auto gutters =
      gutters_of(joined(column(100, 600, 12), column(660, 1200, 12)), 20, 1300, 900);
  ASSERT_FALSE(gutters.empty());
  for (const Box& g : gutters) {
    EXPECT_GE(g.x0, 590);
    EXPECT_LE(g.x1, 670);
  }
}

TEST(Gutters, ColumnsOfFiguresHaveNone) {
  const auto table = joined(column(100, 600, 12), column(700, 780, 12));
  EXPECT_TRUE(gutters_of(table, 20, 1300, 900).empty());
}

TEST(Gutters, MarginsAreNone) {
  EXPECT_TRUE(gutters_of(column(300, 1000, 12), 20, 1300, 900).empty());
}

TEST(Gutters, ARuleAcrossEndsThem) {
  const std::vector<Box> gutter = {{600, 100, 660, 900}};
  const Component rule{100, 500, 1200, 504, 4400}, beside{100, 500, 550, 504, 1800};
  EXPECT_EQ(cut_at_rules(gutter, {beside}).size(), 1u);
  const auto cut = cut_at_rules(gutter, {rule});
  ASSERT_EQ(cut.size(), 2u);
  EXPECT_EQ(cut[0].y1, 500);
  EXPECT_EQ(cut[1].y0, 504);
}

Block block_at(double x0, double y0, double x1, double y1) {
  Block block;
  block.outline = Box{x0, y0, x1, y1}.corners();
  return block;
}

std::vector<double> order_of(std::vector<Block> blocks, const std::vector<Box>& gutters) {
  put_in_reading_order(gutters, false, blocks);
  std::vector<double> tops;
  for (const Block& b : blocks) tops.push_back(bounds(b.outline).x0 * 10000 + bounds(b.outline).y0);
  return tops;
}

TEST(ReadingOrder, WithoutGuttersTheHigherBlockComesFirst) {
  // A date at the right, the address lower at the left.
  const auto order = order_of({block_at(0, 300, 400, 500), block_at(700, 100, 900, 140)}, {});
  EXPECT_EQ(order.front(), 700 * 10000 + 100);
}

TEST(ReadingOrder, AtTheSameHeightTheLeftBlockComesFirst) {
  const auto order = order_of({block_at(700, 100, 900, 140), block_at(0, 110, 400, 150)}, {});
  EXPECT_EQ(order.front(), 110);
}

TEST(ReadingOrder, ColumnsPartedByAGutterAreReadDownFirst) {
  const std::vector<Box> gutter = {{480, 100, 520, 900}};
  const auto order = order_of(
      {block_at(540, 110, 1000, 300), block_at(0, 600, 460, 880), block_at(0, 110, 460, 500),
       block_at(540, 400, 1000, 880), block_at(0, 0, 1000, 80)},
      gutter);
  const std::vector<double> expected = {0, 110, 600, 540 * 10000 + 110, 540 * 10000 + 400};
  EXPECT_EQ(order, expected);
}

}  // namespace
}  // namespace burnisher::layout
