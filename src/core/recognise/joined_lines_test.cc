#include "recognise/joined_lines.h"

#include <gtest/gtest.h>

#include <cmath>

namespace burnisher::recognise {
namespace {

// A page with lines of joined letters: a stroke along the baseline with gaps, uprights on it, tails
// below it and dots above.
class Joined {
 public:
  explicit Joined(int width = 1200, int height = 500) : page_(width, height) {
    for (uint8_t& v : page_.samples()) v = 235;
  }
  // `tilt`: pixels that the line rises over its length. Feet of the stroke on `y`.
  void line(double y, double alif, double tilt = 0, int from = 100, int to = 1100) {
    const double thick = alif / 6;
    for (int x = from; x < to; ++x) {
      const double base = y - tilt * (x - from) / (to - from);
      const int at = x - from;
      if (at % 70 < 58) bar(x, base - thick, base);                             // joined letters
      if (at % 140 >= 20 && at % 140 < 20 + thick) bar(x, base - alif, base);   // alif, lam
      if (at % 210 >= 120 && at % 210 < 150) bar(x, base, base + 0.55 * alif);  // tails
      if (at % 90 >= 40 && at % 90 < 45) bar(x, base - 0.8 * alif, base - 0.65 * alif);  // dots
    }
  }
  void rule(double y) {
    for (int x = 0; x < page_.width(); ++x) bar(x, y, y + 3);
  }
  const Gray& page() const { return page_; }

 private:
  void bar(int x, double y0, double y1) {
    for (int y = static_cast<int>(std::lround(y0)); y < std::lround(y1); ++y) page_.row(y)[x] = 20;
  }
  Gray page_;
};

double height_of(const LinePlace& place, double x) {
  return height_at(place.baseline, x);
}

TEST(JoinedLines, AreMovedToTheirJoiningStroke) {
  Joined joined;
  joined.line(200, 40);
  // As by the feet of single letters: too low, tilted, bent at random, and too small.
  const LinePlace found{{{100, 212}, {430, 206}, {760, 209}, {1100, 200}}, 22};
  const LinePlace placed = placed_on_joining_stroke(joined.page(), {found}).front();
  for (const double x : {150.0, 600.0, 1050.0}) EXPECT_NEAR(height_of(placed, x), 200, 2.5) << x;
  EXPECT_NEAR(placed.x_height, kOfAlif * 40, 2.5);
}

TEST(JoinedLines, FollowATilt) {
  Joined joined;
  joined.line(260, 44, 20);
  const LinePlace found{{{100, 255}, {1100, 250}}, 30};
  const LinePlace placed = placed_on_joining_stroke(joined.page(), {found}).front();
  EXPECT_NEAR(height_of(placed, 150), 259, 2.5);
  EXPECT_NEAR(height_of(placed, 1050), 241, 2.5);
}

TEST(JoinedLines, OfCellsDoNotRunOnTheRuleBelow) {
  Joined joined;
  joined.line(200, 40, 0, 100, 250);
  joined.rule(224);
  const LinePlace found{{{100, 206}, {250, 206}}, 28};
  const LinePlace placed = placed_on_joining_stroke(joined.page(), {found}).front();
  EXPECT_NEAR(height_of(placed, 175), 200, 2.5);
}

TEST(JoinedLines, OfSingleWordsRunAsThePageDoes) {
  Joined joined(1200, 700);
  joined.line(150, 40);
  joined.line(260, 40);
  joined.line(500, 40, 14, 100, 240);  // a word whose tail hangs down
  const std::vector<LinePlace> placed =
      placed_on_joining_stroke(joined.page(), {{{{100, 150}, {1100, 150}}, 28},
                                               {{{100, 260}, {1100, 260}}, 28},
                                               {{{100, 503}, {240, 489}}, 17}});
  EXPECT_NEAR(placed[2].baseline.front().y, placed[2].baseline.back().y, 1.5);
  EXPECT_NEAR(placed[2].x_height, placed[0].x_height, 0.1);
}

TEST(JoinedLines, OfOneSizeShareIt) {
  Joined joined(1200, 700);
  joined.line(150, 40);
  joined.line(260, 41);
  joined.line(370, 60);
  joined.line(500, 39, 0, 100, 190);  // a single word with one upright
  std::vector<LinePlace> found;
  for (const double y : {150.0, 260.0, 370.0}) found.push_back({{{100, y}, {1100, y}}, 28});
  found.push_back({{{100, 500}, {190, 500}}, 28});
  const std::vector<LinePlace> placed = placed_on_joining_stroke(joined.page(), found);
  ASSERT_EQ(placed.size(), 4u);
  EXPECT_DOUBLE_EQ(placed[0].x_height, placed[1].x_height);
  EXPECT_GT(placed[2].x_height, 1.3 * placed[0].x_height);
  EXPECT_NEAR(placed[3].x_height, placed[0].x_height, 0.2 * placed[0].x_height);
}

TEST(JoinedLines, WhatIsTooShortToTellStays) {
  Joined joined;
  joined.line(200, 40);
  const LinePlace found{{{100, 203}, {140, 203}}, 25};
  const LinePlace placed = placed_on_joining_stroke(joined.page(), {found}).front();
  EXPECT_EQ(placed.baseline.front().y, 203);
  EXPECT_EQ(placed.x_height, 25);
}

TEST(JoinedLines, BlankPaperMovesNothingFar) {
  const Joined joined;
  const LinePlace found{{{100, 203}, {900, 203}}, 25};
  const LinePlace placed = placed_on_joining_stroke(joined.page(), {found}).front();
  EXPECT_LT(std::abs(height_of(placed, 500) - 203), 2.2 * 25);
  EXPECT_EQ(placed.x_height, 25);
}

}  // namespace
}  // namespace burnisher::recognise
