// A table of stores, as a page knows it.
#pragma once

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher::testing {

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

}  // namespace burnisher::testing
