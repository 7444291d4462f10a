#include "layout/pictures.h"

#include <gtest/gtest.h>

#include <cmath>

#include "testing/read_page.h"

namespace burnisher::layout {
namespace {

using testing::line_at;
using testing::page_of;

Page text_page() {
  Page page = page_of(
      {line_at({"The", "light", "stands"}, 100, 200), line_at({"above", "the", "rock"}, 100, 250)});
  page.blocks[0].outline = Box{100, 170, 500, 260}.corners();
  return page;
}

// A curve of a chart, thin and jagged.
void draw_curve(Bitonal& ink, int x0, int y, int width) {
  for (int i = 0; i < width; ++i) {
    const int at = y + static_cast<int>(70 * std::sin(i * 0.07) + 30 * std::sin(i * 0.31));
    for (int v = at - 6; v < at + 6; ++v) ink.set_ink(x0 + i, v, true);
  }
}

size_t pictures_in(const Page& page) {
  return static_cast<size_t>(
      std::count_if(page.blocks.begin(), page.blocks.end(),
                    [](const Block& b) { return b.kind == BlockKind::kPicture; }));
}

TEST(Pictures, ADrawingIsOneWithItsAxesAndItsCaption) {
  Bitonal ink(1000, 1400);
  draw_curve(ink, 150, 600, 500);
  Page page = text_page();
  page.blocks.push_back(page_of({line_at({"Plate", "two"}, 250, 790)}).blocks[0]);
  page.blocks.back().outline = Box{250, 760, 400, 800}.corners();
  Block axis;
  axis.kind = BlockKind::kSeparator;
  axis.outline = Box{140, 720, 660, 726}.corners();
  page.blocks.push_back(axis);
  ASSERT_EQ(add_pictures(ink, page), 1);
  ASSERT_EQ(page.blocks.size(), 3u);  // the axis went into the picture
  EXPECT_EQ(page.blocks[1].kind, BlockKind::kPicture);
  const Box box = bounds(page.blocks[1].outline);
  EXPECT_NEAR(box.x0, 145, 12);
  EXPECT_NEAR(box.x1, 655, 12);
  EXPECT_NEAR(box.y1, 726, 8);
  EXPECT_EQ(page.blocks[2].kind, BlockKind::kCaption);
}

TEST(Pictures, WordsRulesScrapsAndTheSheetsEdgeAreNone) {
  Bitonal ink(1000, 1400);
  Page page = text_page();
  for (const Line& line : page.blocks[0].lines) {
    for (int y = static_cast<int>(line.box.y0); y < line.box.y1; ++y) {
      for (int x = static_cast<int>(line.box.x0); x < line.box.x1; x += 2) ink.set_ink(x, y, true);
    }
  }
  for (int i = 0; i < 40; ++i) ink.set_ink(700 + i, 700 + i % 7, true);  // a scrap
  for (int y = 0; y < 1400; ++y) {
    for (int x = 0; x < 20 + y % 90; ++x) ink.set_ink(x, y, true);  // the shadow at the edge
  }
  for (Line& line : page.blocks[0].lines) {
    for (Word& word : line.words) word.box.x1 += 15;
  }
  EXPECT_EQ(add_pictures(ink, page), 0);
  EXPECT_EQ(pictures_in(page), 0u);
}

TEST(Pictures, AFrameRoundTextIsNone) {
  Bitonal ink(1000, 1400);
  Page page = text_page();
  for (int x = 60; x < 560; ++x) {
    for (int i = 0; i < 3; ++i) {
      ink.set_ink(x, 150 + i + x % 3, true);
      ink.set_ink(x, 280 + i + x % 3, true);
    }
  }
  for (int y = 150; y < 283; ++y) {
    ink.set_ink(60, y, true);
    ink.set_ink(560, y, true);
  }
  EXPECT_EQ(add_pictures(ink, page), 0);
}

}  // namespace
}  // namespace burnisher::layout
