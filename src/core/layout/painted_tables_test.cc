// What tables make of the lines they are given: on painted maps, so that each rule is seen alone.
#include <gtest/gtest.h>

#include <algorithm>

#include "layout/tables.h"
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

// Four rows of three columns, and what the network would see there.
struct PaintedTable {
  PaintedMaps painted;
  std::vector<LetterLine> lines;
  PaintedTable() {
    for (int row = 0; row < 4; ++row) add_row(200 + 50 * row);
    painted.fill(kTableMap, {90, 160, 810, 370});
  }
  void add_row(int y) {
    painted.fill(kBorderMap, {90, y + 10.0, 810, y + 20.0});
    lines.push_back(line_of(letters_at(100, y, 6)));
    lines.push_back(line_of(letters_at(400, y, 4)));
    lines.push_back(line_of(letters_at(700, y, 5)));
  }
  std::vector<Table> found(const Drawn& drawn = {}) {
    return tables_of(painted.maps(), drawn, kHeight, lines);
  }
};

int rows_of(const Table& table) {
  int rows = 0;
  for (const Cell& cell : table.cells) rows = std::max(rows, cell.row + 1);
  return rows;
}

int columns_of(const Table& table) {
  int columns = 0;
  for (const Cell& cell : table.cells) columns = std::max(columns, cell.column + cell.columns);
  return columns;
}

TEST(PaintedTables, TakeRowsThatTheMapDoesNotShow) {
  PaintedTable page;
  page.lines.push_back(line_of(letters_at(100, 150, 5)));  // a head
  page.lines.push_back(line_of(letters_at(400, 150, 4)));
  page.lines.push_back(line_of(letters_at(700, 150, 5)));
  page.painted.fill(kBorderMap, {90, 385, 810, 395});
  page.lines.push_back(line_of(letters_at(100, 400, 6)));  // a last row
  page.lines.push_back(line_of(letters_at(700, 400, 5)));
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 6);
  EXPECT_EQ(columns_of(tables[0]), 3);
  EXPECT_TRUE(page.lines.empty());
}

TEST(PaintedTables, TakeAHeadOverTheHeadingOfAGroup) {
  PaintedTable page;
  page.lines.push_back(line_of(letters_at(100, 150, 5)));  // the group
  page.lines.push_back(line_of(letters_at(100, 100, 5)));  // the head
  page.lines.push_back(line_of(letters_at(400, 100, 4)));
  page.lines.push_back(line_of(letters_at(700, 100, 5)));
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 6);
  EXPECT_TRUE(page.lines.empty());
}

TEST(PaintedTables, LeaveTextAboveThem) {
  PaintedTable page;
  page.lines.push_back(line_of(letters_at(100, 150, 30)));  // over all columns
  page.lines.push_back(line_of(letters_at(100, 110, 30)));
  page.lines.push_back(line_of(letters_at(100, 420, 5)));  // two on a level, too far below
  page.lines.push_back(line_of(letters_at(400, 470, 5)));
  page.lines.push_back(line_of(letters_at(700, 470, 5)));
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 4);
  EXPECT_EQ(page.lines.size(), 5u);
}

TEST(PaintedTables, TakeTheirLines) {
  PaintedTable page;
  page.lines.push_back(line_of(letters_at(100, 600, 30)));
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 4);
  EXPECT_EQ(columns_of(tables[0]), 3);
  EXPECT_EQ(tables[0].lines.size(), 12u);
  ASSERT_EQ(page.lines.size(), 1u);
  EXPECT_EQ(page.lines[0].box.y1, 600);
}

TEST(PaintedTables, EveryLineIsInOneCell) {
  PaintedTable page;
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  std::vector<int> times(tables[0].lines.size(), 0);
  for (const Cell& cell : tables[0].cells)
    for (const int line : cell.lines) ++times[static_cast<size_t>(line)];
  for (const int t : times) EXPECT_EQ(t, 1);
}

TEST(PaintedTables, ATitleAboveIsNoRow) {
  PaintedTable page;
  page.lines.push_back(line_of(letters_at(250, 150, 20)));
  page.painted.fill(kBorderMap, {90, 160, 810, 170});
  page.painted.fill(kTableMap, {90, 120, 810, 370});
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 4);
  ASSERT_EQ(page.lines.size(), 1u);
  EXPECT_EQ(page.lines[0].letters.size(), 20u);
}

TEST(PaintedTables, ANoteBelowIsNoRowNorIsWhatFollows) {
  // A line over several columns; a paragraph, whose last line is short.
  for (const std::vector<int>& letters : {std::vector<int>{36}, {36, 36, 9}}) {
    PaintedTable page;
    int y = 420;
    for (const int count : letters)
      page.lines.push_back(line_of(letters_at(100, y, count))), y += 30;
    page.painted.fill(kTableMap, {90, 160, 810, y + 20.0});
    const auto tables = page.found();
    ASSERT_EQ(tables.size(), 1u);
    EXPECT_EQ(rows_of(tables[0]), 4);
    EXPECT_EQ(page.lines.size(), letters.size());
  }
}

TEST(PaintedTables, PiecesUnderOneRuleAreOneTable) {
  // The network sees two pieces far apart.
  const auto pieces = [] {
    PaintedTable page;
    page.painted.fill(kTableMap, {0, 0, 1000, 1000}, 0);
    page.painted.fill(kTableMap, {90, 160, 500, 370});
    page.painted.fill(kTableMap, {680, 160, 810, 370});
    return page;
  };
  PaintedTable joined = pieces();
  Drawn drawn;
  drawn.rules = {rule_at(90, 165, 810, 168)};
  const auto tables = joined.found(drawn);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(columns_of(tables[0]), 3);
  EXPECT_EQ(tables[0].lines.size(), 12u);
  // Without the rule the pieces stay apart: a single column is no table.
  PaintedTable apart = pieces();
  const auto alone = apart.found();
  ASSERT_EQ(alone.size(), 1u);
  EXPECT_EQ(columns_of(alone[0]), 2);
  EXPECT_EQ(apart.lines.size(), 4u);
}

TEST(PaintedTables, AFramesEmptyEdgesAreNoRowsOrColumns) {
  PaintedTable page;
  Drawn drawn;
  // A double frame: the outer one parts off a strip on every side.
  for (const int off : {0, 40}) {
    const int x0 = 10 + off, x1 = 890 - off, y0 = 100 + off, y1 = 430 - off;
    append(drawn.rules, {rule_at(x0, y0, x1, y0 + 4), rule_at(x0, y1, x1, y1 + 4),
                         rule_at(x0, y0, x0 + 4, y1), rule_at(x1, y0, x1 + 4, y1)});
  }
  const auto tables = page.found(drawn);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 4);
  EXPECT_EQ(columns_of(tables[0]), 3);
  for (const Cell& cell : tables[0].cells) EXPECT_GE(cell.row, 0);
}

TEST(PaintedTables, TheHeadIsCountedFromTheFirstRowWithText) {
  PaintedTable page;
  Drawn drawn;
  // A frame that begins a row's height above the head, and a rule below the head.
  for (const int y : {110, 160, 210}) drawn.rules.push_back(rule_at(90, y, 810, y + 3));
  const auto tables = page.found(drawn);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 4);
  for (const Cell& cell : tables[0].cells) EXPECT_EQ(cell.header, cell.row == 0) << cell.row;
}

TEST(PaintedTables, OfPagesFromTheRightCountFromThere) {
  PaintedTable page;
  std::vector<Table> tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  count_from_the_right(tables[0]);
  EXPECT_EQ(columns_of(tables[0]), 3);
  for (size_t i = 0; i < tables[0].cells.size(); ++i) {
    const Cell& cell = tables[0].cells[i];
    ASSERT_EQ(cell.lines.size(), 1u);
    const double x = tables[0].lines[static_cast<size_t>(cell.lines[0])].box.x0;
    EXPECT_EQ(cell.column, x > 600 ? 0 : x > 300 ? 1 : 2);
    EXPECT_EQ(cell.lines[0], static_cast<int>(i));  // lines stand in the order of their cells
  }
}

TEST(PaintedTables, AnEmptyPlaceWithoutItsRuleIsPartOfItsNeighbour) {
  PaintedTable page;
  // The second row has no entry in the second column, and no rule before it either.
  page.lines.erase(page.lines.begin() + 4);
  Drawn drawn;
  for (const int y : {160, 210, 260, 310, 360}) drawn.rules.push_back(rule_at(90, y, 810, y + 3));
  for (const int x : {90, 600, 808}) drawn.rules.push_back(rule_at(x, 160, x + 3, 363));
  drawn.rules.push_back(rule_at(300, 160, 303, 210));
  drawn.rules.push_back(rule_at(300, 262, 303, 363));
  const auto tables = page.found(drawn);
  ASSERT_EQ(tables.size(), 1u);
  const auto& cells = tables[0].cells;
  const auto wide = std::find_if(cells.begin(), cells.end(),
                                 [](const Cell& c) { return c.row == 1 && c.column == 0; });
  ASSERT_NE(wide, cells.end());
  EXPECT_EQ(wide->columns, 2);
  for (const Cell& cell : cells) EXPECT_EQ(cell.columns, cell.row == 1 && cell.column == 0 ? 2 : 1);
}

TEST(PaintedTables, ContentsWithLeadersAndChoicesWithBoxesAreNone) {
  PaintedTable led;
  for (LetterLine& line : led.lines) line.has_leader = true;
  EXPECT_TRUE(led.found().empty());
  EXPECT_EQ(led.lines.size(), 12u);
  PaintedTable ticked;
  Drawn drawn;
  for (const LetterLine& line : ticked.lines)
    drawn.tick_boxes.push_back(
        box_at(static_cast<int>(line.box.x0) - 26, static_cast<int>(line.box.y0), 20, 20));
  EXPECT_TRUE(ticked.found(drawn).empty());
  EXPECT_EQ(ticked.lines.size(), 12u);
}

TEST(PaintedTables, ContentsWithWornLeadersAreNone) {
  for (const size_t led : {1u, 0u}) {
    std::vector<LetterLine> lines;
    PaintedMaps painted;
    painted.fill(kTableMap, {90, 160, 810, 420});
    for (int row = 0; row < 5; ++row) {
      const int y = 200 + 50 * row;
      painted.fill(kBorderMap, {90, y + 10.0, 810, y + 20.0});
      lines.push_back(line_of(letters_at(100, y, 6)));
      lines.back().has_leader = led > 0 && row < 2;
      lines.push_back(line_of(letters_at(700, y, 2)));
    }
    EXPECT_EQ(tables_of(painted.maps(), {}, kHeight, lines).size(), 1 - led);
  }
}

TEST(PaintedTables, ALonelyColumnIsNone) {
  PaintedTable page;
  page.lines.clear();
  for (int row = 0; row < 4; ++row)
    page.lines.push_back(line_of(letters_at(100, 200 + 50 * row, 6)));
  EXPECT_TRUE(page.found().empty());
  EXPECT_EQ(page.lines.size(), 4u);
}

// ---- rows of several lines, columns close to each other, columns of text ----

// Cells of lines at the heights given, by columns; the network sees no rows.
std::vector<Table> of_columns(const std::vector<std::vector<int>>& heights,
                              std::vector<LetterLine>& lines) {
  PaintedMaps painted;
  painted.fill(kTableMap, {90, 100, 910, 900});
  for (size_t c = 0; c < heights.size(); ++c) {
    for (const int y : heights[c])
      lines.push_back(line_of(letters_at(100 + 250 * static_cast<int>(c), y, 6)));
  }
  return tables_of(painted.maps(), {}, kHeight, lines);
}

TEST(RowsOfLines, BeginWhereColumnsOfOneLineEachDo) {
  std::vector<LetterLine> lines;
  // Two, three and one line in the last column; numbers and dates once a row.
  const auto tables =
      of_columns({{200, 300, 430}, {200, 300, 430}, {200, 230, 300, 330, 360, 430}}, lines);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 3);
  std::vector<size_t> in_last;
  for (const Cell& cell : tables[0].cells)
    if (cell.column == 2) in_last.push_back(cell.lines.size());
  EXPECT_EQ(in_last, (std::vector<size_t>{2, 3, 1}));
}

TEST(RowsOfLines, LinesAsFarApartAsRowsAreRows) {
  std::vector<LetterLine> lines;
  // The second column has gaps, but its neighbours' lines stand no nearer there.
  const auto tables = of_columns(
      {{200, 250, 300, 350, 400, 450}, {200, 300, 350, 450}, {200, 300, 350, 450}}, lines);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 6);
}

TEST(RowsOfLines, AHeadingOfItsOwnStaysARow) {
  std::vector<LetterLine> lines;
  // "Class A" below the head stands as far from it as rows do.
  const auto tables = of_columns(
      {{200, 260, 320, 350, 410, 470, 500}, {200, 320, 410, 470}, {200, 320, 410, 470}}, lines);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 5);
}

TEST(CloseColumns, WhiteInMostLinesPartsThem) {
  PaintedMaps painted;
  painted.fill(kTableMap, {90, 160, 910, 400});
  std::vector<LetterLine> lines;
  for (int row = 0; row < 4; ++row) {
    const int y = 200 + 50 * row;
    painted.fill(kBorderMap, {90, y + 10.0, 910, y + 20.0});
    // Date and word stand near each other and were taken for one line.
    std::vector<Component> joined = letters_at(100, y, 6);
    append(joined, letters_at(260, y, 4));
    lines.push_back(line_of(joined));
    lines.push_back(line_of(letters_at(600, y, 5)));
  }
  const auto tables = tables_of(painted.maps(), {}, kHeight, lines);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(columns_of(tables[0]), 3);
  EXPECT_EQ(tables[0].lines.size(), 12u);
}

TEST(ColumnsOfText, AreNoTableWhereLinesDontStandLevel) {
  std::vector<LetterLine> lines;
  EXPECT_TRUE(
      of_columns({{200, 230, 260, 305, 335, 365}, {215, 245, 275, 290, 320, 350}}, lines).empty());
  EXPECT_EQ(lines.size(), 12u);
}

TEST(ColumnsOfText, ATiltedTableIsStillOne) {
  PaintedMaps painted;
  painted.fill(kTableMap, {90, 100, 910, 500});
  std::vector<LetterLine> lines;
  for (int row = 0; row < 5; ++row) {
    painted.fill(kBorderMap, {90, 220.0 + 40 * row, 910, 230.0 + 40 * row});
    for (const int x : {100, 600}) {
      std::vector<Component> letters;
      for (int i = 0; i < 16; ++i)
        letters.push_back(box_at(x + 18 * i, 200 + 40 * row - (x + 18 * i) / 60, 14, 20));
      lines.push_back(line_of(letters));
    }
  }
  const auto tables = tables_of(painted.maps(), {}, kHeight, lines);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(columns_of(tables[0]), 2);
}

TEST(PaintedTables, RulesDrawnTwiceMakeNoColumn) {
  PaintedTable page;
  Drawn drawn;
  for (const int x : {300, 306, 600, 606}) drawn.rules.push_back(rule_at(x, 165, x + 2, 370));
  const auto tables = page.found(drawn);
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(columns_of(tables[0]), 3);
  EXPECT_EQ(tables[0].cells.size(), 12u);
}

}  // namespace
}  // namespace burnisher::layout
