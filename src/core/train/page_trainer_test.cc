#include "train/page_trainer.h"

#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "neural/convolution.h"
#include "testing/printed_page.h"
#include "testing/slopes.h"
#include "train/network_state.h"

namespace burnisher::train {
namespace {

using testing::TemporaryFolder;

struct Silent : Progress {
  void advance(const std::string&, double, double) override {}
  void warn(const std::string&) override {}
  void say(const std::string&) override {}
};

layout::PagePlan small_plan() {
  layout::PagePlan plan;
  plan.channels = {4, 6, 8, 10};
  plan.dilations = {1, 2};
  return plan;
}

// One line of text on a sheet of 200 x 120 pixels, turned by quarter turns.
compose::ComposedPage one_line(int quarter_turns) {
  compose::ComposedPage page;
  const double x_height = layout::kPageXHeight;
  const auto turned = [&](Point p) {
    return quarter_turns == 0   ? p
           : quarter_turns == 1 ? Point{p.y, 200 - p.x}
                                : Point{200 - p.x, 120 - p.y};
  };
  page.scan = quarter_turns == 1 ? Gray(120, 200, 255) : Gray(200, 120, 255);
  page.x_height = x_height;
  page.sheet = Box{0, 0, double(page.scan.width()), double(page.scan.height())}.corners();
  Line line;
  line.x_height = x_height;
  line.baseline = {turned({40, 60}), turned({160, 60})};
  line.outline = {turned({40, 50}), turned({160, 50}), turned({160, 63}), turned({40, 63})};
  line.words.emplace_back();
  Block block;
  block.outline = line.outline;
  block.lines.push_back(line);
  page.truth.blocks.push_back(block);
  return page;
}

TEST(PageTargets, ALineIsMarkedWhereItStandsWithItsAxis) {
  const TrainingPage page = training_page(one_line(0));
  const layout::MapGrid& grid = page.truth;
  EXPECT_EQ(page.page.width(), 208);  // filled up to whole steps
  EXPECT_EQ(grid.width, 52);
  EXPECT_EQ(grid.at(layout::kBandMap, 25, 14), 1);  // 56-60: within the x-height
  EXPECT_EQ(grid.at(layout::kBandMap, 25, 11), 0);  // 44-48: above
  EXPECT_EQ(grid.at(layout::kBandMap, 5, 14), 0);   // left of it
  EXPECT_GT(grid.at(layout::kBaselineMap, 25, 14), 0.4f);
  EXPECT_GT(grid.at(layout::kEndMap, 9, 13), 0.4f);
  EXPECT_GT(grid.at(layout::kEndMap, 40, 13), 0.4f);
  EXPECT_EQ(grid.at(layout::kEndMap, 25, 13), 0);
  EXPECT_EQ(grid.at(layout::kAxisCosMap, 25, 14), 1);
  EXPECT_EQ(grid.at(layout::kAxisSinMap, 25, 14), 0);
  EXPECT_EQ(grid.at(layout::kPaperMap, 2, 2), 1);
  EXPECT_EQ(grid.at(layout::kPaperMap, 51, 2), 0);  // beyond the sheet
}

TEST(PageTargets, TextOnItsSideIsToldFromLevelTextButNotUpFromDown) {
  const TrainingPage up = training_page(one_line(1));
  EXPECT_EQ(up.truth.at(layout::kAxisCosMap, 14, 25), -1);
  EXPECT_NEAR(up.truth.at(layout::kAxisSinMap, 14, 25), 0, 1e-6);
  EXPECT_EQ(up.truth.at(layout::kBandMap, 14, 25), 1);
  const TrainingPage over = training_page(one_line(2));
  EXPECT_EQ(over.truth.at(layout::kAxisCosMap, 25, 15), 1);
}

TEST(PageTargets, AWindowHasTheSizeThatWasAskedForOrThePages) {
  Random random(4);
  for (int i = 0; i < 5; ++i) {
    const TrainingPage page = varied_window(one_line(0), 48, 64, random);
    EXPECT_EQ(page.page.width(), 48);
    EXPECT_EQ(page.page.height(), 64);
    EXPECT_EQ(page.truth.width, 12);
    EXPECT_EQ(page.truth.height, 16);
    const TrainingPage small = varied_window(one_line(0), 4096, 4096, random);
    EXPECT_LT(small.page.width(), 1024);
    EXPECT_EQ(small.page.width() % layout::kPageStep, 0);
    EXPECT_EQ(small.page.height() % layout::kPageStep, 0);
  }
}

TEST(PageLoss, GradientIsTheSlope) {
  Random random(3);
  layout::MapGrid truth;
  truth.width = 3;
  truth.height = 2;
  std::vector<float> scores;
  for (int i = 0; i < 6 * layout::kPageMaps; ++i) {
    const bool axis = i % layout::kPageMaps >= layout::kShareMaps;
    truth.values.push_back(axis ? (i < 33 ? 0.f : 0.6f) : static_cast<float>(random.index(2)));
    scores.push_back(static_cast<float>(random.normal()));
  }
  std::vector<float> gradient, unused;
  page_loss(truth, scores, gradient);
  for (size_t i = 0; i < scores.size(); ++i) {
    const float before = scores[i], step = 1e-2f;
    scores[i] = before + step;
    const double more = page_loss(truth, scores, unused);
    scores[i] = before - step;
    const double less = page_loss(truth, scores, unused);
    scores[i] = before;
    EXPECT_NEAR((more - less) / (2 * step), gradient[i], 2e-4) << i;
  }
}

// Doubled layers and skips among them.
TEST(PageNetwork, GradientsOfEveryLayerAreTheSlopes) {
  const auto layers = layout::page_layers(small_plan());
  RunState state;
  initialise(layers, 7, state);
  for (auto& [name, values] : state.parameters) {  // away from the corners of the ReLU
    if (name.find(".shift") != std::string::npos) std::fill(values.begin(), values.end(), 2.f);
  }
  Random random(8);
  const int height = 32, width = 48;
  std::vector<float> page(static_cast<size_t>(height * width)), weights;
  for (float& v : page) v = static_cast<float>(random.normal());
  TrainableNetwork network(layers);
  const neural::SingleThread alone;
  const auto loss = [&] {
    const auto& scores = network.forward(state.parameters, page, 1, height, width);
    while (weights.size() < scores.size()) weights.push_back(static_cast<float>(random.normal()));
    double sum = 0;
    for (size_t i = 0; i < scores.size(); ++i) sum += static_cast<double>(scores[i]) * weights[i];
    return sum;
  };
  loss();
  EXPECT_EQ(weights.size(), size_t{8 * 12 * layout::kPageMaps});
  ParameterMap gradient;
  network.backward(state.parameters, weights, gradient);
  testing::expect_slopes(gradient, state.parameters, loss, 1e-3, 0.05);
}

// What is shipped sees the same as what was trained.
TEST(PageNetwork, SeesWhatTheTrainedNetworkSaw) {
  const auto layers = layout::page_layers(small_plan());
  RunState state;
  initialise(layers, 11, state);
  Random random(12);
  Gray picture(64, 48);
  for (uint8_t& v : picture.samples()) v = static_cast<uint8_t>(random.index(256));
  std::vector<float> page;
  for (const uint8_t v : picture.samples()) page.push_back(layout::page_sample(v));
  TrainableNetwork network(layers);
  const neural::SingleThread alone;
  const std::vector<float> scores = network.forward(state.parameters, page, 1, 48, 64);
  layout::PageModel model;
  model.plan = small_plan();
  model.tensors = averaged(layers, state);
  const layout::MapGrid grid = layout::PageNetwork(model).read(picture);
  ASSERT_EQ(grid.values.size(), scores.size());
  for (size_t i = 0; i < scores.size(); ++i) {
    const bool share = i % layout::kPageMaps < layout::kShareMaps;
    const double expected = share ? 1 / (1 + std::exp(-scores[i])) : scores[i];
    ASSERT_NEAR(grid.values[i], expected, 2e-3 * std::max(1.0, std::abs(expected)));
  }
}

class PageTraining : public ::testing::Test {
 protected:
  PageTraining() {
    const std::string fonts = "/usr/share/fonts/truetype/liberation/Liberation";
    const auto put = [&](const std::string& name, const std::string& text) {
      write_file(folder_.file(name), std::vector<uint8_t>(text.begin(), text.end()));
    };
    put("faces.tsv", fonts + "Serif-Regular.ttf\t0\tserif\ttrain\tSerif\n" + fonts +
                         "Mono-Regular.ttf\t0\tmono\ttrain\tMono\n");
    std::filesystem::create_directories(folder_.file("text"));
    std::string prose;
    for (int i = 0; i < 60; ++i)
      prose += "The lamp was lit before dusk and burned clear all night until the wind turned.\n";
    put("text/en.running.txt", prose);
    settings_.faces = folder_.file("faces.tsv");
    settings_.texts = folder_.file("text");
    settings_.run_folder = folder_.file("run");
    settings_.plan = small_plan();
    settings_.pages = 72;
    settings_.validation_pages = 2;
    settings_.window_width = 256;
    settings_.window_height = 320;
    settings_.validate_every = 24;
    settings_.optimiser.warm_up_steps = 4;
    settings_.optimiser.average_keep = 0.5;
    settings_.optimiser.peak_rate = 1e-2;
  }
  TemporaryFolder folder_;
  PageTrainSettings settings_;
  Silent silent_;
};

TEST_F(PageTraining, TheLossFallsAndTheRunGoesOn) {
  const PageTrainRow last = train_pages(settings_, silent_);
  EXPECT_EQ(last.pages, 72);
  const auto rows = read_page_log(folder_.file("run/pages.tsv"));
  ASSERT_EQ(rows.size(), 3u);
  EXPECT_LT(rows.back().loss, 0.9 * rows.front().loss);
  EXPECT_GT(rows.back().quality.f1[layout::kPaperMap], 0.8);
  const layout::PageModel model = layout::read_page_model(folder_.file("run/pages.safetensors"));
  EXPECT_EQ(model.record.at("pages"), "72");
  EXPECT_EQ(model.plan.channels, settings_.plan.channels);
  settings_.go_on = true;
  settings_.pages = 76;
  EXPECT_EQ(train_pages(settings_, silent_).pages, 76);
  // Another run that starts from the model knows what it knew, whatever plan its settings have.
  PageTrainSettings further = settings_;
  further.go_on = false;
  further.from = folder_.file("run/pages.safetensors");
  further.run_folder = folder_.file("further");
  further.plan = {};
  further.pages = 4;
  further.optimiser.peak_rate = 1e-5;
  EXPECT_LT(train_pages(further, silent_).loss, 0.9 * rows.front().loss);
}

TEST_F(PageTraining, TheSeedDecidesEverythingWhateverTheThreads) {
  settings_.pages = 8;
  std::vector<float> weights[2];
  for (int threads : {1, 2}) {
    settings_.threads = threads;
    settings_.run_folder = folder_.file("run" + std::to_string(threads));
    train_pages(settings_, silent_);
    weights[threads - 1] = layout::read_page_model(settings_.run_folder + "/pages.safetensors")
                               .tensors.at("context1.weight")
                               .values;
  }
  EXPECT_EQ(weights[0], weights[1]);
}

TEST_F(PageTraining, NonsenseIsRefused) {
  settings_.pages = 0;
  EXPECT_THROW(train_pages(settings_, silent_), SettingsError);
  settings_.pages = 8;
  settings_.window_width = 250;
  EXPECT_THROW(train_pages(settings_, silent_), SettingsError);
  EXPECT_THROW(layout::page_layers({{8, 8}, {1}}), SettingsError);
  EXPECT_THROW(layout::read_page_model(folder_.file("faces.tsv")), Error);
}

}  // namespace
}  // namespace burnisher::train
