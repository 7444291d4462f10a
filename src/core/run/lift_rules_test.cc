#include "run/lift_rules.h"

#include <gtest/gtest.h>

#include <random>

namespace burnisher {
namespace {

constexpr double kTextHeight = 28;

// A level rule, three pixels thick, whose edges stray by a pixel, with a gap in it.
void draw_rule(int x0, int x1, int y, Bitonal& ink) {
  std::mt19937 random(7);
  for (int x = x0; x < x1; ++x) {
    if (x > x0 + 300 && x < x0 + 306) continue;
    const int from = y - static_cast<int>(random() % 2),
              to = y + 3 + static_cast<int>(random() % 2);
    for (int v = from; v < to; ++v) ink.set_ink(x, v, true);
  }
}

bool has_ink(const Bitonal& ink, int y0, int y1) {
  for (int y = y0; y < y1; ++y) {
    for (int x = 0; x < ink.width(); ++x) {
      if (ink.ink(x, y)) return true;
    }
  }
  return false;
}

TEST(LiftRules, ARaggedRuleBecomesOneStraightLine) {
  Bitonal ink(1200, 400);
  draw_rule(100, 1100, 200, ink);
  const std::vector<Box> rules = run::lift_rules({}, kTextHeight, ink);
  ASSERT_EQ(rules.size(), 1u);
  EXPECT_NEAR(rules[0].x0, 100, 2);
  EXPECT_NEAR(rules[0].x1, 1100, 2);
  EXPECT_NEAR(rules[0].height(), 3.5, 1);
  EXPECT_NEAR(rules[0].centre().y, 201.5, 1);
  EXPECT_FALSE(has_ink(ink, 0, 400));
}

TEST(LiftRules, DoubleRulesStayDoubleAndFramesKeepTheirSides) {
  Bitonal ink(1200, 600);
  draw_rule(100, 1100, 200, ink);
  draw_rule(100, 1100, 209, ink);
  for (int y = 300; y < 560; ++y) {
    for (int x = 400; x < 403; ++x) ink.set_ink(x, y, true);
  }
  const std::vector<Box> rules = run::lift_rules({}, kTextHeight, ink);
  ASSERT_EQ(rules.size(), 3u);
  int upright = 0;
  for (const Box& rule : rules) upright += rule.height() > rule.width();
  EXPECT_EQ(upright, 1);
}

TEST(LiftRules, LettersAndTheLinesOfPicturesStay) {
  Bitonal ink(1200, 600);
  for (int y = 50; y < 78; ++y) {
    for (int x = 50; x < 56; ++x) ink.set_ink(x, y, true);
  }
  draw_rule(100, 1100, 300, ink);
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{90, 250, 1110, 350}.corners();
  EXPECT_TRUE(run::lift_rules({picture}, kTextHeight, ink).empty());
  EXPECT_TRUE(has_ink(ink, 50, 78));
  EXPECT_TRUE(has_ink(ink, 299, 305));
}

}  // namespace
}  // namespace burnisher
