#include "layout/table_reach.h"

#include <algorithm>
#include <functional>
#include <iterator>
#include <set>

#include "base/statistics.h"
#include "layout/table_levels.h"

namespace burnisher::layout {
namespace {

constexpr double kBeside = 2.5;       // text heights from a table to a column of it
constexpr double kSeenBeside = 0.12;  // of the table map, on the mean of such a column's lines
constexpr size_t kFewestLines = 4;
constexpr double kPitch = 1.7;        // of the rows' own, to a row beyond
constexpr double kLikeHeight = 1.35;  // of the letters of the table to those of such a row
constexpr double kOver = 1;           // text heights that it may reach over the table's sides
constexpr double kInto = 0.5;         // text heights that a line may reach over a column's side
constexpr double kCellsApart = 1.2;   // text heights of white, at least
constexpr size_t kFewestCells = 2;
constexpr size_t kFewestOfHead = 3;  // over a single line
constexpr double kMostColumns = 0.6;

double pitch_of(const std::vector<Level>& levels) {
  std::vector<double> steps;
  for (size_t i = 1; i < levels.size(); ++i) steps.push_back(levels[i].y - levels[i - 1].y);
  return steps.empty() ? 0 : median(steps);
}

class RowsBeyond {
 public:
  RowsBeyond(const Grid& grid, double text_height, const std::vector<LetterLine>& inside,
             const std::vector<LetterLine>& lines)
      : grid_(grid), h_(text_height), lines_(lines) {
    std::vector<double> heights;
    for (const LetterLine& line : inside) {
      box_ = united(box_, line.box);
      heights.push_back(line.band().height());
    }
    letters_ = median(heights);
    const std::vector<Level> levels = levels_of(inside, text_height);
    pitch_ = pitch_of(levels);
    first_ = levels.front().y;
    last_ = levels.back().y;
    beyond_ = levels_of(lines, text_height);
  }

  // The lines of the next row above (below) the table, with a single line between, if need be;
  // none: it ends there.
  std::vector<size_t> next(bool above) const {
    const Level* single = nullptr;
    double at = above ? first_ : last_;
    for (size_t k = 0; k < beyond_.size(); ++k) {
      const Level& level = beyond_[above ? beyond_.size() - 1 - k : k];
      const double step = above ? at - level.y : level.y - at;
      if (step <= 0.3 * h_) continue;
      std::vector<size_t> here = near_table(level);
      if (here.empty()) continue;
      if (step > kPitch * std::max(pitch_, 1.2 * h_)) return {};
      if (is_row(here, single == nullptr ? kFewestCells : fewest_of_head())) {
        if (single != nullptr)
          for (const size_t line : near_table(*single)) here.push_back(line);
        return here;
      }
      if (!above || single != nullptr || here.size() != 1 || !within(here.front())) return {};
      single = &level;
      at = level.y;
    }
    return {};
  }

 private:
  size_t fewest_of_head() const {
    return std::max(kFewestOfHead, static_cast<size_t>(kMostColumns * grid_.columns() + 0.5));
  }

  std::vector<size_t> near_table(const Level& level) const {
    std::vector<size_t> near;
    for (const size_t line : level.lines)
      if (overlap(lines_[line].box.x0, lines_[line].box.x1, box_.x0, box_.x1) > 0)
        near.push_back(line);
    return near;
  }

  bool within(size_t line) const {
    const Box& box = lines_[line].box;
    const double height = lines_[line].band().height();
    return box.x0 > box_.x0 - kOver * h_ && box.x1 < box_.x1 + kOver * h_ &&
           height < kLikeHeight * letters_ && letters_ < kLikeHeight * height;
  }

  // Every line in columns of its own.
  bool is_row(const std::vector<size_t>& row, size_t fewest) const {
    if (row.size() < kFewestCells) return false;  // a title
    std::set<int> columns;
    for (const size_t line : row) {
      const Box& box = lines_[line].box;
      const int first = grid_.column_at(std::min(box.x0 + kInto * h_, box.centre().x)),
                last = grid_.column_at(std::max(box.x1 - kInto * h_, box.centre().x));
      if (!within(line)) return false;
      for (int column = first; column <= last; ++column) {
        if (!columns.insert(column).second || (column < last && !white_at(line, column)))
          return false;
      }
    }
    return columns.size() >= fewest;
  }

  // Whether two cells of one line have white between them where the gap after `column` is.
  bool white_at(size_t line, int column) const {
    const ColumnGap& gap = grid_.gaps[static_cast<size_t>(column)];
    const std::vector<Component>& letters = lines_[line].letters;
    for (size_t i = 1; i < letters.size(); ++i) {
      const double from = letters[i - 1].x1, to = letters[i].x0;
      if (to - from > kCellsApart * h_ && overlap(from, to, gap.from, gap.to) > 0) return true;
    }
    return false;
  }

  const Grid& grid_;
  double h_;
  const std::vector<LetterLine>& lines_;
  Box box_;
  double letters_ = 0, pitch_ = 0, first_ = 0, last_ = 0;
  std::vector<Level> beyond_;
};

}  // namespace

// Lines beside a table that stand level with most of its rows and look like a table all in all are
// columns of it, which the map shows too faintly.
void take_columns_beside(const PageMaps& maps, double text_height, std::vector<LetterLine>& inside,
                         std::vector<LetterLine>& lines) {
  for (bool grown = !inside.empty(); grown;) {
    grown = false;
    Box box;
    std::vector<Box> rows;
    for (const LetterLine& line : inside) {
      box = united(box, line.box);
      rows.push_back(line.band());
    }
    const auto beside = [&](const LetterLine& line) {
      const double apart = std::max(line.box.x0 - box.x1, box.x0 - line.box.x1);
      if (apart >= kBeside * text_height) return false;
      const Box band = line.band();
      return std::any_of(rows.begin(), rows.end(), [&](const Box& row) {
        return overlap(band.y0, band.y1, row.y0, row.y1) >
               0.5 * std::min(band.height(), row.height());
      });
    };
    const auto first = std::stable_partition(lines.begin(), lines.end(), std::not_fn(beside));
    double seen = 0;
    for (auto line = first; line != lines.end(); ++line) seen += maps.mean(kTableMap, line->band());
    const auto count = static_cast<size_t>(lines.end() - first);
    const std::vector<Level> levels = levels_of(inside, text_height);
    if (count < kFewestLines || 2 * count < levels.size() ||
        seen < kSeenBeside * static_cast<double>(count))
      return;
    std::move(first, lines.end(), std::back_inserter(inside));
    lines.erase(first, lines.end());
    grown = true;
  }
}

void take_rows_beyond(const PageMaps& maps, const std::vector<Component>& rules, double band_height,
                      Grid& grid, std::vector<LetterLine>& inside, std::vector<LetterLine>& lines) {
  for (const bool above : {true, false}) {
    for (;;) {
      const std::vector<size_t> row = RowsBeyond(grid, band_height, inside, lines).next(above);
      if (row.empty()) break;
      std::vector<LetterLine> wider = inside, left;
      for (size_t i = 0; i < lines.size(); ++i) {
        const bool taken = std::find(row.begin(), row.end(), i) != row.end();
        (taken ? wider : left).push_back(lines[i]);
      }
      Grid larger = grid_of(maps, wider, rules, band_height);
      if (larger.columns() < grid.columns() || larger.rows() < grid.rows()) break;
      grid = std::move(larger);
      inside = std::move(wider);
      lines = std::move(left);
    }
  }
}

}  // namespace burnisher::layout
