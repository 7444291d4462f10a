// What training computes, against slopes, enumeration and known answers.

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "neural/batch_norm.h"
#include "testing/slopes.h"
#include "testing/tiny_model.h"
#include "train/ctc.h"
#include "train/optimiser.h"
#include "train/trainable.h"

namespace burnisher::train {
namespace {

std::vector<float> random_values(size_t count, uint64_t seed, double spread = 1) {
  Random random(seed);
  std::vector<float> values(count);
  for (float& v : values) v = static_cast<float>(spread * random.normal());
  return values;
}

// The slope of `loss` when `value` moves by `step` to either side.
double slope(float& value, double step, const std::function<double()>& loss) {
  const float before = value;
  value = static_cast<float>(before + step);
  const double up = loss();
  value = static_cast<float>(before - step);
  const double down = loss();
  value = before;
  return (up - down) / (2 * step);
}

// ---- CTC ----

std::vector<double> probabilities(const std::vector<float>& scores, int classes) {
  std::vector<double> p(scores.size());
  for (size_t f = 0; f < scores.size(); f += static_cast<size_t>(classes)) {
    double sum = 0;
    for (int c = 0; c < classes; ++c) sum += std::exp(scores[f + static_cast<size_t>(c)]);
    for (int c = 0; c < classes; ++c)
      p[f + static_cast<size_t>(c)] = std::exp(scores[f + static_cast<size_t>(c)]) / sum;
  }
  return p;
}

// Sums the probability of every single path that spells the text.
double probability_by_enumeration(const std::vector<float>& scores, int frames, int classes,
                                  const std::vector<int>& text) {
  const auto p = probabilities(scores, classes);
  double total = 0;
  std::vector<int> path(static_cast<size_t>(frames));
  const std::function<void(int, double)> walk = [&](int f, double product) {
    if (f == frames) {
      std::vector<int> spelt;
      int before = 0;
      for (int c : path) {
        if (c != 0 && c != before) spelt.push_back(c);
        before = c;
      }
      if (spelt == text) total += product;
      return;
    }
    for (int c = 0; c < classes; ++c) {
      path[static_cast<size_t>(f)] = c;
      walk(f + 1, product * p[static_cast<size_t>(f * classes + c)]);
    }
  };
  walk(0, 1);
  return total;
}

class CtcTexts : public ::testing::TestWithParam<std::vector<int>> {};

TEST_P(CtcTexts, LossIsTheProbabilityOfAllPaths) {
  const int frames = 6, classes = 4;
  const auto scores = random_values(static_cast<size_t>(frames * classes), 7);
  std::vector<float> gradient(scores.size(), 0.f);
  const double loss = ctc_loss(scores.data(), frames, classes, GetParam(), gradient.data());
  EXPECT_NEAR(std::exp(-loss), probability_by_enumeration(scores, frames, classes, GetParam()),
              1e-5);
}

TEST_P(CtcTexts, GradientIsTheSlope) {
  const int frames = 6, classes = 4;
  auto scores = random_values(static_cast<size_t>(frames * classes), 8);
  std::vector<float> gradient(scores.size(), 0.f), ignored(scores.size());
  ctc_loss(scores.data(), frames, classes, GetParam(), gradient.data());
  for (size_t i = 0; i < scores.size(); ++i) {
    const double expected = slope(scores[i], 1e-2, [&] {
      return ctc_loss(scores.data(), frames, classes, GetParam(), ignored.data());
    });
    EXPECT_NEAR(gradient[i], expected, 2e-3);
  }
}

INSTANTIATE_TEST_SUITE_P(Ctc, CtcTexts,
                         ::testing::Values(std::vector<int>{1}, std::vector<int>{1, 2, 3},
                                           std::vector<int>{2, 2}, std::vector<int>{3, 3, 3},
                                           std::vector<int>{1, 2, 1, 2, 1, 2}));

TEST(Ctc, ATextThatDoesNotFitHasNoGradient) {
  const auto scores = random_values(12, 9);
  std::vector<float> gradient(12, 0.f);
  EXPECT_EQ(ctc_loss(scores.data(), 3, 4, {1, 1, 1}, gradient.data()), 0);
  for (float g : gradient) EXPECT_EQ(g, 0);
}

TEST(Alignment, GradientIsTheSlope) {
  const int frames = 5, classes = 4;
  auto scores = random_values(20, 10);
  std::vector<float> gradient(20, 0.f), ignored(20);
  alignment_loss(scores.data(), frames, classes, {1, 2}, {1, 3}, 0.7, 0.35, gradient.data());
  for (size_t i = 0; i < scores.size(); ++i) {
    const double expected = slope(scores[i], 1e-2, [&] {
      return 0.7 * alignment_loss(scores.data(), frames, classes, {1, 2}, {1, 3}, 0, 0.35,
                                  ignored.data());
    });
    EXPECT_NEAR(gradient[i], expected, 2e-3);
  }
}

// ---- batch normalisation ----

TEST(BatchNorm, NormalisesEachChannel) {
  const size_t rows = 300, channels = 3;
  auto in = random_values(rows * channels, 11, 4);
  for (size_t i = 0; i < in.size(); i += 3) in[i] += 50;
  std::vector<float> out(in.size());
  neural::NormState state;
  neural::norm_forward(in.data(), {rows, channels, 1}, {1, 1, 1}, {10, 10, 10}, nullptr, state,
                       out.data());
  for (size_t c = 0; c < channels; ++c) {
    double sum = 0, squares = 0;
    for (size_t r = 0; r < rows; ++r) {
      sum += out[r * 3 + c] - 10;
      squares += (out[r * 3 + c] - 10) * (out[r * 3 + c] - 10);
    }
    EXPECT_NEAR(sum / rows, 0, 1e-3);
    EXPECT_NEAR(squares / rows, 1, 2e-2);
  }
}

TEST(BatchNorm, AGroupKeepsWhatItsChannelsDifferBy) {
  const size_t rows = 200, channels = 4;
  auto in = random_values(rows * channels, 21);
  for (size_t i = 0; i < in.size(); i += 4) in[i] += 3;  // the first one is higher all over
  std::vector<float> out(in.size());
  neural::NormState state;
  neural::norm_forward(in.data(), {rows, channels, 2}, {1, 1, 1, 1}, {10, 10, 10, 10}, nullptr,
                       state, out.data());
  double means[4] = {};
  for (size_t i = 0; i < out.size(); ++i) means[i % 4] += out[i] / double(rows);
  EXPECT_GT(means[0] - means[1], 1.2);
  EXPECT_NEAR(means[0] + means[1], 20, 1e-3);
  EXPECT_NEAR(means[2] + means[3], 20, 1e-3);
  EXPECT_EQ(state.mean[0], state.mean[1]);
}

class NormSlopes : public ::testing::TestWithParam<size_t> {};

TEST_P(NormSlopes, GradientsAreTheSlopes) {
  const size_t rows = 7, channels = 2, group = GetParam();
  auto in = random_values(rows * channels, 12);
  std::vector<float> gain = {1.3f, 0.7f}, shift = {0.1f, -0.2f};
  const auto weights = random_values(rows * channels, 13);
  neural::NormState state;
  std::vector<float> out(in.size());
  const auto loss = [&] {
    neural::NormState fresh;
    neural::norm_forward(in.data(), {rows, channels, group}, gain, shift, nullptr, fresh,
                         out.data());
    double sum = 0;
    for (size_t i = 0; i < out.size(); ++i) sum += out[i] * weights[i];
    return sum;
  };
  neural::norm_forward(in.data(), {rows, channels, group}, gain, shift, nullptr, state, out.data());
  std::vector<float> in_gradient(in.size()), gain_gradient, shift_gradient;
  neural::norm_backward(in.data(), weights.data(), {rows, channels, group}, gain, shift, state,
                        in_gradient.data(), gain_gradient, shift_gradient);
  for (size_t i = 0; i < in.size(); ++i)
    EXPECT_NEAR(in_gradient[i], slope(in[i], 1e-3, loss), 6e-3);
  for (size_t c = 0; c < channels; ++c) {
    EXPECT_NEAR(gain_gradient[c], slope(gain[c], 1e-3, loss), 5e-3);
    EXPECT_NEAR(shift_gradient[c], slope(shift[c], 1e-3, loss), 5e-3);
  }
}

INSTANTIATE_TEST_SUITE_P(Groups, NormSlopes, ::testing::Values(1, 2));

// ---- the network ----

TEST(Trainable, GradientsOfEveryLayerAreTheSlopes) {
  const recognise::Model model = burnisher::testing::tiny_model(14);
  ParameterMap parameters;
  for (const auto& [name, tensor] : model.tensors) {
    if (name.find(".mean") == std::string::npos && name.find(".variance") == std::string::npos)
      parameters[name] = tensor.values;
  }
  const int lines = 2, height = 16, width = 32;
  const auto strips = random_values(static_cast<size_t>(lines * height * width), 15);
  TrainableNetwork network(model.layers);
  const size_t score_count = network.forward(parameters, strips, lines, height, width).size();
  EXPECT_EQ(network.frames(), 8);
  const auto weights = random_values(score_count, 16);
  const auto loss = [&] {
    const auto& scores = network.forward(parameters, strips, lines, height, width);
    double sum = 0;
    for (size_t i = 0; i < scores.size(); ++i) sum += static_cast<double>(scores[i]) * weights[i];
    return sum;
  };
  loss();
  ParameterMap gradient;
  network.backward(parameters, weights, gradient);
  EXPECT_EQ(gradient.size(), parameters.size());
  burnisher::testing::expect_slopes(gradient, parameters, loss, 2e-3, 0.03);
}

// ---- optimiser ----

TEST(Optimiser, FindsTheBottomOfABowl) {
  OptimiserSettings settings;
  settings.weight_decay = 0;
  ParameterMap parameters = {{"x.bias", {5.f, -3.f}}};
  OptimiserState state;
  for (int i = 0; i < 3000; ++i) {
    ParameterMap gradient = {
        {"x.bias", {2 * (parameters["x.bias"][0] - 1), 2 * (parameters["x.bias"][1] + 2)}}};
    update(settings, 0.01, gradient, parameters, state);
  }
  EXPECT_NEAR(parameters["x.bias"][0], 1, 0.02);
  EXPECT_NEAR(parameters["x.bias"][1], -2, 0.02);
}

TEST(Optimiser, RateRisesThenFalls) {
  const OptimiserSettings settings;
  EXPECT_LT(learning_rate(settings, 0, 0), 0.02 * settings.peak_rate);
  EXPECT_NEAR(learning_rate(settings, 1000, 0.001), settings.peak_rate, 0.01 * settings.peak_rate);
  EXPECT_NEAR(learning_rate(settings, 1000, 1), 0.01 * settings.peak_rate, 1e-9);
}

TEST(Optimiser, ABrokenBatchChangesNothing) {
  ParameterMap parameters = {{"x.bias", {5.f}}}, gradient = {{"x.bias", {NAN}}};
  OptimiserState state;
  update({}, 0.01, gradient, parameters, state);
  EXPECT_EQ(parameters["x.bias"][0], 5.f);
  EXPECT_EQ(state.step, 0);
}

}  // namespace
}  // namespace burnisher::train
