#include "recognise/posteriors.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/log_sum.h"

namespace burnisher::recognise {
namespace {

FrameScores two_frames() {
  FrameScores scores;
  scores.frames = 2;
  scores.classes = 4;
  scores.log_probability = {-0.1f, -3.f, -9.f, -2.5f, -20.f, -7.f, 0.f, -8.5f};
  return scores;
}

TEST(Posteriors, KeepsWhatIsPossibleTheLikeliestFirst) {
  const Posteriors posteriors(two_frames());
  ASSERT_EQ(posteriors.frames(), 2);
  ASSERT_EQ(posteriors.end(0) - posteriors.begin(0), 3);
  EXPECT_EQ(posteriors.begin(0)[0].klass, 0);
  EXPECT_EQ(posteriors.begin(0)[1].klass, 3);
  EXPECT_EQ(posteriors.begin(0)[2].klass, 1);
  ASSERT_EQ(posteriors.end(1) - posteriors.begin(1), 2);
  EXPECT_EQ(posteriors.begin(1)[0].klass, 2);
}

TEST(Posteriors, GivesTheLeastForWhatIsNotKept) {
  const Posteriors posteriors(two_frames());
  EXPECT_FLOAT_EQ(posteriors.of(0, 1), -3);
  EXPECT_FLOAT_EQ(posteriors.of(0, 2), kLeastLogPosterior);
  EXPECT_FLOAT_EQ(posteriors.of(1, 0), kLeastLogPosterior);
}

TEST(Posteriors, OfNothingIsEmpty) {
  EXPECT_EQ(Posteriors().frames(), 0);
  EXPECT_EQ(Posteriors(FrameScores{}).frames(), 0);
}

TEST(LogSum, IsTheLogarithmOfTheSum) {
  for (const auto& [a, b] : {std::pair{0.2, 0.3}, {1e-3, 0.9}, {0.5, 0.5}}) {
    const float sum = log_sum(static_cast<float>(std::log(a)), static_cast<float>(std::log(b)));
    EXPECT_NEAR(std::exp(sum), a + b, 1e-6);
    EXPECT_EQ(sum, log_sum(static_cast<float>(std::log(b)), static_cast<float>(std::log(a))));
  }
  EXPECT_EQ(log_sum(-1, -1e30f), -1);
}

}  // namespace
}  // namespace burnisher::recognise
