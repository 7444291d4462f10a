#include <gtest/gtest.h>

#include <algorithm>

#include "layout/segment.h"
#include "page/table.h"
#include "pagefile/page_xml.h"
#include "raster/convert.h"
#include "testing/printed_page.h"
#include "testing/seen_page.h"

namespace burnisher::layout {
namespace {

using testing::PrintedPage;

// Rules are given apart from the letters, as `clean` leaves them.
Page segmented(const PrintedPage& printed, const std::vector<Component>& rules = {}) {
  PrintedPage seen = printed;
  for (const Component& r : rules) {
    if (r.width() > r.height())
      seen.rule(r.x0, r.y0 + 2, r.x1, r.y0 + 2, 4);
    else
      seen.rule(r.x0 + 2, r.y0, r.x0 + 2, r.y1, 4);
  }
  const Gray picture = seen.picture();
  const Bitonal ink = to_bitonal(printed.picture(), 128);
  Page page;
  page.width = ink.width();
  page.height = ink.height();
  const double height = dominant_height(components_of(ink).list);
  segment(ink, look_at(burnisher::testing::page_network(), picture, height), height, {}, page,
          rules);
  return page;
}

const Block* table_on(const Page& page) {
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) return &block;
  }
  return nullptr;
}

void print_rows(PrintedPage& page, const std::vector<std::vector<std::string>>& rows,
                const std::vector<double>& xs, double top, double pitch) {
  for (size_t r = 0; r < rows.size(); ++r) {
    for (size_t c = 0; c < rows[r].size(); ++c) {
      if (!rows[r][c].empty())
        page.print({rows[r][c], xs[c], top + pitch * static_cast<double>(r), 40});
    }
  }
}

TEST(Tables, ColumnsOfWhiteSpaceMakeATable) {
  PrintedPage page(1500, 900);
  print_rows(page,
             {{"Stores", "Tins", "Pounds"},
              {"Lamp oil", "412", "31.50"},
              {"Wicks", "24", "2.10"},
              {"Rope", "95", "17.25"},
              {"Coal", "38", "9.00"}},
             {120, 700, 1100}, 200, 62);
  const Page read = segmented(page);
  const Block* table = table_on(read);
  ASSERT_NE(table, nullptr);
  EXPECT_EQ(row_count(*table), 5);
  EXPECT_EQ(column_count(*table), 3);
}

TEST(Tables, AnEmptyCellKeepsItsColumn) {
  PrintedPage page(1500, 900);
  print_rows(page,
             {{"101", "Saw", "Fenn", "03.04."},
              {"102", "Brace", "", "04.04."},
              {"103", "Plane", "Dray", ""},
              {"104", "Level", "Fenn", "09.04."}},
             {120, 300, 560, 800}, 200, 62);
  const Page read = segmented(page);
  const Block* table = table_on(read);
  ASSERT_NE(table, nullptr);
  EXPECT_EQ(column_count(*table), 4);
  const auto in = [&](int row, int column) {
    return std::any_of(table->cells.begin(), table->cells.end(), [&](const Cell& c) {
      return c.row == row && c.column == column && !c.lines.empty();
    });
  };
  EXPECT_FALSE(in(1, 2));
  EXPECT_TRUE(in(1, 3));
  EXPECT_FALSE(in(2, 3));
}

TEST(Tables, TwoColumnsOfProseAreNone) {
  PrintedPage page(1700, 1200);
  page.print_column(testing::prose(14, 34), 120, 200, 40, 52);
  page.print_column(testing::prose(14, 34), 920, 200, 40, 52);
  EXPECT_EQ(table_on(segmented(page)), nullptr);
}

Component rule(int x0, int y0, int x1, int y1) {
  return {x0, y0, x1, y1, (x1 - x0) * (y1 - y0)};
}

TEST(Tables, CellsGrowOverMissingPiecesOfRules) {
  PrintedPage page(1200, 700);
  print_rows(page, {{"Oil", "12", "14"}, {"Sum of the stores", "", "26"}}, {130, 530, 830}, 170,
             100);
  // Between the first two columns the second row has no rule.
  const std::vector<Component> rules = {rule(100, 100, 1100, 104), rule(100, 200, 1100, 204),
                                        rule(100, 300, 1100, 304), rule(100, 100, 104, 304),
                                        rule(500, 100, 504, 204),  rule(800, 100, 804, 304),
                                        rule(1096, 100, 1100, 304)};
  const Page read = segmented(page, rules);
  const Block* table = table_on(read);
  ASSERT_NE(table, nullptr);
  ASSERT_EQ(table->cells.size(), 5u);
  const Cell& wide = table->cells[3];
  EXPECT_EQ(wide.row, 1);
  EXPECT_EQ(wide.columns, 2);
  EXPECT_EQ(wide.lines.size(), 1u);
}

TEST(Tables, CellsStandForSeveralRowsWhereTheirRulesAreMissing) {
  PrintedPage page(1500, 900);
  print_rows(page,
             {{"Station", "Month", "Gallons"},
              {"", "May", "412"},
              {"Skerrow", "June", "398"},
              {"", "July", "377"},
              {"Fenn", "May", "120"}},
             {120, 600, 1000}, 200, 80);
  std::vector<Component> rules;
  for (int i = 0; i <= 5; ++i) {
    const int y = 150 + 80 * i, x0 = i == 2 || i == 3 ? 500 : 90;
    rules.push_back({x0, y, 1300, y + 4, 4 * (1300 - x0)});
  }
  for (const int x : {90, 500, 900, 1300}) rules.push_back({x, 150, x + 4, 554, 4 * 404});
  const Page read = segmented(page, rules);
  const Block* table = table_on(read);
  ASSERT_NE(table, nullptr);
  EXPECT_EQ(row_count(*table), 5);
  EXPECT_EQ(column_count(*table), 3);
  const auto tall = std::find_if(table->cells.begin(), table->cells.end(),
                                 [](const Cell& c) { return c.rows > 1; });
  ASSERT_NE(tall, table->cells.end());
  EXPECT_EQ(tall->row, 1);
  EXPECT_EQ(tall->column, 0);
  EXPECT_EQ(tall->rows, 3);
  EXPECT_EQ(tall->lines.size(), 1u);
  EXPECT_NEAR(tall->box.y0, 232, 12);
  EXPECT_NEAR(tall->box.y1, 472, 12);
  EXPECT_EQ(std::count_if(table->cells.begin(), table->cells.end(),
                          [](const Cell& c) { return c.rows > 1; }),
            1);
}

TEST(Tables, ABoxRoundProseIsNone) {
  PrintedPage page(1700, 1200);
  page.print_column(testing::prose(14, 60), 140, 200, 40, 52);
  const std::vector<Component> box = {rule(100, 120, 1600, 124), rule(100, 960, 1600, 964),
                                      rule(100, 120, 104, 964), rule(1596, 120, 1600, 964)};
  EXPECT_EQ(table_on(segmented(page, box)), nullptr);
}

TEST(Tables, CellsComeBackFromPageXml) {
  Page page;
  page.width = page.height = 500;
  Block table;
  table.kind = BlockKind::kTable;
  table.outline = Box{10, 10, 400, 200}.corners();
  Cell head;
  head.columns = 2;
  head.header = true;
  head.box = {10, 10, 400, 100};
  head.lines = {0};
  Line line;
  line.baseline = {{20, 80}, {200, 80}};
  line.x_height = 20;
  line.box = {20, 50, 200, 85};
  line.words.push_back({"Stores", {20, 50, 200, 85}, 0.9, {}});
  table.lines = {line};
  table.cells = {head};
  page.blocks = {table};
  const std::string xml = write_page_xml(page, "a.png");
  const Page again = read_page_xml(xml, "a.xml").page;
  ASSERT_EQ(again.blocks.size(), 1u);
  ASSERT_EQ(again.blocks[0].cells.size(), 1u);
  EXPECT_TRUE(again.blocks[0].cells[0].header);
  EXPECT_EQ(again.blocks[0].cells[0].columns, 2);
  EXPECT_EQ(text_of(again.blocks[0], again.blocks[0].cells[0]), "Stores");
  EXPECT_EQ(write_page_xml(again, "a.png"), xml);
}

}  // namespace
}  // namespace burnisher::layout
