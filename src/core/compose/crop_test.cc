#include "compose/crop.h"

#include <gtest/gtest.h>

namespace burnisher::compose {
namespace {

// Ten words of five letters side by side on lines of 40 pixels' pitch; x-height 12.
ComposedPage lined_page(int lines) {
  ComposedPage page;
  page.truth.width = 600;
  page.truth.height = 40 * lines + 40;
  Block block;
  block.outline = Box{0, 0, 600, 40.0 * lines + 40}.corners();
  for (int i = 0; i < lines; ++i) {
    Line line;
    const double foot = 40.0 * (i + 1);
    line.x_height = 12;
    line.baseline = {{20, foot}, {580, foot}};
    line.box = {20, foot - 18, 580, foot};
    line.outline = line.box.corners();
    for (int w = 0; w < 10; ++w) {
      Word word;
      word.text = "lamps";
      word.box = {20.0 + 56 * w, foot - 18, 70.0 + 56 * w, foot};
      line.words.push_back(word);
    }
    block.lines.push_back(line);
  }
  page.truth.blocks = {block};
  return page;
}

// The same seen through a window.
ComposedPage seen(ComposedPage page, const Box& window) {
  for (Block& block : page.truth.blocks) {
    for (Point& p : block.outline) p = p - Point{window.x0, window.y0};
    for (Line& line : block.lines) {
      for (Point& p : line.baseline) p = p - Point{window.x0, window.y0};
      for (Point& p : line.outline) p = p - Point{window.x0, window.y0};
      line.box = {line.box.x0 - window.x0, line.box.y0 - window.y0, line.box.x1 - window.x0,
                  line.box.y1 - window.y0};
      for (Word& word : line.words)
        word.box = {word.box.x0 - window.x0, word.box.y0 - window.y0, word.box.x1 - window.x0,
                    word.box.y1 - window.y0};
    }
  }
  page.truth.width = static_cast<int>(window.width());
  page.truth.height = static_cast<int>(window.height());
  keep_visible(page);
  return page;
}

TEST(KeepVisible, LeavesAWholePageAsItIs) {
  const ComposedPage page = seen(lined_page(3), {0, 0, 600, 160});
  ASSERT_EQ(page.truth.blocks.size(), 1u);
  ASSERT_EQ(page.truth.blocks[0].lines.size(), 3u);
  for (const Line& line : page.truth.blocks[0].lines) EXPECT_EQ(line.words.size(), 10u);
}

TEST(KeepVisible, CutsWordsToTheLettersInside) {
  // The first word loses two of its five letters, the last whole one is the fifth.
  const ComposedPage page = seen(lined_page(1), {40, 0, 300, 80});
  const Line& line = page.truth.blocks.at(0).lines.at(0);
  EXPECT_EQ(line.words.front().text, "mps");
  EXPECT_EQ(line.words.size(), 5u);
  EXPECT_LE(line.baseline.back().x, 260 + line.x_height + 1e-6);
}

TEST(KeepVisible, LinesCutAlongTheirLengthGo) {
  EXPECT_EQ(seen(lined_page(3), {0, 34, 600, 160}).truth.blocks.at(0).lines.size(), 2u);
  EXPECT_EQ(seen(lined_page(3), {0, 24, 600, 160}).truth.blocks.at(0).lines.size(), 3u);
  EXPECT_TRUE(seen(lined_page(1), {0, 60, 600, 79}).truth.blocks.empty());
}

TEST(DrawWindow, HasTextInIt) {
  const ComposedPage page = lined_page(12);
  Random random(5);
  for (int i = 0; i < 200; ++i) {
    const Box window = draw_window(page, 12, random);
    EXPECT_GT(window.width(), 12);
    EXPECT_GT(window.height(), 12);
    EXPECT_GT(overlap(window.x0, window.x1, 0, 600) * overlap(window.y0, window.y1, 0, 520), 0);
  }
  EXPECT_TRUE(draw_window({}, 12, random).empty());
}

TEST(AddShade, DarkensTowardsItsSideOnly) {
  FloatImage field(100, 50);
  Shade shade;
  shade.left = 0.5;
  shade.reach = 0.2;
  add_shade(shade, field);
  EXPECT_NEAR(field.row(10)[0], 0.5, 0.02);
  EXPECT_GT(field.row(10)[10], field.row(10)[40]);
  EXPECT_LT(field.row(10)[99], 0.02);
}

}  // namespace
}  // namespace burnisher::compose
