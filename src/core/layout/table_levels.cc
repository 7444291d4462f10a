#include "layout/table_levels.h"

#include <algorithm>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr double kSameLevel = 0.6;  // text heights between the middles of lines in one row of type
constexpr double kTight = 1.25;     // of the usual distance of lines in a row of several
// Shares.
constexpr double kNearer = 0.9;  // of the distance of rows, that of lines in one row
constexpr double kAgree = 0.8;   // of two columns' levels, that both fill

}  // namespace

std::vector<Level> levels_of(const std::vector<LetterLine>& lines, double text_height) {
  std::vector<size_t> order(lines.size());
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  const auto middle = [&](size_t i) { return lines[i].band().centre().y; };
  std::sort(order.begin(), order.end(), [&](size_t a, size_t b) { return middle(a) < middle(b); });
  std::vector<Level> levels;
  for (const size_t i : order) {
    const double y = middle(i);
    if (levels.empty() || y - levels.back().y > kSameLevel * text_height) levels.push_back({y, {}});
    Level& level = levels.back();
    level.lines.push_back(i);
    level.y += (y - level.y) / static_cast<double>(level.lines.size());
  }
  return levels;
}

std::vector<bool> levels_that_go_on(const std::vector<std::vector<bool>>& filled,
                                    const std::vector<Level>& at) {
  const size_t levels = filled.size(), columns = levels == 0 ? 0 : filled.front().size();
  const auto is_filled = [&](size_t level, size_t column) { return filled[level][column]; };
  const auto count = [&](size_t a, size_t b) {  // levels that both columns fill
    size_t both = 0;
    for (size_t i = 0; i < levels; ++i) both += is_filled(i, a) && is_filled(i, b);
    return static_cast<double>(both);
  };
  // The column that most others agree with.
  size_t leader = 0, followers = 0;
  for (size_t a = 0; a < columns; ++a) {
    size_t agree = 0;
    for (size_t b = 0; b < columns; ++b)
      agree += b != a && count(a, b) > kAgree * std::max(count(a, a), count(b, b));
    const bool sparse = count(a, a) >= 2 && count(a, a) < static_cast<double>(levels);
    if (sparse && agree > 0 &&
        (agree > followers || (agree == followers && count(a, a) < count(leader, leader))))
      leader = a, followers = agree;
  }
  if (followers == 0) return {};
  std::vector<bool> goes_on(levels, false);
  std::vector<double> distances, of_rows;
  for (size_t i = 1; i < levels; ++i) {
    size_t here = 0, above = 0;
    for (size_t c = 0; c < columns; ++c) {
      here += is_filled(i, c);
      above += is_filled(i, c) && is_filled(i - 1, c);
    }
    goes_on[i] = !is_filled(i, leader) && here == above && 2 * here <= columns;
    (goes_on[i] ? distances : of_rows).push_back(at[i].y - at[i - 1].y);
  }
  // What stands no nearer than rows do is a row.
  const bool nearer =
      !distances.empty() && !of_rows.empty() && median(distances) < kNearer * median(of_rows);
  const double tight = nearer ? kTight * median(distances) : 0;
  for (size_t i = 1; i < levels; ++i) goes_on[i] = goes_on[i] && at[i].y - at[i - 1].y < tight;
  return goes_on;
}

}  // namespace burnisher::layout
