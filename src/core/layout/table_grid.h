// The grid under the lines of one table.
#pragma once

#include <vector>

#include "layout/lines.h"

namespace burnisher::layout {

// What stands between two columns in all rows that show it.
struct ColumnGap {
  double from = 0, to = 0;
  double middle() const { return (from + to) / 2; }
};

struct Grid {
  Box box;
  std::vector<ColumnGap> gaps;  // between columns, left to right
  std::vector<double> borders;  // between rows, top to bottom
  std::vector<bool> ruled;      // of each border: whether a rule is drawn there
  // By gap and row: the gap has a rule in most rows, but none in this one.
  std::vector<std::vector<bool>> open;
  // By border and column: the border is ruled in most columns, but not in this one.
  std::vector<std::vector<bool>> joined;

  int columns() const { return static_cast<int>(gaps.size()) + 1; }
  int rows() const { return static_cast<int>(borders.size()) + 1; }
  int column_at(double x) const;
  int row_at(double y) const;
  Box cell(int row, int column, int rows = 1, int columns = 1) const;
};

// `band_height` below: the usual height of the lines' x-height bands, pixels.

// What most lines leave free, row after row, from the left.
std::vector<ColumnGap> column_gaps(const std::vector<LetterLine>& lines, double band_height);
// Whether a line reaches over the gap without white of its own there.
bool is_printed_over(const LetterLine& line, const ColumnGap& gap, double band_height);

// `rules`: those inside the table's box or along it.
Grid grid_of(const PageMaps& maps, const std::vector<LetterLine>& lines,
             const std::vector<Component>& rules, double band_height);

// Lines that reach over a gap in which they have white of their own are parted there, and lines
// that stand on one level in one cell are joined.
void fit_to_grid(const Grid& grid, double band_height, std::vector<LetterLine>& lines);

}  // namespace burnisher::layout
