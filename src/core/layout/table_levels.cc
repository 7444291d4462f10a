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
// Wrapping, by `pages_bench FACES TEXTS painted 60 "" table`. Shares.
constexpr double kMostlyWrapped = 0.8;
constexpr double kFewestWrapped = 6;   // pairs of lines
constexpr double kMoreWrapped = 0.25;  // than lines that begin a row
constexpr double kOften = 0.2;         // of the levels
constexpr double kSeveralWords = 0.3;  // of a column's lines

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

namespace {

using Table = std::vector<std::vector<Filled>>;  // by level and column

size_t filled(const Table& table, size_t column) {
  return static_cast<size_t>(std::count_if(
      table.begin(), table.end(), [&](const auto& level) { return level[column].width > 0; }));
}

bool is_sparse(const Table& table, size_t column) {
  const size_t count = filled(table, column);
  return count >= 2 && count < table.size();
}

// Levels in which the leader has nothing, and all else stands below something; of more columns than
// `most` none does.
std::vector<bool> going_on(const Table& table, size_t leader, size_t most) {
  std::vector<bool> goes_on(table.size(), false);
  for (size_t i = 1; i < table.size(); ++i) {
    size_t here = 0, above = 0;
    for (size_t c = 0; c < table[i].size(); ++c) {
      here += table[i][c].width > 0;
      above += table[i][c].width > 0 && table[i - 1][c].width > 0;
    }
    goes_on[i] = table[i][leader].width <= 0 && here == above && here <= most;
  }
  return goes_on;
}

// The column that most others agree with, and how many do.
std::pair<size_t, size_t> most_followed(const Table& table) {
  const size_t columns = table.front().size();
  const auto both = [&](size_t a, size_t b) {
    return static_cast<double>(std::count_if(table.begin(), table.end(), [&](const auto& level) {
      return level[a].width > 0 && level[b].width > 0;
    }));
  };
  size_t leader = 0, followers = 0;
  for (size_t a = 0; a < columns; ++a) {
    size_t agree = 0;
    for (size_t b = 0; b < columns; ++b)
      agree += b != a && both(a, b) > kAgree * std::max(both(a, a), both(b, b));
    if (is_sparse(table, a) && agree > 0 &&
        (agree > followers || (agree == followers && both(a, a) < both(leader, leader))))
      leader = a, followers = agree;
  }
  return {leader, followers};
}

// What goes on stands nearer to what it goes on with than rows do; empty where it does not.
std::vector<bool> told_by_distance(const Table& table, const std::vector<Level>& at) {
  const auto [leader, followers] = most_followed(table);
  if (followers == 0) return {};
  std::vector<bool> goes_on = going_on(table, leader, table.front().size() / 2);
  std::vector<double> distances, of_rows;
  for (size_t i = 1; i < table.size(); ++i)
    (goes_on[i] ? distances : of_rows).push_back(at[i].y - at[i - 1].y);
  if (distances.empty() || of_rows.empty() || median(distances) >= kNearer * median(of_rows))
    return {};
  const double tight = kTight * median(distances);
  for (size_t i = 1; i < table.size(); ++i)
    goes_on[i] = goes_on[i] && at[i].y - at[i - 1].y < tight;
  return goes_on;
}

// In a table that wraps, many levels go on; in others a few look as if they did.
bool often(const std::vector<bool>& goes_on) {
  const auto count = std::count(goes_on.begin(), goes_on.end(), true);
  return static_cast<double>(count) >= kOften * static_cast<double>(goes_on.size());
}

// Of pairs of lines one below the other in one column, how many were wrapped: the lower one's first
// word had no room on the upper one.
struct Pairs {
  double all = 0, wrapped = 0;
  double share() const { return all > 0 ? wrapped / all : 0; }
};

struct Wrapping {
  Pairs on, anew;  // of lines that go on, and of those that begin a row
};

Wrapping wrapping_of(const Table& table, const std::vector<bool>& goes_on) {
  Wrapping found;
  for (size_t c = 0; c < table.front().size(); ++c) {
    double full = 0;
    bool wraps = false;
    for (size_t i = 0; i < table.size(); ++i) {
      full = std::max(full, table[i][c].width);
      wraps = wraps || (goes_on[i] && table[i][c].width > 0);
    }
    for (size_t i = 1; wraps && i < table.size(); ++i) {
      const Filled &above = table[i - 1][c], &here = table[i][c];
      if (above.width <= 0 || here.width <= 0) continue;
      Pairs& pairs = goes_on[i] ? found.on : found.anew;
      pairs.all += 1;
      pairs.wrapped += above.width + here.first_word > full;
    }
  }
  return found;
}

// Of a column of single words or figures nothing is wrapped.
bool has_several_words(const Table& table, size_t column) {
  size_t several = 0, lines = 0;
  for (const auto& level : table) {
    lines += level[column].width > 0;
    several += level[column].width > level[column].first_word;
  }
  return static_cast<double>(several) >= kSeveralWords * static_cast<double>(lines);
}

// The levels that go on if the leader tells, in columns that can wrap.
std::vector<bool> wrapping_on(const Table& table, size_t leader) {
  std::vector<bool> goes_on =
      going_on(table, leader, std::max<size_t>(1, table.front().size() / 2));
  for (size_t c = 0; c < table.front().size(); ++c) {
    if (has_several_words(table, c)) continue;
    for (size_t i = 0; i < table.size(); ++i)
      if (table[i][c].width > 0) goes_on[i] = false;
  }
  return goes_on;
}

std::vector<bool> told_by_wrapping(const Table& table) {
  std::vector<bool> best;
  double most = kMoreWrapped;
  for (size_t leader = 0; leader < table.front().size(); ++leader) {
    if (!is_sparse(table, leader)) continue;
    std::vector<bool> goes_on = wrapping_on(table, leader);
    if (!often(goes_on)) continue;
    const Wrapping found = wrapping_of(table, goes_on);
    const double more = found.on.share() - found.anew.share();
    if (found.on.all < kFewestWrapped || found.on.share() < kMostlyWrapped || more <= most)
      continue;
    most = more;
    best = std::move(goes_on);
  }
  return best;
}

// A line beside nothing in the first column, and in few others, is no row of its own. (Of two
// columns the second alone is: a sum on a bill; and so are sums under several, which were not
// wrapped.)
std::vector<bool> told_by_first_column(const Table& table) {
  if (table.front().size() < 3 || !is_sparse(table, 0)) return {};
  std::vector<bool> goes_on = wrapping_on(table, 0);
  if (!often(goes_on) || wrapping_of(table, goes_on).on.share() < kMostlyWrapped) return {};
  return goes_on;
}

}  // namespace

std::vector<bool> levels_that_go_on(const Table& table, const std::vector<Level>& at) {
  if (table.empty()) return {};
  std::vector<bool> goes_on = told_by_distance(table, at);
  if (goes_on.empty()) goes_on = told_by_wrapping(table);
  if (goes_on.empty()) goes_on = told_by_first_column(table);
  // Columns that agree with each other, though nothing goes on: each level is a row.
  if (goes_on.empty() && most_followed(table).second > 0) goes_on.assign(table.size(), false);
  return goes_on;
}

}  // namespace burnisher::layout
