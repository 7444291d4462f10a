#include "layout/table_parts.h"

#include <algorithm>
#include <iterator>
#include <optional>

#include "base/statistics.h"
#include "layout/table_grid.h"
#include "layout/table_levels.h"

namespace burnisher::layout {
namespace {

// By `pages_bench FACES TEXTS painted 60 "" table`.
constexpr double kOfRows = 0.85;       // quantile of the distances of levels: of those between rows
constexpr double kMoreWhite = 1.15;    // of that
constexpr size_t kFewestLevels = 2;    // of a part
constexpr double kPrintedOver = 0.4;   // of the levels, in which a gap of the other part has print
constexpr int kFewestClashes = 2;      // gaps of either part that the other prints over
constexpr double kAligned = 0.6;       // text heights between the same edge of two columns
constexpr double kMostAligned = 0.55;  // of the columns of tables that have nothing in common
// Of tables side by side.
constexpr size_t kFewestHeadings = 2;
constexpr double kLarger = 1.3;           // than the usual line, a heading
constexpr double kMostOverGutter = 0.03;  // of the lines
constexpr size_t kFewestToAlign = 3;      // levels, and columns, of either

std::vector<LetterLine> lines_on(const std::vector<LetterLine>& lines,
                                 const std::vector<Level>& levels, size_t from, size_t to) {
  std::vector<LetterLine> own;
  for (size_t i = from; i < to; ++i)
    for (const size_t line : levels[i].lines) own.push_back(lines[line]);
  return own;
}

// Gaps that so many of the lines go over.
int printed_over(const std::vector<ColumnGap>& gaps, const std::vector<LetterLine>& lines,
                 size_t levels, double h) {
  const double least = std::max(2.0, kPrintedOver * static_cast<double>(levels));
  return static_cast<int>(std::count_if(gaps.begin(), gaps.end(), [&](const ColumnGap& gap) {
    const auto over = std::count_if(lines.begin(), lines.end(), [&](const LetterLine& line) {
      return is_printed_over(line, gap, h);
    });
    return static_cast<double>(over) >= least;
  }));
}

// The usual edges of a column's lines.
struct Edges {
  double left = 0, right = 0;
};

std::vector<Edges> edges_of(const std::vector<LetterLine>& lines,
                            const std::vector<ColumnGap>& gaps) {
  std::vector<std::vector<double>> lefts(gaps.size() + 1), rights(gaps.size() + 1);
  for (const LetterLine& line : lines) {
    const double x = line.box.centre().x;
    const auto column = static_cast<size_t>(std::count_if(
        gaps.begin(), gaps.end(), [&](const ColumnGap& gap) { return x > gap.middle(); }));
    lefts[column].push_back(line.box.x0);
    rights[column].push_back(line.box.x1);
  }
  std::vector<Edges> edges;
  for (size_t c = 0; c < lefts.size(); ++c)
    if (!lefts[c].empty()) edges.push_back({median(lefts[c]), median(rights[c])});
  return edges;
}

// Whether columns of one table go on in the other: left-aligned, right-aligned or centred.
bool align(const std::vector<Edges>& upper, const std::vector<Edges>& lower, double h) {
  const auto& fewer = upper.size() < lower.size() ? upper : lower;
  const auto& more = upper.size() < lower.size() ? lower : upper;
  const auto near = [&](double a, double b) { return std::abs(a - b) < kAligned * h; };
  const auto aligned = std::count_if(fewer.begin(), fewer.end(), [&](const Edges& a) {
    return std::any_of(more.begin(), more.end(), [&](const Edges& b) {
      return near(a.left, b.left) || near(a.right, b.right) ||
             near((a.left + a.right) / 2, (b.left + b.right) / 2);
    });
  });
  return static_cast<double>(aligned) > kMostAligned * static_cast<double>(fewer.size());
}

// How little two parts have in common: gaps of either that the other prints over, and whether no
// columns align.
int clashes_of(const std::vector<LetterLine>& upper, size_t upper_levels,
               const std::vector<LetterLine>& lower, size_t lower_levels, double h) {
  const std::vector<ColumnGap> above = column_gaps(upper, h), below = column_gaps(lower, h);
  int clashes =
      printed_over(above, lower, lower_levels, h) + printed_over(below, upper, upper_levels, h);
  const std::vector<Edges> a = edges_of(upper, above), b = edges_of(lower, below);
  if (std::min({upper_levels, lower_levels, a.size(), b.size()}) >= kFewestToAlign &&
      !align(a, b, h))
    clashes += kFewestClashes;
  return clashes;
}

// Where the columns clash most; 0: nowhere.
size_t cut_in(const std::vector<LetterLine>& lines, const std::vector<Level>& levels, double h) {
  std::vector<double> distances;
  for (size_t i = 1; i < levels.size(); ++i) distances.push_back(levels[i].y - levels[i - 1].y);
  if (distances.empty()) return 0;
  std::sort(distances.begin(), distances.end());
  const double usual =
      distances[static_cast<size_t>(kOfRows * static_cast<double>(distances.size()))];
  size_t best = 0;
  int most = kFewestClashes - 1;
  for (size_t i = kFewestLevels; i + kFewestLevels <= levels.size(); ++i) {
    if (levels[i].y - levels[i - 1].y < kMoreWhite * usual) continue;
    const std::vector<LetterLine> upper = lines_on(lines, levels, 0, i),
                                  lower = lines_on(lines, levels, i, levels.size());
    const int clashes = clashes_of(upper, i, lower, levels.size() - i, h);
    if (clashes <= most) continue;
    most = clashes;
    best = i;
  }
  return best;
}

// From the top.
std::vector<std::vector<LetterLine>> stacked_tables(std::vector<LetterLine> lines,
                                                    double text_height) {
  const std::vector<Level> levels = levels_of(lines, text_height);
  const size_t cut = cut_in(lines, levels, text_height);
  std::vector<std::vector<LetterLine>> parts;
  if (cut == 0) {
    parts.push_back(std::move(lines));
    return parts;
  }
  parts = stacked_tables(lines_on(lines, levels, 0, cut), text_height);
  std::vector<std::vector<LetterLine>> rest =
      stacked_tables(lines_on(lines, levels, cut, levels.size()), text_height);
  parts.insert(parts.end(), std::make_move_iterator(rest.begin()),
               std::make_move_iterator(rest.end()));
  return parts;
}

// The heights of lines that stand alone in their part and are larger than the rest.
std::vector<double> heights_of_headings(const std::vector<LetterLine>& lines, double h) {
  std::vector<double> sizes, heights;
  for (const LetterLine& line : lines) sizes.push_back(line.band().height());
  // In a single column every line stands alone.
  if (sizes.empty() || column_gaps(lines, h).empty()) return heights;
  const double least = kLarger * median(sizes);
  for (const Level& level : levels_of(lines, h)) {
    if (level.lines.size() == 1 && lines[level.lines.front()].band().height() > least)
      heights.push_back(level.y);
  }
  return heights;
}

// Those of `heights` at which `others` has none.
size_t of_their_own(const std::vector<double>& heights, const std::vector<double>& others,
                    double h) {
  return static_cast<size_t>(std::count_if(heights.begin(), heights.end(), [&](double y) {
    return std::none_of(others.begin(), others.end(),
                        [&](double other) { return std::abs(y - other) < h; });
  }));
}

// The gap between two tables side by side; nothing where there is none.
std::optional<double> gutter_in(const std::vector<LetterLine>& lines, double h) {
  for (const ColumnGap& gap : column_gaps(lines, h)) {
    std::vector<LetterLine> left, right;
    size_t over = 0;
    for (const LetterLine& line : lines) {
      over += is_printed_over(line, gap, h);
      (line.box.centre().x < gap.middle() ? left : right).push_back(line);
    }
    if (static_cast<double>(over) > kMostOverGutter * static_cast<double>(lines.size())) continue;
    const std::vector<double> a = heights_of_headings(left, h), b = heights_of_headings(right, h);
    if (of_their_own(a, b, h) >= kFewestHeadings && of_their_own(b, a, h) >= kFewestHeadings)
      return gap.middle();
  }
  return std::nullopt;
}

}  // namespace

std::vector<std::vector<LetterLine>> tables_apart(std::vector<LetterLine> lines,
                                                  double text_height) {
  std::vector<std::vector<LetterLine>> parts;
  for (std::vector<LetterLine>& part : stacked_tables(std::move(lines), text_height)) {
    const auto gutter = gutter_in(part, text_height);
    if (!gutter) {
      parts.push_back(std::move(part));
      continue;
    }
    std::vector<LetterLine> sides[2];
    for (LetterLine& line : part) sides[line.box.centre().x > *gutter].push_back(std::move(line));
    for (std::vector<LetterLine>& side : sides) {
      for (std::vector<LetterLine>& piece : tables_apart(std::move(side), text_height))
        parts.push_back(std::move(piece));
    }
  }
  return parts;
}

}  // namespace burnisher::layout
