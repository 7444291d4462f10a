#include "layout/table_grid.h"

#include <cmath>

#include "layout/table_levels.h"

namespace burnisher::layout {
namespace {

// In text heights.
constexpr double kInto = 0.5;        // that a line may reach into the next column
constexpr double kOneBorder = 0.9;   // borders nearer to each other are one
constexpr double kLeastWhite = 0.6;  // where a line may be parted: more than between letters
constexpr double kWordSpace = 0.4;   // the least between words
constexpr double kWideWhite = 2.0;   // in a line: more than between words
constexpr double kLeastRow = 1.8;    // height of an empty row
// Of the maps' 0-1.
constexpr double kBorderSeen = 0.35;
constexpr double kRowLooksWhole = 0.25;  // added where most columns begin anew
// Shares.
constexpr double kRuledWidth = 0.5;   // of the table's width, of a rule that parts rows
constexpr double kRuledHeight = 0.3;  // of its height, of one that parts columns
constexpr double kBare = 0.3;         // of a row's height, less of a rule is none
constexpr double kWhole = 0.6;        // of the columns
constexpr double kMostInside = 0.75;  // of the lines across a gap, with white of their own there
constexpr size_t kFewestInside = 3;   // such lines
constexpr double kMostCut = 0.25;     // of the lines' width at its height, that a border may cut

struct White {
  double from, to;
};

std::vector<White> whites_of(const std::vector<LetterLine>& lines,
                             const std::vector<Level>& levels) {
  std::vector<White> whites;
  for (const Level& level : levels) {
    std::vector<Box> boxes;
    for (const size_t i : level.lines) boxes.push_back(lines[i].box);
    std::sort(boxes.begin(), boxes.end(), [](const Box& a, const Box& b) { return a.x0 < b.x0; });
    for (size_t i = 1; i < boxes.size(); ++i) {
      if (boxes[i].x0 > boxes[i - 1].x1) whites.push_back({boxes[i - 1].x1, boxes[i].x0});
    }
  }
  return whites;
}

// The middle of a white in the line that lies in the gap; nothing where it is printed over.
std::optional<double> white_in(const LetterLine& line, const ColumnGap& gap, double h) {
  double end = line.letters.front().x1;
  for (const Component& c : line.letters) {
    const double from = std::max(end, gap.from - h), to = std::min<double>(c.x0, gap.to + h);
    if (c.x0 - end > kLeastWhite * h && to > from && end > line.box.x0) return (end + c.x0) / 2.0;
    end = std::max<double>(end, c.x1);
  }
  return std::nullopt;
}

}  // namespace

bool is_printed_over(const LetterLine& line, const ColumnGap& gap, double h) {
  return line.box.x0 < gap.middle() - kInto * h && line.box.x1 > gap.middle() + kInto * h &&
         !white_in(line, gap, h);
}

namespace {

// The place that most whites have in common, again and again, as long as fewer lines go over it.
std::vector<ColumnGap> gaps_of(std::vector<White> whites, const std::vector<LetterLine>& lines,
                               size_t levels, double h) {
  std::vector<ColumnGap> gaps;
  const size_t least = std::max<size_t>(levels > 3 ? 2 : 1, levels / 8);
  while (!whites.empty()) {
    size_t most = 0;
    double at = 0;
    for (const White& w : whites) {
      const double x = w.to - 1e-6;  // some best place is just before the end of a white
      const auto count = static_cast<size_t>(std::count_if(
          whites.begin(), whites.end(), [&](const White& o) { return o.from <= x && x < o.to; }));
      if (count > most) {
        most = count;
        at = x;
      }
    }
    if (most < least) break;
    ColumnGap gap{-1e18, 1e18};
    for (const White& w : whites) {
      if (w.from > at || at >= w.to) continue;
      gap.from = std::max(gap.from, w.from);
      gap.to = std::min(gap.to, w.to);
    }
    const auto over =
        static_cast<size_t>(std::count_if(lines.begin(), lines.end(), [&](const LetterLine& l) {
          return is_printed_over(l, gap, h);
        }));
    if (most > over) gaps.push_back(gap);
    whites.erase(std::remove_if(whites.begin(), whites.end(),
                                [&](const White& w) { return w.from <= at && at < w.to; }),
                 whites.end());
  }
  return gaps;
}

// White within lines: columns that stand near to each other may have been taken for one. Most lines
// at a place must have white there that is wider than between words.
void add_gaps_inside(const std::vector<LetterLine>& lines, double h, std::vector<ColumnGap>& gaps) {
  std::vector<White> whites;
  for (const LetterLine& line : lines) {
    double end = line.letters.empty() ? 0 : line.letters.front().x1;
    for (const Component& c : line.letters) {
      if (c.x0 - end > kWideWhite * h) whites.push_back({end, static_cast<double>(c.x0)});
      end = std::max<double>(end, c.x1);
    }
  }
  for (const White& white : whites) {
    ColumnGap gap{white.from, white.to};
    size_t most = 0, over = 0;
    for (const White& w : whites) {
      if (std::min(gap.to, w.to) - std::max(gap.from, w.from) < kLeastWhite * h) continue;
      gap = {std::max(gap.from, w.from), std::min(gap.to, w.to)};
      ++most;
    }
    for (const LetterLine& line : lines) over += line.box.x0 < gap.from && line.box.x1 > gap.to;
    const bool known = std::any_of(gaps.begin(), gaps.end(), [&](const ColumnGap& g) {
      return g.from < gap.to + h && g.to > gap.from - h;
    });
    if (!known && most >= kFewestInside && most >= kMostInside * static_cast<double>(over))
      gaps.push_back(gap);
  }
}

void add_ruled_gaps(const std::vector<Component>& rules, const Box& box, double h,
                    std::vector<ColumnGap>& gaps) {
  for (const Component& rule : rules) {
    const double x = rule.box().centre().x;
    if (rule.height() < rule.width() || x < box.x0 || x > box.x1 ||
        overlap(rule.y0, rule.y1, box.y0, box.y1) < kRuledHeight * box.height())
      continue;
    const bool known = std::any_of(gaps.begin(), gaps.end(), [&](const ColumnGap& g) {
      return x > g.from - kInto * h && x < g.to + kInto * h;
    });
    if (!known) gaps.push_back({x - 1, x + 1});
  }
}

struct Border {
  double y = 0;
  bool ruled = false;
};

// How much of the width of the lines at a height would be cut there.
double share_cut(const std::vector<LetterLine>& lines, double y) {
  double cut = 0, all = 0;
  for (const LetterLine& line : lines) {
    const Box band = line.band();
    if (y < line.box.y0 - band.height() || y > line.box.y1 + band.height()) continue;
    all += band.width();
    if (y > band.y0 && y < band.y1) cut += band.width();
  }
  return all > 0 ? cut / all : 0;
}

std::vector<Border> ruled_borders(const std::vector<Component>& rules, const Box& box, double h) {
  std::vector<Border> borders;
  std::vector<const Component*> level;
  for (const Component& rule : rules) {
    const double y = rule.box().centre().y;
    if (rule.width() > rule.height() && y > box.y0 && y < box.y1) level.push_back(&rule);
  }
  std::sort(level.begin(), level.end(),
            [](const Component* a, const Component* b) { return a->y0 + a->y1 < b->y0 + b->y1; });
  for (size_t i = 0; i < level.size();) {
    double covered = 0, y = 0;
    size_t k = i;
    for (; k < level.size() && level[k]->y0 - level[i]->y0 < 0.5 * h; ++k) {
      covered += overlap(level[k]->x0, level[k]->x1, box.x0, box.x1);
      y += level[k]->box().centre().y;
    }
    if (covered > kRuledWidth * box.width())
      borders.push_back({y / static_cast<double>(k - i), true});
    i = k;
  }
  return borders;
}

// Ridges of the border map right across the table.
void add_seen_borders(const PageMaps& maps, const std::vector<LetterLine>& lines, const Box& box,
                      double h, std::vector<Border>& borders) {
  const double step = 0.5 * maps.pixels_of_cell();
  std::vector<double> profile;
  for (double y = box.y0; y < box.y1; y += step)
    profile.push_back(maps.mean(kBorderMap, {box.x0, y, box.x1, y + step}));
  for (size_t i = 1; i + 1 < profile.size(); ++i) {
    if (profile[i] < kBorderSeen || profile[i] < profile[i - 1] || profile[i] <= profile[i + 1])
      continue;
    const double y = box.y0 + (static_cast<double>(i) + 0.5) * step;
    const bool known = std::any_of(borders.begin(), borders.end(), [&](const Border& b) {
      return std::abs(b.y - y) < kOneBorder * h;
    });
    if (!known && share_cut(lines, y) < kMostCut) borders.push_back({y, false});
  }
}

// Between levels that no border parts: a row that begins anew in most columns is one.
void add_borders_between_levels(const PageMaps& maps, const std::vector<LetterLine>& lines,
                                const std::vector<Level>& levels, const Grid& grid,
                                std::vector<Border>& borders) {
  for (size_t i = 1; i < levels.size(); ++i) {
    const auto parted = [&](const Border& b) { return b.y > levels[i - 1].y && b.y < levels[i].y; };
    if (std::any_of(borders.begin(), borders.end(), parted)) continue;
    std::vector<bool> filled(static_cast<size_t>(grid.columns()), false);
    double foot = -1e18, head = 1e18;
    for (const size_t k : levels[i].lines) {
      filled[static_cast<size_t>(grid.column_at(lines[k].box.centre().x))] = true;
      head = std::min(head, lines[k].band().y0);
    }
    for (const size_t k : levels[i - 1].lines) foot = std::max(foot, lines[k].band().y1);
    const auto columns = std::count(filled.begin(), filled.end(), true);
    const double whole = columns >= kWhole * grid.columns() ? kRowLooksWhole : 0;
    const double seen = maps.level_ridge(
        kBorderMap, {grid.box.x0, std::min(foot, head), grid.box.x1, std::max(foot, head) + 1});
    if (seen + whole > kBorderSeen) borders.push_back({(foot + head) / 2, false});
  }
}

// To the first white as wide as between words.
double first_word_of(const LetterLine& line, double h) {
  double end = line.box.x0;
  for (const Component& c : line.letters) {
    if (c.x0 - end > kWordSpace * h) break;
    end = std::max<double>(end, c.x1);
  }
  return end - line.box.x0;
}

std::vector<std::vector<Filled>> filled_cells(const std::vector<LetterLine>& lines,
                                              const std::vector<Level>& levels, const Grid& grid,
                                              double h) {
  std::vector<std::vector<Filled>> filled;
  for (const Level& level : levels) {
    std::vector<Filled> columns(static_cast<size_t>(grid.columns()));
    for (const size_t k : level.lines) {
      const Box& box = lines[k].box;
      for (int c = grid.column_at(box.x0); c <= grid.column_at(box.x1); ++c) {
        const Box cell = grid.cell(0, c);
        Filled& here = columns[static_cast<size_t>(c)];
        if (here.width <= 0) here.first_word = first_word_of(lines[k], h) + kWordSpace * h;
        here.width += std::max(1e-3, overlap(cell.x0, cell.x1, box.x0, box.x1));
      }
    }
    filled.push_back(std::move(columns));
  }
  return filled;
}

// Levels that go on with the row above are not parted from it, others are.
void part_rows_of_lines(const std::vector<LetterLine>& lines, const std::vector<Level>& levels,
                        const Grid& grid, double h, std::vector<Border>& borders) {
  const std::vector<bool> goes_on = levels_that_go_on(filled_cells(lines, levels, grid, h), levels);
  for (size_t i = 1; i < goes_on.size(); ++i) {
    const double above = levels[i - 1].y, below = levels[i].y;
    const auto between = [&](const Border& b) { return b.y > above && b.y < below; };
    if (goes_on[i]) {
      borders.erase(std::remove_if(borders.begin(), borders.end(),
                                   [&](const Border& b) { return between(b) && !b.ruled; }),
                    borders.end());
    } else if (std::none_of(borders.begin(), borders.end(), between)) {
      borders.push_back({(above + below) / 2, false});
    }
  }
}

// The part of a line from the first letter on that lies right of `x`.
LetterLine cut_at(double x, LetterLine& line) {
  LetterLine rest = line;
  const auto right = [&](const Component& c) { return c.box().centre().x > x; };
  for (auto* parts : {&line.letters, &line.marks})
    parts->erase(std::remove_if(parts->begin(), parts->end(), right), parts->end());
  for (auto* parts : {&rest.letters, &rest.marks})
    parts->erase(std::remove_if(parts->begin(), parts->end(), std::not_fn(right)), parts->end());
  line.box = ink_of(line);
  rest.box = ink_of(rest);
  return rest;
}

// The columns that hold a whole piece of the line.
std::vector<int> columns_within(const LetterLine& line, const Grid& grid, double h) {
  std::vector<int> columns;
  for (const Component& letter : line.letters) {
    const int c = grid.column_at(letter.box().centre().x);
    if (!columns.empty() && columns.back() == c) continue;
    const auto open = [&](int gap) {
      return gap >= 0 && gap < static_cast<int>(grid.gaps.size()) &&
             is_printed_over(line, grid.gaps[static_cast<size_t>(gap)], h);
    };
    if (!open(c - 1) && !open(c)) columns.push_back(c);
  }
  return columns;
}

// Columns and rows in which nothing stands are none: rules are drawn twice, and what the network
// sees and what is drawn may lie apart. An empty row between rules is one, to be filled in.
void drop_empty(const std::vector<LetterLine>& lines, double h, Grid& grid) {
  std::vector<bool> column(grid.gaps.size() + 1, false), row(grid.borders.size() + 1, false);
  for (const LetterLine& line : lines) {
    for (const int c : columns_within(line, grid, h)) column[static_cast<size_t>(c)] = true;
    row[static_cast<size_t>(grid.row_at(line.band().centre().y))] = true;
  }
  for (size_t c = column.size(); c-- > 0 && !grid.gaps.empty();) {
    if (column[c]) continue;
    if (c > 0 && c < grid.gaps.size())
      grid.gaps[c] = {grid.gaps[c - 1].middle(), grid.gaps[c].middle()};
    grid.gaps.erase(grid.gaps.begin() + static_cast<long>(c > 0 ? c - 1 : 0));
  }
  for (size_t r = row.size(); r-- > 0 && !grid.borders.empty();) {
    const bool inner = r > 0 && r < grid.borders.size();
    const bool drawn = inner && grid.ruled[r - 1] && grid.ruled[r] &&
                       grid.borders[r] - grid.borders[r - 1] > kLeastRow * h;
    if (row[r] || drawn) continue;
    // Of its two borders the drawn one stays, else the lower.
    const size_t gone = r == 0 ? 0 : inner && grid.ruled[r - 1] && !grid.ruled[r] ? r : r - 1;
    grid.borders.erase(grid.borders.begin() + static_cast<long>(gone));
    grid.ruled.erase(grid.ruled.begin() + static_cast<long>(gone));
  }
}

// Where rules between columns are missing.
std::vector<std::vector<bool>> open_places(const std::vector<Component>& rules, const Grid& grid,
                                           double h) {
  std::vector<std::vector<bool>> open;
  for (int gap = 0; gap + 1 < grid.columns(); ++gap) {
    const ColumnGap& at = grid.gaps[static_cast<size_t>(gap)];
    std::vector<bool> bare;
    for (int row = 0; row < grid.rows(); ++row) {
      const Box cell = grid.cell(row, gap);
      double ruled = 0;
      for (const Component& rule : rules) {
        const double x = rule.box().centre().x;
        if (rule.height() > rule.width() && x > at.from - kInto * h && x < at.to + kInto * h)
          ruled += overlap(rule.y0, rule.y1, cell.y0, cell.y1);
      }
      bare.push_back(ruled < kBare * cell.height());
    }
    const auto count = std::count(bare.begin(), bare.end(), true);
    if (2 * count > grid.rows()) bare.assign(bare.size(), false);  // not a ruled gap at all
    open.push_back(std::move(bare));
  }
  return open;
}

// Where rules between rows are missing.
std::vector<std::vector<bool>> joined_places(const std::vector<Component>& rules, const Grid& grid,
                                             double h) {
  std::vector<std::vector<bool>> joined;
  for (size_t border = 0; border < grid.borders.size(); ++border) {
    std::vector<bool> bare(static_cast<size_t>(grid.columns()), false);
    for (int column = 0; grid.ruled[border] && column < grid.columns(); ++column) {
      const Box cell = grid.cell(static_cast<int>(border), column);
      double ruled = 0;
      for (const Component& rule : rules) {
        if (rule.width() > rule.height() &&
            std::abs(rule.box().centre().y - grid.borders[border]) < kInto * h)
          ruled += overlap(rule.x0, rule.x1, cell.x0, cell.x1);
      }
      bare[static_cast<size_t>(column)] = ruled < kBare * cell.width();
    }
    if (2 * std::count(bare.begin(), bare.end(), true) > grid.columns())
      bare.assign(bare.size(), false);
    joined.push_back(std::move(bare));
  }
  return joined;
}

}  // namespace

std::vector<ColumnGap> column_gaps(const std::vector<LetterLine>& lines, double band_height) {
  const std::vector<Level> levels = levels_of(lines, band_height);
  std::vector<ColumnGap> gaps =
      gaps_of(whites_of(lines, levels), lines, levels.size(), band_height);
  add_gaps_inside(lines, band_height, gaps);
  std::sort(gaps.begin(), gaps.end(),
            [](const ColumnGap& a, const ColumnGap& b) { return a.middle() < b.middle(); });
  return gaps;
}

int Grid::column_at(double x) const {
  int column = 0;
  for (const ColumnGap& gap : gaps) column += x > gap.middle();
  return column;
}

int Grid::row_at(double y) const {
  int row = 0;
  for (const double border : borders) row += y > border;
  return row;
}

Box Grid::cell(int row, int column, int high, int wide) const {
  const auto x = [&](int i) {
    return i <= 0 ? box.x0 : i >= columns() ? box.x1 : gaps[static_cast<size_t>(i) - 1].middle();
  };
  const auto y = [&](int i) {
    return i <= 0 ? box.y0 : i >= rows() ? box.y1 : borders[static_cast<size_t>(i) - 1];
  };
  return {x(column), y(row), x(column + wide), y(row + high)};
}

Grid grid_of(const PageMaps& maps, const std::vector<LetterLine>& lines,
             const std::vector<Component>& rules, double band_height) {
  Grid grid;
  for (const LetterLine& line : lines) grid.box = united(grid.box, line.box);
  const std::vector<Level> levels = levels_of(lines, band_height);
  grid.gaps = column_gaps(lines, band_height);
  add_ruled_gaps(rules, grid.box, band_height, grid.gaps);
  std::sort(grid.gaps.begin(), grid.gaps.end(),
            [](const ColumnGap& a, const ColumnGap& b) { return a.middle() < b.middle(); });
  std::vector<Border> borders = ruled_borders(rules, grid.box, band_height);
  add_seen_borders(maps, lines, grid.box, band_height, borders);
  add_borders_between_levels(maps, lines, levels, grid, borders);
  part_rows_of_lines(lines, levels, grid, band_height, borders);
  std::sort(borders.begin(), borders.end(),
            [](const Border& a, const Border& b) { return a.y < b.y; });
  for (const Border& border : borders) {
    grid.borders.push_back(border.y);
    grid.ruled.push_back(border.ruled);
  }
  drop_empty(lines, band_height, grid);
  grid.open = open_places(rules, grid, band_height);
  grid.joined = joined_places(rules, grid, band_height);
  return grid;
}

void fit_to_grid(const Grid& grid, double band_height, std::vector<LetterLine>& lines) {
  const double into = kInto * band_height;
  for (size_t i = 0; i < lines.size(); ++i) {
    for (const ColumnGap& gap : grid.gaps) {
      if (lines[i].box.x0 > gap.middle() - into || lines[i].box.x1 < gap.middle() + into) continue;
      const std::optional<double> at = white_in(lines[i], gap, band_height);
      if (!at) continue;
      LetterLine rest = cut_at(*at, lines[i]);
      lines.push_back(std::move(rest));
    }
  }
  std::sort(lines.begin(), lines.end(),
            [](const LetterLine& a, const LetterLine& b) { return a.box.x0 < b.box.x0; });
  for (size_t i = 0; i < lines.size(); ++i) {
    for (size_t k = i + 1; k < lines.size();) {
      const Box a = lines[i].band(), b = lines[k].band();
      const bool level = overlap(a.y0, a.y1, b.y0, b.y1) > 0.6 * std::min(a.height(), b.height());
      const bool one_cell =
          grid.row_at(a.centre().y) == grid.row_at(b.centre().y) &&
          grid.column_at(lines[i].box.x1 - into) == grid.column_at(lines[k].box.x0 + into);
      if (!level || !one_cell) {
        ++k;
        continue;
      }
      for (auto parts : {&LetterLine::letters, &LetterLine::marks}) {
        auto& to = lines[i].*parts;
        to.insert(to.end(), (lines[k].*parts).begin(), (lines[k].*parts).end());
      }
      lines[i].box = united(lines[i].box, lines[k].box);
      lines.erase(lines.begin() + static_cast<long>(k));
    }
    std::sort(lines[i].letters.begin(), lines[i].letters.end(),
              [](const Component& a, const Component& b) { return a.x0 < b.x0; });
  }
  join_laid_over(lines);
}

}  // namespace burnisher::layout
