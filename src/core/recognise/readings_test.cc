#include "recognise/readings.h"

#include <gtest/gtest.h>

#include <cmath>

namespace burnisher::recognise {
namespace {

// Frames x classes; class 0 is the blank.
Posteriors seen(const std::vector<std::vector<double>>& frames) {
  FrameScores scores;
  scores.frames = static_cast<int>(frames.size());
  scores.classes = static_cast<int>(frames.front().size());
  for (const auto& frame : frames) {
    for (const double p : frame)
      scores.log_probability.push_back(static_cast<float>(std::log(std::max(p, 1e-9))));
  }
  return Posteriors(scores);
}

TEST(Readings, AreAllThatMayStandThereByTheirShares) {
  const Alphabet alphabet("mrn ");
  // "m" 0.7, or "r" and "n".
  const Posteriors posteriors = seen({{0.0, 0.7, 0.3, 0.0, 0.0}, {0.7, 0.0, 0.0, 0.3, 0.0}});
  const auto readings = readings_of(posteriors, alphabet, 0, 2, 10);
  ASSERT_GE(readings.size(), 4u);
  EXPECT_EQ(readings[0].text, "m");
  EXPECT_NEAR(readings[0].share, 0.49, 0.01);
  double sum = 0;
  for (const OtherReading& r : readings) sum += r.share;
  EXPECT_NEAR(sum, 1, 1e-6);
}

TEST(Readings, JoinTheWaysToOneText) {
  const Alphabet alphabet("ab");
  // Repeats of a letter without a blank between them are one letter.
  const auto readings =
      readings_of(seen({{0.0, 1.0, 0.0}, {0.5, 0.5, 0.0}, {0.5, 0.5, 0.0}}), alphabet, 0, 3, 10);
  ASSERT_EQ(readings.size(), 2u);
  EXPECT_EQ(readings[0].text, "a");
  EXPECT_NEAR(readings[0].share, 0.75, 1e-3);
  EXPECT_EQ(readings[1].text, "aa");
}

TEST(Readings, KeepTheLikeliestAndDropOuterSpaces) {
  const Alphabet alphabet("ab ");
  const Posteriors posteriors = seen({{0.0, 0.0, 0.0, 1.0}, {0.1, 0.5, 0.4, 0.0}});
  const auto readings = readings_of(posteriors, alphabet, 0, 2, 1);
  ASSERT_EQ(readings.size(), 1u);
  EXPECT_EQ(readings[0].text, "a");
}

}  // namespace
}  // namespace burnisher::recognise
