#include "recognise/rows_or_columns.h"

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

Block block(const std::vector<std::string>& texts, double x, double top) {
  std::vector<Line> lines;
  for (const std::string& text : texts)
    lines.push_back(testing::line_at(text, x, top + 40 * static_cast<double>(lines.size())));
  return testing::block_of(lines);
}

SideBySide beside(const std::vector<std::string>& left, const std::vector<std::string>& right) {
  SideBySide text{left, right, {}};
  for (size_t i = 0; i < std::min(left.size(), right.size()); ++i) text.pairs.push_back({i, i});
  return text;
}

TEST(RowsOrColumns, LabelsWantTheirEntries) {
  EXPECT_GT(speaks_for_rows(beside({"From:", "To:", "Date:"}, {"Fenn", "Dray", "May"}), nullptr),
            0.6);
}

TEST(RowsOrColumns, FiguresWantTheirRow) {
  EXPECT_GT(speaks_for_rows(beside({"Oil", "Rope"}, {"31.50", "17.25"}), nullptr), 0.6);
  EXPECT_LT(speaks_for_rows(beside({"1901", "1902"}, {"31.50", "17.25"}), nullptr), 0.6);
}

TEST(RowsOrColumns, TimesWantWhatHappensThen) {
  EXPECT_GT(speaks_for_rows(beside({"12.30", "15.30"}, {"Tour of the works", "Luncheon"}), nullptr),
            0.6);
  // Not all at the left are: entries under labels.
  EXPECT_LT(speaks_for_rows(beside({"Account no.", "2516"}, {"Employer", "Winton"}), nullptr), 0.6);
}

TEST(RowsOrColumns, AListInAlphabeticalOrderIsReadDown) {
  EXPECT_LT(speaks_for_rows(beside({"Anchor, 56", "Barrel, 113", "Bolt, 9"},
                                   {"Cable, 12", "Gable, 27", "Lamp, 3"}),
                            nullptr),
            -0.6);
  // By rows it would be in order, too: the first column alone says nothing.
  EXPECT_EQ(speaks_for_rows(beside({"Anchor", "Barrel"}, {"oak", "ash"}), nullptr), 0);
}

TEST(RowsOrColumns, WithoutLinesSideBySideNothingSpeaks) {
  EXPECT_EQ(speaks_for_rows({{"From:"}, {"Fenn"}, {}}, nullptr), 0);
}

TEST(SettledRows, LabelsAndEntriesBecomeOneBlock) {
  Page page;
  page.blocks = {block({"From:", "To:", "Date:"}, 100, 100),
                 block({"R. Fenn", "A. Dray", "3 May"}, 400, 100),
                 block({"Below stands more."}, 100, 400)};
  settle_rows(Languages({}), page);
  ASSERT_EQ(page.blocks.size(), 2u);
  ASSERT_EQ(page.blocks[0].lines.size(), 3u);
  EXPECT_EQ(page.blocks[0].lines[1].text(), "To: A. Dray");
  EXPECT_EQ(page.blocks[0].lines[1].baseline.size(), 4u);
  EXPECT_EQ(bounds(page.blocks[0].outline).x1, page.blocks[0].lines[1].box.x1);
}

TEST(SettledRows, WhatHasNoPartnerStaysWhereItStands) {
  Page page;
  page.blocks = {block({"From:", "To:", "Copy:", "Date:"}, 100, 100),
                 block({"R. Fenn", "A. Dray"}, 400, 100)};
  settle_rows(Languages({}), page);
  ASSERT_EQ(page.blocks.size(), 1u);
  ASSERT_EQ(page.blocks[0].lines.size(), 4u);
  EXPECT_EQ(page.blocks[0].lines[2].text(), "Copy:");
}

TEST(SettledRows, BlocksThatDontStandLevelStay) {
  Page page;
  page.blocks = {block({"From:", "To:", "Date:"}, 100, 100),
                 block({"R. Fenn", "A. Dray", "3 May"}, 400, 120)};
  settle_rows(Languages({}), page);
  EXPECT_EQ(page.blocks.size(), 2u);
}

TEST(SettledRows, ATableOfAnIndexBecomesTwoColumns) {
  Page page;
  Block table = block({"Anchor, 56", "Barrel, 113", "Bolt, 9", "Bridle, 83"}, 100, 100);
  const Block right = block({"Cable, 12", "Gable, 27", "Lamp, 3", "Ledger, 178"}, 500, 100);
  table.kind = BlockKind::kTable;
  for (int row = 0; row < 4; ++row) {
    for (const int column : {0, 1}) {
      Cell cell;
      cell.row = row;
      cell.column = column;
      cell.lines = {row + 4 * column};
      table.cells.push_back(cell);
    }
  }
  table.lines.insert(table.lines.end(), right.lines.begin(), right.lines.end());
  page.blocks = {table};
  settle_rows(Languages({}), page);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kText);
  EXPECT_EQ(page.blocks[0].lines[3].text(), "Bridle, 83");
  EXPECT_EQ(page.blocks[1].lines[0].text(), "Cable, 12");

  // A table whose second column is a list of its own stays one.
  const std::vector<std::string> woods = {"oak", "ash", "elm", "beech"};
  for (size_t i = 0; i < 4; ++i) table.lines[4 + i].words[0].text = woods[i];
  page.blocks = {table};
  settle_rows(Languages({}), page);
  EXPECT_EQ(page.blocks.size(), 1u);
}

TEST(SettledRows, AFewLinesInColumnsAreNoTable) {
  Page page;
  Block table = block({"Bank", "Skerrow Savings"}, 100, 100);
  const Block right = block({"Office hours", "Mon-Fri 9-5"}, 500, 100);
  table.kind = BlockKind::kTable;
  table.lines.insert(table.lines.end(), right.lines.begin(), right.lines.end());
  for (int i = 0; i < 4; ++i) {
    Cell cell;
    cell.row = i % 2;
    cell.column = i / 2;
    cell.lines = {i};
    table.cells.push_back(cell);
  }
  page.blocks = {table};
  settle_rows(Languages({}), page);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[0].lines[1].text(), "Skerrow Savings");
  // Labels over figures are none either: the references of a letter.
  table.lines[3].words[0].text = "1,204";
  page.blocks = {table};
  settle_rows(Languages({}), page);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[1].lines[1].text(), "1,204");
  // With figures in every row it is one, and with a head.
  table.lines[2].words[0].text = "9,310";
  page.blocks = {table};
  settle_rows(Languages({}), page);
  EXPECT_EQ(page.blocks.size(), 1u);
  table.lines[2].words[0].text = "Office hours";
  table.lines[3].words[0].text = "Mon-Fri 9-5";
  table.cells[0].header = true;
  page.blocks = {table};
  settle_rows(Languages({}), page);
  EXPECT_EQ(page.blocks.size(), 1u);
}

}  // namespace
}  // namespace burnisher::recognise
