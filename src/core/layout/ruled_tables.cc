#include <algorithm>
#include <cmath>
#include <numeric>

#include "layout/rule_groups.h"
#include "layout/tables.h"

namespace burnisher::layout {
namespace {

// All in text heights.
constexpr double kReach = 0.6;     // between rules that meet
constexpr double kSameLine = 0.5;  // between pieces of one rule
constexpr double kLeastRow = 0.9;
constexpr double kLeastCovered = 0.6;  // share of a cell's side that a rule must draw
constexpr size_t kMostLetters = 400;   // in one cell: more is a column of text in a frame
constexpr double kMostLines = 9;       // text heights of pitch 1.6 in a cell
constexpr int kFewestFilled = 3;       // cells

struct Segment {
  double at, from, to;  // where it lies across its direction, and its ends
};

// Rules of one direction on about the same level make one line of the grid.
struct GridLine {
  double at = 0;
  std::vector<Segment> parts;

  double covered(double from, double to) const {
    double sum = 0;
    for (const Segment& s : parts) sum += overlap(s.from, s.to, from, to);
    return sum / std::max(1.0, to - from);
  }
};

std::vector<GridLine> grid_lines(std::vector<Segment> segments, double reach) {
  std::sort(segments.begin(), segments.end(),
            [](const Segment& a, const Segment& b) { return a.at < b.at; });
  std::vector<GridLine> lines;
  for (const Segment& s : segments) {
    if (lines.empty() || s.at - lines.back().at > reach) lines.push_back({s.at, {}});
    GridLine& line = lines.back();
    line.parts.push_back(s);
    line.at = 0;
    for (const Segment& p : line.parts) line.at += p.at / static_cast<double>(line.parts.size());
  }
  return lines;
}

bool is_level(const Component& rule) {
  return rule.width() > rule.height();
}

// The elementary squares between neighbouring grid lines, united where no rule parts them.
class Squares {
 public:
  Squares(std::vector<GridLine> level, std::vector<GridLine> upright)
      : ys_(std::move(level)), xs_(std::move(upright)) {
    rows_ = static_cast<int>(ys_.size()) - 1;
    columns_ = static_cast<int>(xs_.size()) - 1;
    home_.resize(static_cast<size_t>(rows_ * columns_) + 1);
    std::iota(home_.begin(), home_.end(), 0);
    for (int r = 0; r < rows_; ++r) {
      for (int c = 0; c < columns_; ++c) unite_with_neighbours(r, c);
    }
  }

  std::vector<Cell> cells() const {
    std::vector<Cell> cells;
    std::vector<int> index(home_.size(), -1);
    for (int r = 0; r < rows_; ++r) {
      for (int c = 0; c < columns_; ++c) {
        const int home = find(place(r, c));
        if (home == find(outside())) continue;
        int& at = index[static_cast<size_t>(home)];
        if (at < 0) {
          at = static_cast<int>(cells.size());
          Cell cell;
          cell.row = r;
          cell.column = c;
          cells.push_back(cell);
        }
        Cell& cell = cells[static_cast<size_t>(at)];
        const int last_row = std::max(cell.row + cell.rows, r + 1);
        const int last_column = std::max(cell.column + cell.columns, c + 1);
        cell.column = std::min(cell.column, c);
        cell.rows = last_row - cell.row;
        cell.columns = last_column - cell.column;
      }
    }
    for (Cell& cell : cells) {
      cell.box = {x(cell.column), y(cell.row), x(cell.column + cell.columns),
                  y(cell.row + cell.rows)};
    }
    return cells;
  }

 private:
  double x(int i) const { return xs_[static_cast<size_t>(i)].at; }
  double y(int i) const { return ys_[static_cast<size_t>(i)].at; }
  int place(int r, int c) const { return r * columns_ + c; }
  int outside() const { return rows_ * columns_; }

  bool level_rule(int line, int column) const {
    return ys_[static_cast<size_t>(line)].covered(x(column), x(column + 1)) >= kLeastCovered;
  }
  bool upright_rule(int line, int row) const {
    return xs_[static_cast<size_t>(line)].covered(y(row), y(row + 1)) >= kLeastCovered;
  }

  int find(int i) const {
    while (home_[static_cast<size_t>(i)] != i) i = home_[static_cast<size_t>(i)];
    return i;
  }
  void unite(int a, int b) { home_[static_cast<size_t>(find(a))] = find(b); }

  void unite_with_neighbours(int r, int c) {
    const bool top = level_rule(r, c), bottom = level_rule(r + 1, c);
    if (c + 1 < columns_ && !upright_rule(c + 1, r)) unite(place(r, c), place(r, c + 1));
    if (r + 1 < rows_ && !bottom) unite(place(r, c), place(r + 1, c));
    // Tables are often left open at their sides; only a square without a floor or roof is outside.
    const bool open_side =
        (c == 0 && !upright_rule(0, r)) || (c + 1 == columns_ && !upright_rule(columns_, r));
    const bool open_end = (r == 0 && !top) || (r + 1 == rows_ && !bottom);
    if (open_end || (open_side && !(top && bottom))) unite(place(r, c), outside());
  }

  std::vector<GridLine> ys_, xs_;
  int rows_ = 0, columns_ = 0;
  std::vector<int> home_;
};

// Where no upright rule closes the grid, its level rules' ends do.
void close_sides(const std::vector<GridLine>& level, double reach, std::vector<GridLine>& upright) {
  double left = 1e18, right = -1e18;
  for (const GridLine& line : level) {
    for (const Segment& s : line.parts) {
      left = std::min(left, s.from);
      right = std::max(right, s.to);
    }
  }
  if (upright.empty() || upright.front().at > left + 2 * reach)
    upright.insert(upright.begin(), GridLine{left, {}});
  if (upright.back().at < right - 2 * reach) upright.push_back({right, {}});
}

std::vector<Cell> cells_of(const std::vector<Component>& group, double text_height) {
  std::vector<Segment> level, upright;
  for (const Component& c : group) {
    if (is_level(c))
      level.push_back({(c.y0 + c.y1) / 2.0, static_cast<double>(c.x0), static_cast<double>(c.x1)});
    else
      upright.push_back(
          {(c.x0 + c.x1) / 2.0, static_cast<double>(c.y0), static_cast<double>(c.y1)});
  }
  if (level.size() < 2 || upright.empty()) return {};
  std::vector<GridLine> ys = grid_lines(level, kSameLine * text_height);
  std::vector<GridLine> xs = grid_lines(upright, kSameLine * text_height);
  close_sides(ys, kReach * text_height, xs);
  if (ys.size() < 2 || xs.size() < 3) return {};
  for (size_t i = 1; i < ys.size(); ++i) {
    if (ys[i].at - ys[i - 1].at < kLeastRow * text_height && ys.size() == 2) return {};
  }
  return Squares(std::move(ys), std::move(xs)).cells();
}

// The parts whose middle lies in the box, taken out of `from`.
std::vector<Component> taken(const Box& box, std::vector<Component>& from) {
  const auto first = std::stable_partition(from.begin(), from.end(), [&](const Component& c) {
    return !box.contains(c.box().centre());
  });
  std::vector<Component> inside(first, from.end());
  from.erase(first, from.end());
  return inside;
}

size_t letters_in(const Box& box, const Sorted& sorted) {
  return static_cast<size_t>(
      std::count_if(sorted.letters.begin(), sorted.letters.end(),
                    [&](const Component& c) { return box.contains(c.box().centre()); }));
}

// The sides of cells, also where their rules are too faint to be found whole.
std::vector<Component> sides_of(const std::vector<Cell>& cells) {
  std::vector<Component> sides;
  for (const Cell& cell : cells) {
    for (const double x : {cell.box.x0, cell.box.x1}) {
      const int at = static_cast<int>(std::lround(x));
      sides.push_back(
          {at, static_cast<int>(cell.box.y0), at + 1, static_cast<int>(cell.box.y1) + 1, 0});
    }
  }
  return sides;
}

bool is_table(const std::vector<Cell>& cells, const Sorted& sorted, double text_height) {
  int filled = 0, crowded = 0;
  for (const Cell& cell : cells) {
    const size_t letters = letters_in(cell.box, sorted);
    filled += letters > 0;
    crowded += letters > kMostLetters ||
               (letters > 60 && cell.box.height() > 1.6 * kMostLines * text_height);
  }
  return filled >= kFewestFilled && crowded == 0;
}

}  // namespace

std::vector<Table> ruled_tables(const std::vector<Component>& rules, double text_height,
                                Sorted& sorted) {
  std::vector<Table> tables;
  for (const auto& group : meeting_rules(rules, kReach * text_height, Meeting::kAnyWay)) {
    const std::vector<Cell> cells = cells_of(group, text_height);
    if (!is_table(cells, sorted, text_height)) continue;
    Table table;
    table.cells = cells;
    drop_rule_bits(sides_of(cells), text_height, sorted);
    for (Cell& cell : table.cells) {
      Sorted inside;
      inside.letters = taken(cell.box, sorted.letters);
      inside.marks = taken(cell.box, sorted.marks);
      std::vector<LetterLine> lines = chain_lines(inside, {}, text_height, 1e9);
      absorb_scraps(text_height, lines);
      std::sort(lines.begin(), lines.end(), [](const LetterLine& a, const LetterLine& b) {
        return a.box.centre().y < b.box.centre().y;
      });
      for (LetterLine& line : lines) {
        cell.lines.push_back(static_cast<int>(table.lines.size()));
        table.lines.push_back(std::move(line));
      }
      table.box = united(table.box, cell.box);
    }
    tables.push_back(std::move(table));
  }
  return tables;
}

}  // namespace burnisher::layout
