#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "layout/blocks.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/order.h"
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
  for (size_t i = 0; i < 36; ++i) EXPECT_EQ(lines[i].box.x0 > 580, i >= 18) << i;
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
  PageMaps blank;  // the network sees no text anywhere, all of it on the sheet
  blank.width = blank.height = 20;
  blank.values.assign(400 * kPageMaps, 0.f);
  for (size_t i = kPaperMap; i < blank.values.size(); i += kPageMaps) blank.values[i] = 1;
  const Sorted sorted =
      sort_components({hole, letter, stop}, Sight(blank, {0.1, 0, 0, 0, 0.1, 0}), h);
  EXPECT_EQ(sorted.others.size(), 1u);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.marks.size(), 1u);
}

// Three lines of text.
Block block_at(double x0, double y0, double x1, double y1) {
  Block block;
  block.outline = Box{x0, y0, x1, y1}.corners();
  for (int i = 0; i < 3; ++i) {
    Line line;
    line.box = {x0, y0 + i * (y1 - y0) / 3, x1, y0 + (i + 1) * (y1 - y0) / 3};
    line.x_height = 14;
    block.lines.push_back(line);
  }
  return block;
}

std::vector<double> order_of(std::vector<Block> blocks, const std::vector<Box>& rules = {},
                             bool right_to_left = false) {
  put_in_reading_order(right_to_left, rules, blocks);
  std::vector<double> places;
  for (const Block& b : blocks)
    places.push_back(bounds(b.outline).x0 * 10000 + bounds(b.outline).y0);
  return places;
}

double place(double x, double y) {
  return x * 10000 + y;
}

TEST(ReadingOrder, WhatIsHigherAcrossThePageComesFirst) {
  // A date at the right, the address lower at the left.
  const auto order = order_of({block_at(0, 300, 400, 500), block_at(700, 100, 900, 140)});
  EXPECT_EQ(order.front(), place(700, 100));
}

TEST(ReadingOrder, AtTheSameHeightTheLeftBlockComesFirst) {
  const auto order = order_of({block_at(700, 100, 900, 140), block_at(0, 110, 400, 150)});
  EXPECT_EQ(order.front(), place(0, 110));
}

std::vector<Block> headline_over_two_columns() {
  return {block_at(540, 110, 1000, 300), block_at(0, 600, 460, 880), block_at(0, 110, 460, 500),
          block_at(540, 400, 1000, 880), block_at(0, 0, 1000, 80)};
}

TEST(ReadingOrder, ColumnsAreReadDownFirst) {
  const std::vector<double> expected = {place(0, 0), place(0, 110), place(0, 600), place(540, 110),
                                        place(540, 400)};
  EXPECT_EQ(order_of(headline_over_two_columns()), expected);
}

TEST(ReadingOrder, FromTheRightColumnsAreReadFromTheRight) {
  const std::vector<double> expected = {place(0, 0), place(540, 110), place(540, 400), place(0, 110),
                                        place(0, 600)};
  EXPECT_EQ(order_of(headline_over_two_columns(), {}, true), expected);
}

TEST(ReadingOrder, WhiteThatHappensToRunAcrossColumnsPartsNothing) {
  const auto order = order_of({block_at(0, 0, 460, 300), block_at(540, 0, 1000, 310),
                               block_at(0, 330, 460, 800), block_at(540, 340, 1000, 800)});
  const std::vector<double> expected = {place(0, 0), place(0, 330), place(540, 0), place(540, 340)};
  EXPECT_EQ(order, expected);
}

TEST(ReadingOrder, ARuleOrHeadingsRightAcrossPartThePage) {
  std::vector<Block> blocks = {block_at(0, 0, 460, 300), block_at(540, 0, 1000, 310),
                               block_at(0, 330, 460, 800), block_at(540, 340, 1000, 800)};
  const std::vector<double> expected = {place(0, 0), place(540, 0), place(0, 330), place(540, 340)};
  EXPECT_EQ(order_of(blocks, {{0, 318, 1000, 322}}), expected);
  blocks[2].kind = blocks[3].kind = BlockKind::kHeading;
  EXPECT_EQ(order_of(blocks), expected);
}

TEST(ReadingOrder, AStoryIsReadToItsEndBeforeTheNextOneBesideIt) {
  // A headline over two columns, another story in a third.
  const auto order = order_of({block_at(0, 0, 620, 60), block_at(0, 80, 300, 700),
                               block_at(320, 80, 620, 700), block_at(660, 10, 960, 50),
                               block_at(660, 70, 960, 700)});
  const std::vector<double> expected = {place(0, 0), place(0, 80), place(320, 80), place(660, 10),
                                        place(660, 70)};
  EXPECT_EQ(order, expected);
}

Block entry_at(double x0, double y0, double x1) {
  Block block = block_at(x0, y0, x1, y0 + 20);
  block.lines.resize(1);
  block.lines[0].box = {x0, y0, x1, y0 + 20};
  return block;
}

TEST(ReadingOrder, LabelsAreReadWithTheirEntries) {
  std::vector<Block> blocks;
  for (int i = 0; i < 4; ++i) {
    blocks.push_back(entry_at(0, 60.0 * i, 150));
    blocks.push_back(entry_at(300, 60.0 * i + 2, 600));
  }
  const auto order = order_of(blocks);
  for (size_t i = 0; i < 4; ++i) {
    EXPECT_EQ(order[2 * i], place(0, 60.0 * static_cast<double>(i)));
    EXPECT_EQ(order[2 * i + 1], place(300, 60.0 * static_cast<double>(i) + 2));
  }
}

TEST(ReadingOrder, NotesFollowTheirBlockAndFeetComeLast) {
  Block note = block_at(0, 200, 90, 240), footnote = block_at(100, 700, 460, 740),
        number = block_at(400, 900, 420, 910);
  note.kind = BlockKind::kMarginNote;
  footnote.kind = BlockKind::kFootnote;
  number.kind = BlockKind::kPageNumber;
  const auto order = order_of({number, note, footnote, block_at(100, 0, 460, 190),
                               block_at(100, 195, 460, 600), block_at(500, 0, 900, 600)});
  const std::vector<double> expected = {place(100, 0), place(100, 195), place(0, 200),
                                        place(500, 0), place(100, 700), place(400, 900)};
  EXPECT_EQ(order, expected);
}

}  // namespace
}  // namespace burnisher::layout
