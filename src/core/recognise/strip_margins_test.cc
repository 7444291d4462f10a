#include "recognise/strip_margins.h"

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

using testing::line_at;

std::vector<StripMargins> margins_of(const std::vector<Line>& lines) {
  std::vector<const Line*> all;
  for (const Line& line : lines) all.push_back(&line);
  return strip_margins(all);
}

TEST(StripMargins, AreWideWhereNothingStandsBeside) {
  const auto margins = margins_of({line_at("a line", 100, 100), line_at("the next", 100, 160)});
  for (const StripMargins& m : margins) {
    EXPECT_EQ(m.left, kWideMargin);
    EXPECT_EQ(m.right, kWideMargin);
  }
}

TEST(StripMargins, LeaveWhiteBeforeANeighbour) {
  // The first ends at 172; x-heights are 20.
  const auto near = margins_of({line_at("column", 100, 100), line_at("beside", 202, 104)});
  EXPECT_NEAR(near[0].right, 30 / 20.0 - 0.4, 1e-9);
  EXPECT_NEAR(near[1].left, 30 / 20.0 - 0.4, 1e-9);
  EXPECT_EQ(near[0].left, kWideMargin);
  const auto close = margins_of({line_at("column", 100, 100), line_at("beside", 176, 104)});
  EXPECT_EQ(close[0].right, kStripMargin);
}

TEST(StripMargins, OfTextOnItsSideAreAsTrained) {
  Line up = line_at("upward", 100, 500);
  up.baseline = {{100, 500}, {100, 300}};
  up.box = {85, 300, 105, 500};
  EXPECT_EQ(margins_of({up})[0].right, kStripMargin);
}

TEST(StripMargins, OfLinesWithoutABaselineAreAsTrained) {
  Line bare = line_at("typed", 100, 500);
  bare.baseline.clear();
  EXPECT_EQ(margins_of({bare})[0].left, kStripMargin);
}

}  // namespace
}  // namespace burnisher::recognise
