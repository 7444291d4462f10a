#include "export/text.h"

#include <gtest/gtest.h>

#include "export/spreadsheet.h"
#include "testing/stores_table.h"

namespace burnisher {
namespace {

using testing::line_of;
using testing::StoresTable;
using testing::word_of;

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
