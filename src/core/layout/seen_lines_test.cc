// What lines make of leaders, dotted lines and small print, and tables of the lines they are given:
// on painted maps, so that each rule is seen alone.
#include <gtest/gtest.h>

#include <algorithm>

#include "layout/lines.h"
#include "layout/map_regions.h"
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
  EXPECT_TRUE(lines[0].led);
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
  const Sight sight = painted.sight();
  EXPECT_EQ(map_regions(sight, kTableMap, 0.5).size(), 3u);
  // Over two cells either way the two make one, and the single cell nothing.
  const std::vector<Box> around = map_regions(sight, kTableMap, 0.5, 2);
  ASSERT_EQ(around.size(), 1u);
  EXPECT_NEAR(around[0].x0, 100, 21);
  EXPECT_NEAR(around[0].x1, 520, 21);
}

TEST(MapRegions, OfAnEmptySightAreNone) {
  EXPECT_TRUE(map_regions({}, kTableMap, 0.5).empty());
}

// ---- tables ----

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
    return tables_of(painted.sight(), drawn, kHeight, lines);
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

TEST(PaintedTables, ANoteBelowIsNoRow) {
  PaintedTable page;
  page.lines.push_back(line_of(letters_at(100, 420, 36)));
  page.painted.fill(kTableMap, {90, 160, 810, 440});
  const auto tables = page.found();
  ASSERT_EQ(tables.size(), 1u);
  EXPECT_EQ(rows_of(tables[0]), 4);
  EXPECT_EQ(page.lines.size(), 1u);
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
  for (LetterLine& line : led.lines) line.led = true;
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

TEST(PaintedTables, ALonelyColumnIsNone) {
  PaintedTable page;
  page.lines.clear();
  for (int row = 0; row < 4; ++row)
    page.lines.push_back(line_of(letters_at(100, 200 + 50 * row, 6)));
  EXPECT_TRUE(page.found().empty());
  EXPECT_EQ(page.lines.size(), 4u);
}

}  // namespace
}  // namespace burnisher::layout
