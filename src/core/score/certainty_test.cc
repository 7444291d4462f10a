#include "score/certainty.h"

#include <gtest/gtest.h>

namespace burnisher::score {
namespace {

TEST(Certainty, HonestConfidencesHaveNoError) {
  const Certainty c = certainty_of({{"lamp", 0.5}, {"oi1", 0.5}}, "lamp oil");
  EXPECT_EQ(c.words(), 2);
  EXPECT_EQ(c.steps[5].right, 1);
  EXPECT_NEAR(c.error(), 0, 1e-9);
}

TEST(Certainty, BoastersAreFoundOut) {
  const Certainty c = certainty_of({{"1amp", 0.9}, {"oi1", 0.9}}, "lamp oil");
  EXPECT_NEAR(c.error(), 0.9, 1e-9);
}

TEST(Certainty, ExtraAndMissingWordsDoNotShiftTheRest) {
  const Certainty c =
      certainty_of({{"x", 0.2}, {"lamp", 1}, {"was", 1}, {"dusk", 1}}, "lamp was lit at dusk");
  EXPECT_EQ(c.steps[9].words, 3);
  EXPECT_EQ(c.steps[9].right, 3);
  EXPECT_EQ(c.steps[2].right, 0);
}

TEST(Certainty, NothingReadHasNoError) {
  EXPECT_EQ(certainty_of({}, "lamp").words(), 0);
  EXPECT_EQ(certainty_of({}, "lamp").error(), 0);
}

}  // namespace
}  // namespace burnisher::score
