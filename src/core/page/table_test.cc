#include "page/table.h"

#include <gtest/gtest.h>

#include "export/spreadsheet.h"
#include "export/text.h"
#include "testing/corrected_pages.h"

namespace burnisher {
namespace {

using testing::line_of;
using testing::word_of;

// A table of stores; the first row spans both columns, the last cell has two lines.
class StoresTable : public ::testing::Test {
 protected:
  StoresTable() {
    table_.kind = BlockKind::kTable;
    table_.outline = Box{40, 40, 860, 400}.corners();
    add(0, 0, {"Stores"});
    table_.cells[0].columns = 2;
    add(1, 0, {"Oil"});
    add(1, 1, {"1,200"});
    add(2, 0, {"Wicks"});
    add(2, 1, {"24", "dozen"});
  }

  void add(int row, int column, const std::vector<std::string>& lines) {
    Cell cell;
    cell.row = row;
    cell.column = column;
    for (const std::string& text : lines) {
      Line line =
          line_of({word_of(text)}, 100 + 60 * row + 20 * static_cast<double>(cell.lines.size()));
      for (Word& word : line.words) {
        word.box.x0 += 300 * column;
        word.box.x1 += 300 * column;
      }
      line.box.x0 += 300 * column;
      line.box.x1 += 300 * column;
      cell.lines.push_back(static_cast<int>(table_.lines.size()));
      table_.lines.push_back(line);
    }
    table_.cells.push_back(cell);
  }

  Block table_;
};

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

TEST_F(StoresTable, TwoCellsInOnePlaceLoseNothing) {
  add(1, 0, {"lamp"});
  EXPECT_EQ(texts_of(table_)[1][0], "Oil lamp");
}

TEST_F(StoresTable, InTextCellsHaveTabsBetween) {
  Page page;
  page.blocks = {table_};
  EXPECT_EQ(exporting::text_of(page), "Stores\nOil\t1,200\nWicks\t24 dozen\n");
  // Without cells its lines are text like others.
  page.blocks[0].cells.clear();
  EXPECT_EQ(exporting::text_of(page), "Stores\nOil\n1,200\nWicks\n24\ndozen\n");
}

TEST_F(StoresTable, InCsvEveryRowHasEveryColumn) {
  EXPECT_EQ(exporting::csv_of(table_), "Stores,\r\nOil,\"1,200\"\r\nWicks,24 dozen\r\n");
}

TEST(PlainText, ADropCapitalJoinsItsWord) {
  Page page = testing::page_of_lines({line_of({word_of("he"), word_of("lamp")})});
  Block capital = testing::page_of_lines({line_of({word_of("T")})}).blocks[0];
  capital.kind = BlockKind::kDropCapital;
  page.blocks.insert(page.blocks.begin(), capital);
  Block heading = testing::page_of_lines({line_of({word_of("LOG")})}).blocks[0];
  page.blocks.insert(page.blocks.begin(), heading);
  EXPECT_EQ(exporting::text_of(page), "LOG\n\nThe lamp\n");
}

TEST(PlainText, EmptyLinesAndNoiseLeaveNothing) {
  Page page = testing::page_of_lines({line_of({word_of("lit")}), Line{}});
  Block noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  page.blocks.push_back(noise);
  page.blocks.emplace_back();
  EXPECT_EQ(exporting::text_of(page), "lit\n");
}

}  // namespace
}  // namespace burnisher
