#include "layout/page_network.h"

#include <gtest/gtest.h>

#include <atomic>
#include <filesystem>
#include <thread>

#include "base/error.h"
#include "base/random.h"
#include "layout/maps_picture.h"
#include "testing/printed_page.h"
#include "testing/seen_page.h"

namespace burnisher::layout {
namespace {

// A network of the right shape that was never taught.
PageModel untaught() {
  PageModel model;
  model.plan.channels = {4, 6, 8, 10};
  model.plan.dilations = {1, 2};
  Random random(5);
  for (const neural::ConvShape& layer : page_layers(model.plan)) {
    const auto put = [&](const std::string& part, const std::vector<int>& shape, float value) {
      size_t count = 1;
      for (const int size : shape) count *= static_cast<size_t>(size);
      neural::Tensor tensor{shape, std::vector<float>(count, value)};
      if (value == 0 && part == ".weight") {
        for (float& v : tensor.values) v = static_cast<float>(0.2 * random.normal());
      }
      model.tensors[layer.name + part] = tensor;
    };
    put(".weight", {layer.out, layer.in, layer.kernel_h, layer.kernel_w}, 0);
    if (!layer.normalised) {
      put(".bias", {layer.out}, 0);
      continue;
    }
    put(".gain", {layer.out}, 1);
    put(".shift", {layer.out}, 0);
  }
  return model;
}

Gray speckled(int width, int height) {
  Random random(6);
  Gray page(width, height);
  for (uint8_t& v : page.samples()) v = static_cast<uint8_t>(random.index(256));
  return page;
}

// Prepared shapes are made by one thread, used by others and given up by yet another.
TEST(PageNetwork, SeesTheSameFromEveryThread) {
  const PageNetwork network(untaught());
  std::vector<Gray> pages;
  for (int k = 0; k < 7; ++k) pages.push_back(speckled(96 + 32 * k, 64));
  std::vector<std::vector<float>> alone;
  for (const Gray& page : pages) alone.push_back(network.read(page).values);
  std::atomic<int> different{0};
  std::vector<std::thread> threads;
  for (int t = 0; t < 3; ++t) {
    threads.emplace_back([&, t] {
      for (size_t i = 0; i < 40; ++i) {
        const size_t k = (i * (static_cast<size_t>(t) + 1) + static_cast<size_t>(t)) % pages.size();
        different += network.read(pages[k]).values != alone[k];
      }
    });
  }
  for (std::thread& thread : threads) thread.join();
  EXPECT_EQ(different, 0);
}

TEST(PageNetwork, GivesACellForEveryFourPixelsOfTheFilledUpPage) {
  const PageNetwork network(untaught());
  const MapGrid grid = network.read(speckled(70, 33));
  EXPECT_EQ(grid.width, 20);   // 80 / 4
  EXPECT_EQ(grid.height, 12);  // 48 / 4
  ASSERT_EQ(grid.values.size(), size_t{20 * 12 * kPageMaps});
  for (int k = 0; k < kShareMaps; ++k) {
    const float value = grid.at(static_cast<PageMap>(k), 3, 3);
    EXPECT_GE(value, 0);
    EXPECT_LE(value, 1);
  }
}

TEST(PageNetwork, PagesOfManySizesDoNotDisturbEachOther) {
  const PageNetwork network(untaught());
  const Gray page = speckled(64, 48);
  const MapGrid before = network.read(page);
  for (int size = 16; size < 200; size += 16) network.read(speckled(size, 32));
  EXPECT_EQ(network.read(page).values, before.values);
}

TEST(PageNetwork, AModelComesBackFromItsFile) {
  testing::TemporaryFolder folder;
  PageModel model = untaught();
  model.record["pages"] = "12";
  write_page_model(folder.file("pages.safetensors"), model);
  const PageModel back = read_page_model(folder.file("pages.safetensors"));
  EXPECT_EQ(back.plan.dilations, model.plan.dilations);
  EXPECT_EQ(back.record.at("pages"), "12");
  const Gray page = speckled(64, 48);
  const MapGrid one = PageNetwork(model).read(page), other = PageNetwork(back).read(page);
  for (size_t i = 0; i < one.values.size(); ++i) EXPECT_NEAR(one.values[i], other.values[i], 0.05);
}

TEST(PageNetwork, AModelOfAnotherShapeIsRefused) {
  testing::TemporaryFolder folder;
  PageModel model = untaught();
  model.plan.dilations = {1, 2, 4};
  write_page_model(folder.file("bad"), model);
  try {
    read_page_model(folder.file("bad"));
    FAIL() << "accepted";
  } catch (const FormatError& error) {
    EXPECT_NE(std::string(error.what()).find("context3"), std::string::npos) << error.what();
  }
  EXPECT_THROW(read_page_model(folder.file("none")), InputError);
  EXPECT_THROW(page_layers({{4, 6, 8, 10}, {1, 0}}), SettingsError);
}

// Share of the cells in which a map is above a half.
double share_of(const MapGrid& grid, PageMap map) {
  int seen = 0;
  for (int y = 0; y < grid.height; ++y)
    for (int x = 0; x < grid.width; ++x) seen += grid.at(map, x, y) > 0.5f;
  return static_cast<double>(seen) / (grid.width * grid.height);
}

TEST(ShippedPageNetwork, IsSmall) {
  EXPECT_LT(std::filesystem::file_size(BURNISHER_MODELS_FOLDER "/pages.safetensors"), 1500000u);
}

TEST(ShippedPageNetwork, SeesTextWhereItIsAndHowItLies) {
  testing::PrintedPage printed(900, 700);
  printed.print_column(testing::prose(9, 40), 80, 100, 40, 60);
  const Gray page = printed.picture();
  const PageMaps level = look_at(testing::page_network(), page, 20);
  const TextAxis along = text_axis(level);
  EXPECT_GT(along.cells, 100);
  EXPECT_LT(along.sideways, 0.02);
  EXPECT_GT(level.mean(kBandMap, {90, 82, 500, 98}), 0.6);
  EXPECT_LT(level.mean(kBandMap, {80, 640, 800, 690}), 0.05);
  Gray turned(page.height(), page.width());
  for (int y = 0; y < page.height(); ++y)
    for (int x = 0; x < page.width(); ++x) turned.row(page.width() - 1 - x)[y] = page.row(y)[x];
  EXPECT_GT(text_axis(look_at(testing::page_network(), turned, 20)).sideways, 0.98);
}

TEST(ShippedPageNetwork, SeesNothingOnEvenPaper) {
  const Gray paper(1240, 1754, 240);
  const PageMaps maps = look_at(testing::page_network(), paper, 20);
  const MapGrid& grid = maps.grid();
  EXPECT_LT(share_of(grid, kBandMap), 0.01);
  EXPECT_LT(share_of(grid, kTableMap), 0.01);
  EXPECT_LT(share_of(grid, kPictureMap), 0.02);
}

TEST(MapsPicture, ShowsTextWhereItWasSeen) {
  MapGrid grid;
  grid.width = grid.height = 2;
  grid.values.assign(4 * kPageMaps, 0.f);
  for (size_t cell = 0; cell < 4; ++cell) grid.values[cell * kPageMaps + kPaperMap] = 1;
  grid.values[kBandMap] = 1;
  grid.values[kAxisCosMap] = 1;
  const Colour picture = picture_of(grid, Gray(8, 8, 255));
  const uint8_t *text = picture.row(1) + 3, *paper = picture.row(6) + 3 * 6;
  EXPECT_GT(text[2], text[0] + 60);  // blue
  EXPECT_EQ(paper[0], paper[2]);
}

}  // namespace
}  // namespace burnisher::layout
