#include "layout/level_rows.h"

#include <cmath>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

// In text heights.
constexpr double kBesideLine = 1.5;    // half the usual distance of lines
constexpr double kLevel = 0.25;        // between lines of one row
constexpr double kMostlyLevel = 0.6;   // of the lines with others beside them
constexpr size_t kLinesOfSlope = 9;    // near a place, that say how lines run there
constexpr size_t kLettersOfSlope = 4;  // of a line, to see how it runs

// How a line runs: y by x.
struct Slope {
  double y = 0, slope = 0, length = 0;
};

std::vector<Slope> slopes_of(const std::vector<LetterLine>& lines) {
  std::vector<Slope> slopes;
  for (const LetterLine& line : lines) {
    const size_t count = line.letters.size();
    if (count < kLettersOfSlope) continue;
    std::vector<double> x[2], y[2];
    for (size_t i = 0; i < count; ++i) {
      x[i >= count / 2].push_back(line.letters[i].box().centre().x);
      y[i >= count / 2].push_back(line.letters[i].y1);
    }
    const double run = std::max(1.0, median(x[1]) - median(x[0]));
    slopes.push_back({line.band().y1, (median(y[1]) - median(y[0])) / run, run});
  }
  return slopes;
}

// Of the lines nearest to a height, the longer a line the surer: in a photograph it changes from
// top to foot.
double slope_at(double y, std::vector<Slope> slopes) {
  std::sort(slopes.begin(), slopes.end(),
            [&](const Slope& a, const Slope& b) { return std::abs(a.y - y) < std::abs(b.y - y); });
  slopes.resize(std::min(slopes.size(), kLinesOfSlope));
  std::vector<std::pair<double, double>> weighted;
  for (const Slope& s : slopes) weighted.push_back({s.slope, s.length});
  return weighted_median(weighted);
}

}  // namespace

bool rows_stand_level(const Grid& grid, const std::vector<LetterLine>& lines, double band_height) {
  if (2 * std::count(grid.ruled.begin(), grid.ruled.end(), true) >= grid.rows() - 1) return true;
  const std::vector<Slope> slopes = slopes_of(lines);
  int level = 0, beside = 0;
  for (const LetterLine& line : lines) {
    const int column = grid.column_at(line.box.centre().x);
    const double slope = slope_at(line.band().y1, slopes);
    const auto foot = [&](const LetterLine& of) {
      return of.band().y1 - slope * of.box.centre().x;
    };
    double nearest = 1e18;
    for (const LetterLine& other : lines) {
      if (std::abs(grid.column_at(other.box.centre().x) - column) != 1) continue;
      nearest = std::min(nearest, std::abs(foot(other) - foot(line)));
    }
    if (nearest > kBesideLine * band_height) continue;
    ++beside;
    level += nearest < kLevel * band_height;
  }
  return level >= kMostlyLevel * beside;
}

}  // namespace burnisher::layout
