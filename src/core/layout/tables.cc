#include "layout/tables.h"

#include <algorithm>
#include <map>

#include "base/statistics.h"
#include "layout/leaders.h"
#include "layout/map_regions.h"
#include "layout/table_grid.h"

namespace burnisher::layout {
namespace {

constexpr double kSeen = 0.5;       // of the table map's 0-1
constexpr double kInside = 0.5;     // share of a line that must lie in a table
constexpr double kReach = 1.5;      // text heights round the lines, where the table's rules are
constexpr int kMostHeadRows = 3;
constexpr size_t kFewestLines = 4;

std::vector<Component> rules_near(const std::vector<LetterLine>& lines,
                                  const std::vector<Component>& rules, double reach) {
  Box box;
  for (const LetterLine& line : lines) box = united(box, line.box);
  std::vector<Component> near;
  for (const Component& rule : rules) {
    if (rule.x0 < box.x1 + reach && rule.x1 > box.x0 - reach && rule.y0 < box.y1 + reach &&
        rule.y1 > box.y0 - reach)
      near.push_back(rule);
  }
  return near;
}

// Titles with leaders to their pages are lines that are read across, however well they align.
bool mostly_led(const std::vector<LetterLine>& lines, double text_height) {
  size_t led = 0;
  for (const LetterLine& line : lines) {
    const std::vector<bool> leads = leader_dots(line.marks, text_height);
    led += std::find(leads.begin(), leads.end(), true) != leads.end();
  }
  return 2 * led > lines.size();
}

// Rows above the first rule, when most rows below have none between them.
int head_rows(const Grid& grid) {
  const auto ruled = std::count(grid.ruled.begin(), grid.ruled.end(), true);
  for (int r = 0; r < std::min<int>(kMostHeadRows, static_cast<int>(grid.ruled.size())); ++r) {
    if (grid.ruled[static_cast<size_t>(r)])
      return 2 * ruled <= static_cast<long>(grid.ruled.size()) ? r + 1 : 0;
  }
  return 0;
}

// Lines of one row that share a column make one cell.
std::vector<Cell> cells_of(const Grid& grid, const std::vector<LetterLine>& lines, double into) {
  std::vector<Cell> cells;
  for (int row = 0; row < grid.rows(); ++row) {
    std::vector<Cell> own;
    for (size_t i = 0; i < lines.size(); ++i) {
      const Box& box = lines[i].box;
      if (grid.row_at(lines[i].band().centre().y) != row) continue;
      Cell cell;
      cell.row = row;
      cell.column = grid.column_at(std::min(box.x0 + into, box.centre().x));
      cell.columns = grid.column_at(std::max(box.x1 - into, box.centre().x)) - cell.column + 1;
      cell.lines = {static_cast<int>(i)};
      own.push_back(cell);
    }
    std::sort(own.begin(), own.end(),
              [](const Cell& a, const Cell& b) { return a.column < b.column; });
    for (size_t i = 1; i < own.size();) {
      Cell &a = own[i - 1], &b = own[i];
      if (b.column >= a.column + a.columns) {
        ++i;
        continue;
      }
      a.columns = std::max(a.column + a.columns, b.column + b.columns) - a.column;
      a.lines.insert(a.lines.end(), b.lines.begin(), b.lines.end());
      own.erase(own.begin() + static_cast<long>(i));
    }
    int column = 0;
    for (size_t i = 0; i <= own.size(); ++i) {
      const int next = i < own.size() ? own[i].column : grid.columns();
      for (; column < next; ++column) {
        Cell empty;
        empty.row = row;
        empty.column = column;
        cells.push_back(empty);
      }
      if (i == own.size()) break;
      std::sort(own[i].lines.begin(), own[i].lines.end(), [&](int a, int b) {
        return lines[static_cast<size_t>(a)].box.centre().y <
               lines[static_cast<size_t>(b)].box.centre().y;
      });
      column = own[i].column + own[i].columns;
      cells.push_back(own[i]);
    }
  }
  return cells;
}

// The lines in the order of their cells.
void order_lines(std::vector<Cell>& cells, std::vector<LetterLine>& lines) {
  std::vector<LetterLine> ordered;
  for (Cell& cell : cells) {
    for (int& line : cell.lines) {
      ordered.push_back(std::move(lines[static_cast<size_t>(line)]));
      line = static_cast<int>(ordered.size()) - 1;
    }
  }
  lines = std::move(ordered);
}

}  // namespace

std::vector<Table> tables_of(const Sight& sight, const std::vector<Component>& rules,
                             double text_height, std::vector<LetterLine>& lines) {
  const MapRegions regions(sight, kTableMap, kSeen);
  std::map<int, std::vector<LetterLine>> by_region;
  std::vector<LetterLine> outside;
  for (LetterLine& line : lines) {
    const int region = regions.holding(line.box, kInside);
    (region < 0 ? outside : by_region[region]).push_back(std::move(line));
  }
  lines = std::move(outside);
  std::vector<Table> tables;
  for (auto& [region, inside] : by_region) {
    std::vector<double> heights;
    for (const LetterLine& line : inside) heights.push_back(line.band().height());
    const double height = heights.empty() ? text_height : median(heights);
    const std::vector<Component> near = rules_near(inside, rules, kReach * text_height);
    const Grid grid = grid_of(sight, inside, near, height);
    if (inside.size() < kFewestLines || grid.rows() < 2 || grid.columns() < 2 ||
        mostly_led(inside, text_height)) {
      for (LetterLine& line : inside) lines.push_back(std::move(line));
      continue;
    }
    Table table;
    table.box = grid.box;
    table.lines = std::move(inside);
    fit_to_grid(grid, height, table.lines);
    table.cells = cells_of(grid, table.lines, 0.5 * height);
    const int head = head_rows(grid);
    for (Cell& cell : table.cells) {
      cell.header = cell.row < head;
      cell.box = grid.cell(cell.row, cell.column, cell.columns);
    }
    order_lines(table.cells, table.lines);
    tables.push_back(std::move(table));
  }
  return tables;
}

}  // namespace burnisher::layout
