#include "recognise/quantise.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/random.h"

namespace burnisher::recognise {
namespace {

TEST(Quantise, WeightsKeepTheirRatioInEveryChannel) {
  const ByteWeights bytes = quantised({1, -2, 0.5, 0, 0, 0, 0.015f, 0.02f, -0.005f}, 3, 127);
  EXPECT_EQ(bytes.values, (std::vector<int8_t>{64, -127, 32, 0, 0, 0, 95, 127, -32}));
  EXPECT_FLOAT_EQ(bytes.scale[0], 2.f / 127);
  EXPECT_FLOAT_EQ(bytes.scale[2], 0.02f / 127);
}

TEST(Quantise, ActivationsAreOffByHalfAStepAtMost) {
  Random random(4);
  std::vector<float> values;
  for (int i = 0; i < 1001; ++i) values.push_back(static_cast<float>(std::fabs(random.normal())));
  std::vector<uint8_t> bytes(values.size());
  const float scale = quantise(values.data(), values.size(), bytes.data());
  for (size_t i = 0; i < values.size(); ++i)
    EXPECT_NEAR(static_cast<float>(bytes[i]) * scale, values[i], 0.51f * scale);
}

TEST(Quantise, NothingStaysNothing) {
  const std::vector<float> values(70, 0.f);
  std::vector<uint8_t> bytes(values.size(), 9);
  EXPECT_GT(quantise(values.data(), values.size(), bytes.data()), 0);
  EXPECT_EQ(bytes, std::vector<uint8_t>(70, 0));
}

TEST(Quantise, SumsBecomeScoresWithBiasRectifierAndInput) {
  const std::vector<int32_t> sums = {100, -100, 200, 50};
  const std::vector<float> scale = {0.1f, 0.2f}, bias = {1, -1}, before = {5, 5, 5, 5};
  std::vector<float> out(4);
  finish(sums.data(), 2, 2, {scale.data(), bias.data(), 0.5f, true, before.data()}, out.data());
  EXPECT_EQ(out, (std::vector<float>{11, 5, 16, 9}));
  finish(sums.data(), 2, 2, {scale.data(), bias.data(), 0.5f, false, nullptr}, out.data());
  EXPECT_EQ(out, (std::vector<float>{6, -11, 11, 4}));
}

}  // namespace
}  // namespace burnisher::recognise
