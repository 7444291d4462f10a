#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "layout/blocks.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/segment.h"
#include "page/table.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "testing/printed_page.h"
#include "testing/seen_page.h"

namespace burnisher::layout {
namespace {

using burnisher::testing::PrintedPage;
using burnisher::testing::prose;

constexpr double kLiberationXHeight = 0.459;  // em

Page segmented(const PrintedPage& printed, const SegmentSettings& settings = {}) {
  return burnisher::testing::segmented(printed.picture(), settings);
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

TEST(Segment, SoManyColumnsAsAPersonSays) {
  PrintedPage printed(1700, 1300);
  for (int i = 0; i < 18; ++i) {  // no wider apart than words
    printed.print({"The lamp was lit before dusk", 120, 240 + 52.0 * i, 40});
    printed.print({"and burned clear all night", 590, 240 + 52.0 * i, 40});
  }
  SegmentSettings settings;
  settings.columns = 2;
  const std::vector<Line> lines = lines_of(segmented(printed, settings));
  ASSERT_EQ(lines.size(), 36u);
  for (size_t i = 0; i < 36; ++i) EXPECT_EQ(lines[i].box.x0 > 400, i >= 18) << i;
}

TEST(Segment, ColumnsCanBeSwitchedOff) {
  PrintedPage printed(1700, 1300);
  printed.print_column(prose(18, 34), 120, 240, 40, 52);
  printed.print_column(prose(18, 34), 840, 240, 40, 52);
  SegmentSettings settings;
  settings.columns = 1;
  EXPECT_EQ(lines_of(segmented(printed, settings)).size(), 18u);
}

TEST(Segment, WhatAWideGapPartsIsReadFromLeftToRight) {
  PrintedPage printed(1400, 800);
  printed.print_column(prose(6, 55), 120, 150, 44, 60);
  printed.print({"Lamp oil", 120, 600, 44}).print({"412", 520, 600, 44});
  const std::vector<Line> lines = lines_of(segmented(printed));
  ASSERT_EQ(lines.size(), 8u);
  EXPECT_NEAR(lines[6].box.x0, 120, 8);
  EXPECT_NEAR(lines[7].box.x0, 520, 8);
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
  MapGrid blank;  // the network sees no text anywhere, all of it on the sheet
  blank.width = blank.height = 20;
  blank.values.assign(400 * kPageMaps, 0.f);
  for (size_t i = kPaperMap; i < blank.values.size(); i += kPageMaps) blank.values[i] = 1;
  const Sorted sorted =
      sort_components({hole, letter, stop}, PageMaps(blank, {0.1, 0, 0, 0, 0.1, 0}), h);
  EXPECT_EQ(sorted.others.size(), 1u);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.marks.size(), 1u);
}

}  // namespace
}  // namespace burnisher::layout
