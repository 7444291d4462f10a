#include "run/kept_places.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher::run {
namespace {

Page page_of_three() {
  Page page;
  page.width = 200;
  page.height = 300;
  page.dpi = 300;
  for (int i = 0; i < 3; ++i) {
    Block block;
    block.outline = Box{20, 20 + 100.0 * i, 180, 60 + 100.0 * i}.corners();
    page.blocks.push_back(block);
  }
  return page;
}

TEST(KeptPlaces, ArePagesAndBlocksOfAPage) {
  const auto kept = kept_places("2:3+4,5-6,9-", 10);
  ASSERT_EQ(kept.size(), 5u);
  EXPECT_EQ(kept[0].page, 2);
  EXPECT_EQ(kept[0].blocks, (std::vector<int>{3, 4}));
  EXPECT_EQ(kept[2].page, 6);
  EXPECT_TRUE(kept[2].blocks.empty());
  EXPECT_EQ(kept.back().page, 10);
}

TEST(KeptPlaces, WhatMakesNoSenseIsSaid) {
  for (const char* text : {"", "x", "1:", "1:a", "1-2:3", "11", "1,1", "2:1+,3", "2:1,2:2", "0"})
    EXPECT_THROW(kept_places(text, 10), SettingsError) << text;
  Page page = page_of_three();
  EXPECT_THROW(keep_blocks({4}, page), SettingsError);
  EXPECT_THROW(keep_blocks({0}, page), SettingsError);
}

TEST(KeptPlaces, WhatIsNotKeptIsNeitherThereNorSeen) {
  Page page = page_of_three();
  page.barcodes.emplace_back();
  keep_blocks({2}, page);
  ASSERT_EQ(page.blocks.size(), 1u);
  EXPECT_TRUE(page.barcodes.empty());
  Picture gray = Gray(200, 300, 90);
  clear_outside(page, gray);
  const Gray& g = std::get<Gray>(gray);
  EXPECT_EQ(g.row(140)[100], 90);
  EXPECT_EQ(g.row(118)[18], 90);  // the rim that stays
  EXPECT_EQ(g.row(112)[100], 255);
  EXPECT_EQ(g.row(40)[100], 255);
  EXPECT_EQ(g.row(140)[10], 255);
  Picture ink = Bitonal(200, 300);
  std::get<Bitonal>(ink).set_ink(100, 140, true);
  std::get<Bitonal>(ink).set_ink(100, 40, true);
  clear_outside(page, ink);
  EXPECT_TRUE(std::get<Bitonal>(ink).ink(100, 140));
  EXPECT_FALSE(std::get<Bitonal>(ink).ink(100, 40));
  Picture colour = Colour(200, 300, 90);
  clear_outside(page, colour);
  EXPECT_EQ(std::get<Colour>(colour).row(140)[301], 90);
  EXPECT_EQ(std::get<Colour>(colour).row(40)[301], 255);
}

TEST(KeptPlaces, WithoutBlocksThePageStaysWhole) {
  Page page = page_of_three();
  keep_blocks({}, page);
  EXPECT_EQ(page.blocks.size(), 3u);
}

}  // namespace
}  // namespace burnisher::run
