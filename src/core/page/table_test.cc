#include "page/table.h"

#include <gtest/gtest.h>

#include "testing/stores_table.h"

namespace burnisher {
namespace {

using testing::StoresTable;

TEST_F(StoresTable, KnowsItsRowsAndColumns) {
  EXPECT_EQ(row_count(table_), 3);
  EXPECT_EQ(column_count(table_), 2);
  EXPECT_EQ(row_count(Block{}), 0);
  EXPECT_EQ(column_count(Block{}), 0);
}

TEST_F(StoresTable, TextsStandInTheirPlaces) {
  const auto texts = texts_of(table_);
  ASSERT_EQ(texts.size(), 3u);
  EXPECT_EQ(texts[0], (std::vector<std::string>{"Stores", ""}));
  EXPECT_EQ(texts[2], (std::vector<std::string>{"Wicks", "24 dozen"}));
}

TEST(TallCells, StandInTheRowThatTheirTextIsPrintedIn) {
  Block table;
  const auto put = [&](int row, int column, const std::string& text, double y) {
    Line line;
    line.words.resize(1);
    line.words[0].text = text;
    line.box = {100.0 * column, y, 100.0 * column + 60, y + 20};
    Cell cell;
    cell.row = row;
    cell.column = column;
    cell.lines = {static_cast<int>(table.lines.size())};
    table.lines.push_back(line);
    table.cells.push_back(cell);
  };
  put(0, 0, "Skerrow", 52);
  table.cells[0].rows = 3;
  put(0, 1, "May", 0);
  put(1, 1, "June", 50);
  put(2, 1, "July", 100);
  EXPECT_EQ(printed_row(table, table.cells[0]), 1);
  EXPECT_EQ(printed_row(table, table.cells[3]), 2);
  const auto texts = texts_of(table);
  ASSERT_EQ(texts.size(), 3u);
  EXPECT_EQ(texts[0], (std::vector<std::string>{"", "May"}));
  EXPECT_EQ(texts[1], (std::vector<std::string>{"Skerrow", "June"}));
  const auto lines = printed_lines(table);
  ASSERT_EQ(lines.size(), 3u);
  EXPECT_EQ(joined(lines[1]).text(), "Skerrow June");
}

TEST_F(StoresTable, PrintedLinesGoAcrossUnlessACellHasSeveral) {
  const auto lines = printed_lines(table_);
  ASSERT_EQ(lines.size(), 5u);
  EXPECT_EQ(lines[1].size(), 2u);  // "Oil" and "1,200"
  EXPECT_EQ(lines[1][0]->text(), "Oil");
  EXPECT_EQ(lines[2][0]->text(), "Wicks");
  EXPECT_EQ(lines[3][0]->text(), "24");
  EXPECT_EQ(lines[4][0]->text(), "dozen");
}

TEST_F(StoresTable, ARowJoinsIntoOneLine) {
  const auto lines = printed_lines(table_);
  const Line row = joined(lines[1]);
  EXPECT_EQ(row.text(), "Oil 1,200");
  EXPECT_EQ(row.baseline.size(), 4u);
  EXPECT_EQ(row.box.x0, lines[1][0]->box.x0);
  EXPECT_EQ(row.box.x1, lines[1][1]->box.x1);
  EXPECT_NEAR(row.confidence, 0.95, 1e-9);
}

TEST(JoinedLines, AreAsTheOneWithMostWords) {
  Line mark, text;
  mark.x_height = 9;
  mark.words.resize(1);
  mark.outline = {{0, 0}, {9, 0}, {9, 9}};
  text.x_height = 20;
  text.language = "en";
  text.words.resize(3);
  const Line whole = joined({&mark, &text});
  EXPECT_EQ(whole.words.size(), 4u);
  EXPECT_EQ(whole.x_height, 20);
  EXPECT_EQ(whole.language, "en");
  EXPECT_TRUE(whole.outline.empty());
  EXPECT_EQ(joined({&mark}).outline.size(), 3u);
}

TEST_F(StoresTable, TwoCellsInOnePlaceLoseNothing) {
  add(1, 0, {"lamp"});
  EXPECT_EQ(texts_of(table_)[1][0], "Oil lamp");
}

}  // namespace
}  // namespace burnisher
