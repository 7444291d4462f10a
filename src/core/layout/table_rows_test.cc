// Which lines of a table make one row, and which rows one table.
#include <gtest/gtest.h>

#include "layout/table_levels.h"
#include "layout/table_parts.h"
#include "testing/painted_maps.h"

namespace burnisher::layout {
namespace {

using testing::letters_at;
using testing::line_of;

constexpr double kHeight = 20;

// A table by the widths of what it has on each level, with their first words; levels `pitch` apart.
struct Written {
  std::vector<std::vector<Filled>> filled;
  std::vector<Level> levels;

  void add(const std::vector<Filled>& columns, double pitch = 30) {
    filled.push_back(columns);
    levels.push_back({levels.empty() ? 100 : levels.back().y + pitch, {}});
  }
  int rows() const {
    const std::vector<bool> goes_on = levels_that_go_on(filled, levels);
    if (goes_on.empty()) return 0;  // nothing tells
    return static_cast<int>(std::count(goes_on.begin(), goes_on.end(), false));
  }
};

constexpr Filled kNothing{};
constexpr Filled kFigure{50, 50};

TEST(RowsByWrapping, WhatHadNoRoomOnTheLineAboveGoesOn) {
  Written table;  // remarks wrapped at 400, at the rows' own pitch; no other column agrees
  for (int row = 0; row < 5; ++row) {
    table.add({kFigure, {380, 60}, row % 2 ? Filled{90, 90} : kNothing});
    table.add({kNothing, {395, 70}, kNothing});
    table.add({kNothing, {150, 50}, kNothing});
  }
  EXPECT_EQ(table.rows(), 5);
}

TEST(RowsByWrapping, LinesThatHadRoomAreRows) {
  Written bill;  // "2 x 18.72" below what costs it, without a sum of its own
  for (int row = 0; row < 6; ++row) {
    bill.add({{180 + 10.0 * (row % 3), 90}, kFigure});
    bill.add({{110, 16}, kNothing});
  }
  EXPECT_EQ(bill.rows(), 0);
}

TEST(RowsByWrapping, AFewEmptyPlacesMakeNoRowGoOn) {
  Written table;
  for (int row = 0; row < 20; ++row) {
    const bool gap = row == 4 || row == 9;
    table.add({{160 + 5.0 * (row % 7), 80},
               {120 + 9.0 * (row % 4), 70},
               gap ? kNothing : kFigure,
               kFigure,
               kFigure});
  }
  EXPECT_TRUE(table.rows() == 0 || table.rows() == 20) << table.rows();
}

TEST(RowsByTheFirstColumn, WrappedRemarksBesideNothingGoOn) {
  Written table;
  for (int row = 0; row < 4; ++row) {
    const Filled name{row % 2 ? 120.0 : 90.0, 60};
    table.add({name, kFigure, {140, 75}, kFigure});
    if (row != 2) table.add({kNothing, kNothing, {150, 80}, kNothing});
  }
  EXPECT_EQ(table.rows(), 4);
}

TEST(RowsByTheFirstColumn, SumsUnderSeveralColumnsAreRows) {
  Written invoice;
  for (int row = 0; row < 6; ++row) invoice.add({kFigure, {200, 70}, kFigure, {60, 60}, {80, 80}});
  for (int sum = 0; sum < 3; ++sum) invoice.add({kNothing, kNothing, kNothing, {70, 40}, {80, 80}});
  EXPECT_TRUE(invoice.rows() == 0 || invoice.rows() == 9) << invoice.rows();
}

// Rows of columns that begin at `at`, one every 30 pixels.
void add_rows(const std::vector<int>& at, int first, int rows, std::vector<LetterLine>& lines) {
  for (int row = 0; row < rows; ++row)
    for (const int x : at) lines.push_back(line_of(letters_at(x, first + 30 * row, 5)));
}

TEST(StackedTables, ArePartedWhereOtherColumnsBegin) {
  std::vector<LetterLine> lines;
  add_rows({100, 300, 500, 700}, 100, 6, lines);
  add_rows({100, 240, 400, 620, 840}, 340, 5, lines);
  const auto parts = tables_apart(lines, kHeight);
  ASSERT_EQ(parts.size(), 2u);
  EXPECT_EQ(parts[0].size(), 24u);
  EXPECT_EQ(parts[1].size(), 25u);
}

TEST(StackedTables, ATextBelowThatGoesOverAllColumnsIsAPart) {
  std::vector<LetterLine> lines;
  add_rows({100, 300, 500}, 100, 5, lines);
  for (int row = 0; row < 3; ++row) lines.push_back(line_of(letters_at(100, 310 + 30 * row, 28)));
  EXPECT_EQ(tables_apart(lines, kHeight).size(), 2u);
}

TEST(StackedTables, GroupsOfOneTableStayTogether) {
  std::vector<LetterLine> apart, near;
  add_rows({100, 300, 500, 700}, 100, 6, apart);
  add_rows({100, 300, 500, 700}, 340, 5, apart);
  EXPECT_EQ(tables_apart(apart, kHeight).size(), 1u);
  add_rows({100, 300, 500, 700}, 100, 6, near);
  add_rows({100, 240, 400, 620, 840}, 280, 5, near);  // without more white
  EXPECT_EQ(tables_apart(near, kHeight).size(), 1u);
  EXPECT_EQ(tables_apart({}, kHeight).size(), 1u);
}

// A card's column: rows of two columns under larger headings on some of them.
void add_card(int x, const std::vector<int>& headings, std::vector<LetterLine>& lines) {
  for (int row = 0; row < 12; ++row) {
    if (std::find(headings.begin(), headings.end(), row) != headings.end()) {
      std::vector<Component> letters = letters_at(x, 100 + 40 * row, 9);
      for (Component& c : letters) c.y0 -= 10;
      lines.push_back(line_of(letters));
      continue;
    }
    lines.push_back(line_of(letters_at(x, 100 + 40 * row, 5)));
    lines.push_back(line_of(letters_at(x + 250, 100 + 40 * row, 4)));
  }
}

TEST(TablesSideBySide, ArePartedWhereEitherHasHeadingsOfItsOwn) {
  std::vector<LetterLine> cards, table;
  add_card(100, {0, 5, 9}, cards);
  add_card(520, {2, 7}, cards);
  const auto parts = tables_apart(cards, kHeight);
  ASSERT_EQ(parts.size(), 2u);
  EXPECT_EQ(parts[0].size(), 3u + 18);
  EXPECT_EQ(parts[1].size(), 2u + 20);
  add_card(100, {0, 5, 9}, table);  // groups of one table: their headings stand over all of it
  add_card(520, {}, table);
  EXPECT_EQ(tables_apart(table, kHeight).size(), 1u);
}

}  // namespace
}  // namespace burnisher::layout
