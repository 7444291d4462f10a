#include "pdf/word_extents.h"

#include <gtest/gtest.h>

#include <cmath>

#include "testing/read_page.h"

namespace burnisher {
namespace {

using pdf::BaselinePath;
using pdf::Extent;
using pdf::SetWidth;
using testing::line_at;

Line in_type(Line line) {
  for (Word& word : line.words) word.type.em = 40;
  return line;
}

// As wide by themselves as they lie on the page.
std::vector<SetWidth> natural(const Line& line) {
  std::vector<SetWidth> widths;
  for (const Word& word : line.words) widths.push_back({word.box.width(), 0, 0});
  return widths;
}

TEST(Extent, InvisibleWordsReachAsFarAsTheirInk) {
  const Line line = line_at({"Skerrow", "light"}, 100, 300);
  const auto extents = pdf::extents_of(line, BaselinePath(line), std::vector<SetWidth>(2));
  for (size_t i = 0; i < 2; ++i) {
    EXPECT_EQ(extents[i].from, line.words[i].box.x0);
    EXPECT_EQ(extents[i].to, line.words[i].box.x1);
  }
}

TEST(Extent, WordsThatNearlyTouchGiveWayOnBothSides) {
  Line line = line_at({"Skerrow", "light"}, 100, 300);
  const double touch = line.words[1].box.x0;
  line.words[0].box.x1 = touch;
  const auto extents = pdf::extents_of(line, BaselinePath(line), std::vector<SetWidth>(2));
  EXPECT_LT(extents[0].to, touch);
  EXPECT_GT(extents[1].from, touch);
  EXPECT_NEAR(touch - extents[0].to, extents[1].from - touch, 1e-9);
}

TEST(Extent, FiguresOfAnotherWidthAreSetAsWideAsTheirLine) {
  Line line = in_type(line_at({"oil", "for", "17", "lamps", "more"}, 100, 300));
  // Room on both sides of the figures, which are printed in two thirds of their width.
  for (size_t i = 3; i < 5; ++i) line.words[i].box.x0 += 20, line.words[i].box.x1 += 20;
  std::vector<SetWidth> widths = natural(line);
  widths[2].ink = 54;
  const auto extents = pdf::extents_of(line, BaselinePath(line), widths);
  EXPECT_GT(extents[2].width(), line.words[2].box.width());
  EXPECT_LT(extents[2].width(), 54);
  EXPECT_GT(extents[2].from - extents[1].to, 5);
  EXPECT_EQ(extents[0].from, line.words[0].box.x0);
  EXPECT_EQ(extents[4].to, line.words[4].box.x1);
  EXPECT_NEAR(extents[3].width(), line.words[3].box.width(), 1e-6);
}

TEST(Extent, WordsTooWideShrinkAndStayWhereTheyAre) {
  const Line line = in_type(line_at({"wind", "south", "west", "rain"}, 100, 300));
  std::vector<SetWidth> widths = natural(line);
  widths[1].ink *= 0.7;
  const auto extents = pdf::extents_of(line, BaselinePath(line), widths);
  EXPECT_NEAR(extents[1].width(), widths[1].ink * 1.05, 1e-6);
  EXPECT_NEAR(extents[1].from + extents[1].to, line.words[1].box.x0 + line.words[1].box.x1, 1e-6);
}

TEST(Extent, LeadersAreAsLongAsTheyAre) {
  const Line line = in_type(line_at({"Stores", "at", "Hallow", "........", "12"}, 100, 300));
  std::vector<SetWidth> widths = natural(line);
  widths[3].ink *= 0.5;
  const auto extents = pdf::extents_of(line, BaselinePath(line), widths);
  EXPECT_NEAR(extents[3].width(), line.words[3].box.width(), 1e-6);
}

TEST(BaselinePath, BaselinesThatWaverAreStraightWhereTypeIsSetAndOthersAreFollowed) {
  Line line = line_at({"Skerrow", "light", "board"}, 100, 300);
  const double x0 = line.baseline[0].x, x1 = line.baseline[1].x, middle = (x0 + x1) / 2;
  line.baseline = {{x0, 300}, {middle, 302}, {x1, 300}};
  EXPECT_EQ(BaselinePath(line).point(middle).y, 302);
  const Line set = in_type(line);
  const BaselinePath straight(set);
  EXPECT_NEAR(straight.point(x0).y, straight.point(middle).y, 0.2);
  Line bent = in_type(line);
  bent.baseline[1].y = 312;  // more than a waver
  EXPECT_EQ(BaselinePath(bent).point(middle).y, 312);
}

}  // namespace
}  // namespace burnisher
