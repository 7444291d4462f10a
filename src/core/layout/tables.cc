#include "layout/tables.h"

#include <algorithm>
#include <functional>
#include <iterator>
#include <optional>

#include "base/statistics.h"
#include "layout/level_rows.h"
#include "layout/map_regions.h"
#include "layout/table_grid.h"
#include "layout/table_levels.h"
#include "layout/table_parts.h"
#include "layout/table_reach.h"

namespace burnisher::layout {
namespace {

// Of the table map's 0-1.
constexpr double kSeen = 0.4;         // in a table
constexpr int kAround = 3;            // cells: two lines of text, over which the map is levelled
constexpr double kSure = 0.6;         // somewhere in it
constexpr double kHardlySeen = 0.2;   // of a line at its edge: it is something else's
constexpr double kInside = 0.7;       // share of a line that must lie in a table's bounds...
constexpr double kSeenBeyond = 0.25;  // ...unless it reaches into them and is seen as much
constexpr double kPiecesApart = 2.5;  // text heights between pieces of one table
constexpr double kBeside = 0.75;      // of the larger one's side, that such pieces share
constexpr double kOverBoth = 0.9;     // of their width, of a rule that makes them one
constexpr double kReach = 1.5;        // text heights round the lines, where the table's rules are
constexpr double kSetApart = 1.5;     // text heights of white above a note
constexpr double kTickAway = 3;       // text heights between a box to tick and its line
constexpr double kMostlyLed = 0.5, kLedOfTwo = 0.15;  // of the lines
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

// Single lines above a table are its title; below it, those from the first one on that goes over
// several columns or is set apart are a note or the text that follows. They go from `inside` to
// `outside`.
void trim(const PageMaps& maps, const std::vector<Component>& rules, double h, Grid& grid,
          std::vector<LetterLine>& inside, std::vector<LetterLine>& outside) {
  const std::vector<Level> levels = levels_of(inside, h);
  size_t first = 0, end = levels.size();
  while (first < end && levels[first].lines.size() < 2) ++first;
  while (end > first && levels[end - 1].lines.size() < 2) --end;
  for (; end > first && end < levels.size(); ++end) {
    const LetterLine &line = inside[levels[end].lines[0]],
                     &above = inside[levels[end - 1].lines[0]];
    if (grid.column_at(line.box.x0) != grid.column_at(line.box.x1) ||
        line.band().y0 - above.band().y1 > kSetApart * h)
      break;
  }
  std::vector<bool> out(inside.size(), false);
  for (size_t i = 0; i < levels.size(); ++i) {
    for (const size_t line : levels[i].lines) out[line] = i < first || i >= end;
  }
  std::vector<LetterLine> kept;
  for (size_t i = 0; i < inside.size(); ++i)
    (out[i] ? outside : kept).push_back(std::move(inside[i]));
  const bool changed = kept.size() < inside.size();
  inside = std::move(kept);
  if (changed) grid = grid_of(maps, inside, rules, h);
}

// Titles with leaders to their pages are lines that are read across, however well they align. Of
// two columns, a few leaders tell it: worn ones are not all known for such.
bool mostly_led(const Grid& grid, const std::vector<LetterLine>& lines) {
  const auto led = static_cast<double>(std::count_if(
      lines.begin(), lines.end(), [](const LetterLine& line) { return line.has_leader; }));
  const double least = grid.columns() == 2 ? kLedOfTwo : kMostlyLed;
  return led > least * static_cast<double>(lines.size());
}

// Rows above the first rule, when most rows below have none between them.
int head_rows(const Grid& grid) {
  const auto count = std::count(grid.ruled.begin(), grid.ruled.end(), true);
  for (int r = 0; r < std::min<int>(kMostHeadRows, grid.rows() - 1); ++r) {
    if (grid.ruled[static_cast<size_t>(r)]) return 2 * count < grid.rows() ? r + 1 : 0;
  }
  return 0;
}

// Choices, each with a box to tick before it.
bool mostly_ticked(const std::vector<LetterLine>& lines, const std::vector<Component>& tick_boxes,
                   double text_height) {
  const auto ticked = [&](const LetterLine& line) {
    return std::any_of(tick_boxes.begin(), tick_boxes.end(), [&](const Component& box) {
      return overlap(box.y0, box.y1, line.box.y0, line.box.y1) > 0 &&
             std::abs(line.box.x0 - box.x1) < kTickAway * text_height;
    });
  };
  return 2 * std::count_if(lines.begin(), lines.end(), ticked) > static_cast<long>(lines.size());
}

// An empty cell is part of its neighbour where the rule between them is missing.
void grow_over_openings(const Grid& grid, std::vector<Cell>& cells) {
  for (size_t i = 1; i < cells.size();) {
    Cell &a = cells[i - 1], &b = cells[i];
    const auto gap = static_cast<size_t>(std::max(0, b.column - 1));
    const bool empty = a.lines.empty() || b.lines.empty();
    if (a.row != b.row || !empty || !grid.open[gap][static_cast<size_t>(b.row)]) {
      ++i;
      continue;
    }
    a.columns += b.columns;
    a.lines.insert(a.lines.end(), b.lines.begin(), b.lines.end());
    cells.erase(cells.begin() + static_cast<long>(i));
  }
}

// A cell that stands for several rows: no rule between them in its column, though there is one in
// others, and nothing else printed there.
void grow_over_rows(const Grid& grid, std::vector<Cell>& cells) {
  for (int column = 0; column < grid.columns(); ++column) {
    for (int row = 0; row < grid.rows();) {
      int end = row + 1;
      while (end < grid.rows() &&
             grid.joined[static_cast<size_t>(end) - 1][static_cast<size_t>(column)])
        ++end;
      const auto in_run = [&](const Cell& c) {
        return c.column == column && c.columns == 1 && c.row >= row && c.row < end;
      };
      const auto printed = [&](const Cell& c) { return in_run(c) && !c.lines.empty(); };
      if (end > row + 1 && std::count_if(cells.begin(), cells.end(), in_run) == end - row &&
          std::count_if(cells.begin(), cells.end(), printed) == 1) {
        Cell tall = *std::find_if(cells.begin(), cells.end(), printed);
        tall.row = row;
        tall.rows = end - row;
        cells.erase(std::remove_if(cells.begin(), cells.end(), in_run), cells.end());
        cells.push_back(tall);
      }
      row = end;
    }
  }
  std::sort(cells.begin(), cells.end(), [](const Cell& a, const Cell& b) {
    return std::make_pair(a.row, a.column) < std::make_pair(b.row, b.column);
  });
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

// Rules and wide cells part what the network sees: pieces side by side or one below the other.
// However far apart pieces side by side are, a rule over both makes them one.
bool one_table(const Box& a, const Box& b, const std::vector<Component>& rules, double reach) {
  const double across = overlap(a.x0, a.x1, b.x0, b.x1), down = overlap(a.y0, a.y1, b.y0, b.y1);
  const double apart_x = std::max(a.x0, b.x0) - std::min(a.x1, b.x1);
  const double apart_y = std::max(a.y0, b.y0) - std::min(a.y1, b.y1);
  const Box both = united(a, b);
  const auto over_both = [&](const Component& rule) {
    return rule.y1 > both.y0 - reach && rule.y0 < both.y1 + reach &&
           overlap(rule.x0, rule.x1, both.x0, both.x1) > kOverBoth * both.width();
  };
  const bool joined = apart_x < reach || std::any_of(rules.begin(), rules.end(), over_both);
  return (down > kBeside * std::max(a.height(), b.height()) && joined) ||
         (across > kBeside * std::max(a.width(), b.width()) && apart_y < reach);
}

// Bounds of what the network sees, the largest first; those that lie in another are part of it.
std::vector<Box> seen_tables(const PageMaps& maps, const std::vector<Component>& rules,
                             double text_height) {
  std::vector<Box> seen = map_regions(maps, kTableMap, kSeen, kAround);
  for (size_t i = 0; i < seen.size(); ++i) {
    for (size_t k = 0; k < seen.size();) {
      if (k == i || !one_table(seen[i], seen[k], rules, kPiecesApart * text_height)) {
        ++k;
        continue;
      }
      seen[i] = united(seen[i], seen[k]);
      seen.erase(seen.begin() + static_cast<long>(k));
      if (k < i) --i;
      k = 0;
    }
  }
  const auto unsure = [&](const Box& box) { return maps.most(kTableMap, box) < kSure; };
  seen.erase(std::remove_if(seen.begin(), seen.end(), unsure), seen.end());
  std::sort(seen.begin(), seen.end(), [](const Box& a, const Box& b) {
    return a.width() * a.height() > b.width() * b.height();
  });
  return seen;
}

// The lines of a table, taken out of `lines`.
std::vector<LetterLine> taken_from(const Box& table, const PageMaps& maps,
                                   std::vector<LetterLine>& lines) {
  // The levelled map reaches beyond the table: what lies at its edge must be seen itself.
  const double edge = (kAround + 1) * maps.pixels_of_cell();
  const auto outside = [&](const LetterLine& line) {
    const double y = line.band().centre().y;
    const bool inner = y > table.y0 + edge && y < table.y1 - edge;
    if (y < table.y0 || y > table.y1) return true;
    const double across = overlap(line.box.x0, line.box.x1, table.x0, table.x1);
    const double seen = maps.mean(kTableMap, line.band());
    return (!inner && seen < kHardlySeen) ||
           (across < kInside * line.box.width() && (across <= 0 || seen < kSeenBeyond));
  };
  const auto first = std::stable_partition(lines.begin(), lines.end(), outside);
  std::vector<LetterLine> inside(std::make_move_iterator(first),
                                 std::make_move_iterator(lines.end()));
  lines.erase(first, lines.end());
  return inside;
}

// The table that lines make, if they do: those that are none of it go back to `lines`.
std::optional<Table> table_of(const PageMaps& maps, const Drawn& drawn, double text_height,
                              std::vector<LetterLine> inside, std::vector<LetterLine>& lines) {
  std::vector<double> heights;
  for (const LetterLine& line : inside) heights.push_back(line.band().height());
  const double band_height = heights.empty() ? text_height : median(heights);
  const std::vector<Component> near = rules_near(inside, drawn.rules, kReach * text_height);
  Grid grid = grid_of(maps, inside, near, band_height);
  trim(maps, near, band_height, grid, inside, lines);
  if (grid.rows() >= 2 && grid.columns() >= 2)
    take_rows_beyond(maps, near, band_height, grid, inside, lines);
  if (inside.size() < kFewestLines || grid.rows() < 2 || grid.columns() < 2 ||
      mostly_led(grid, inside) || !rows_stand_level(grid, inside, band_height) ||
      mostly_ticked(inside, drawn.tick_boxes, text_height)) {
    for (LetterLine& line : inside) lines.push_back(std::move(line));
    return std::nullopt;
  }
  Table table;
  table.box = grid.box;
  table.lines = std::move(inside);
  fit_to_grid(grid, band_height, table.lines);
  table.cells = cells_of(grid, table.lines, 0.5 * band_height);
  grow_over_openings(grid, table.cells);
  grow_over_rows(grid, table.cells);
  for (Cell& cell : table.cells)
    cell.box = grid.cell(cell.row, cell.column, cell.rows, cell.columns);
  const int head = head_rows(grid);
  for (Cell& cell : table.cells) cell.header = cell.row < head;
  order_lines(table.cells, table.lines);
  return table;
}

}  // namespace

std::vector<Table> tables_of(const PageMaps& maps, const Drawn& drawn, double text_height,
                             std::vector<LetterLine>& lines) {
  std::vector<Table> tables;
  for (const Box& region : seen_tables(maps, drawn.rules, text_height)) {
    std::vector<LetterLine> inside = taken_from(region, maps, lines);
    take_columns_beside(maps, text_height, inside, lines);
    for (std::vector<LetterLine>& part : tables_apart(std::move(inside), text_height)) {
      auto table = table_of(maps, drawn, text_height, std::move(part), lines);
      if (table) tables.push_back(std::move(*table));
    }
  }
  return tables;
}

void count_from_the_right(Table& table) {
  int columns = 0;
  for (const Cell& cell : table.cells) columns = std::max(columns, cell.column + cell.columns);
  for (Cell& cell : table.cells) cell.column = columns - cell.column - cell.columns;
  std::stable_sort(table.cells.begin(), table.cells.end(), [](const Cell& a, const Cell& b) {
    return std::make_pair(a.row, a.column) < std::make_pair(b.row, b.column);
  });
  order_lines(table.cells, table.lines);
}

}  // namespace burnisher::layout
