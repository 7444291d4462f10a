#include "compose/sheet.h"

#include <gtest/gtest.h>

#include <cmath>

#include "compose/camera.h"
#include "compose/families.h"

namespace burnisher::compose {
namespace {

Text text_of(const std::string& ascii) {
  return Text(ascii.begin(), ascii.end());
}

class SheetTest : public ::testing::Test {
 protected:
  SheetTest()
      : sampler_({{"/usr/share/fonts/truetype/liberation/LiberationSerif-Regular.ttf", 0, "serif",
                   false, "S", ""}},
                 false),
        supply_{[](int, Random&) { return text_of("lamp and oil at the reef of Skerrow"); }},
        desk_{sampler_, supply_, random_, 10},
        sheet_(desk_.sheet(60, 50)) {
    font_.face = sampler_.draw({U'a'}, random_);
    font_.style.x_height = 10;
    font_.pitch = 25;
  }

  FloatImage printed() { return sheet_.printed(10, {}); }

  Random random_{3};
  TypefaceSampler sampler_;
  PageText supply_;
  Desk desk_;
  Sheet sheet_;
  Font font_;
};

double ink_in(const FloatImage& ink, const Box& box) {
  double sum = 0;
  for (int y = static_cast<int>(box.y0); y < box.y1; ++y) {
    for (int x = static_cast<int>(box.x0); x < box.x1; ++x) sum += ink.row(y)[x];
  }
  return sum;
}

TEST_F(SheetTest, ALineStandsOnItsBaselineInsideItsBox) {
  sheet_.begin(BlockKind::kText);
  const Box box = sheet_.line(font_, {text_of("lamp"), text_of("oil")}, 100, 200);
  const Line line = sheet_.block().lines.at(0);
  EXPECT_EQ(line.text(), "lamp oil");
  EXPECT_EQ(line.baseline.front().y, 200);
  EXPECT_NEAR(line.baseline.front().x, 100, 1e-9);
  EXPECT_LT(line.words[0].box.x1, line.words[1].box.x0);
  const FloatImage ink = printed();
  const double all = ink_in(ink, {0, 0, 600, 500});
  EXPECT_GT(all, 100);
  EXPECT_NEAR(ink_in(ink, box), all, 1e-3);               // nothing outside the box
  EXPECT_GT(ink_in(ink, {0, 190, 600, 200}), 0.4 * all);  // most between x-height and baseline
}

TEST_F(SheetTest, LinesAreAlignedAsAsked) {
  sheet_.begin(BlockKind::kText);
  const std::vector<Text> words = {text_of("oil"), text_of("and"), text_of("wicks")};
  sheet_.line(font_, words, 500, 100, Align::kRight);
  sheet_.line(font_, words, 300, 140, Align::kCentred);
  sheet_.line(font_, words, 50, 180, Align::kLeft, 400);
  const auto& lines = sheet_.block().lines;
  EXPECT_NEAR(lines[0].baseline.back().x, 500, 1e-6);
  EXPECT_NEAR((lines[1].baseline.front().x + lines[1].baseline.back().x) / 2, 300, 1e-6);
  EXPECT_NEAR(lines[2].baseline.back().x - lines[2].baseline.front().x, 400, 1e-6);
}

TEST_F(SheetTest, AParagraphStaysInItsColumnAndEndsWhereItSays) {
  sheet_.begin(BlockKind::kText);
  ParagraphStyle style;
  style.indent = 30;
  style.words = 40;
  const Box column{60, 40, 360, 480};
  const double end = sheet_.paragraph(font_, style, column);
  const auto& lines = sheet_.block().lines;
  ASSERT_GT(lines.size(), 3u);
  EXPECT_NEAR(lines[0].baseline.front().x, 90, 1e-6);
  EXPECT_NEAR(lines[1].baseline.front().x, 60, 1e-6);
  for (size_t i = 0; i + 1 < lines.size(); ++i) {
    EXPECT_NEAR(lines[i].baseline.back().x, 360, 1e-6);  // spread to the column's width
    EXPECT_NEAR(lines[i + 1].baseline[0].y - lines[i].baseline[0].y, 25, 1e-6);
  }
  EXPECT_GT(end, lines.back().baseline[0].y);
  EXPECT_LE(lines.back().baseline[0].y, 480);
  const Box outline = bounds(sheet_.block().outline);
  for (const Line& line : lines) EXPECT_TRUE(outline.contains(line.box.centre()));
}

TEST_F(SheetTest, ABlockThatGotNothingIsForgotten) {
  sheet_.begin(BlockKind::kText);
  sheet_.begin(BlockKind::kHeading);
  sheet_.line(font_, {text_of("Light")}, 10, 50);
  sheet_.begin(BlockKind::kText);
  printed();
  ASSERT_EQ(sheet_.page().truth.blocks.size(), 1u);
  EXPECT_EQ(sheet_.page().truth.blocks[0].kind, BlockKind::kHeading);
}

TEST_F(SheetTest, RulesHaveTheirThicknessAndTheirPlaceInTheTruth) {
  sheet_.rule({100, 300}, {400, 300}, 4);
  ASSERT_EQ(sheet_.page().rules.size(), 1u);
  EXPECT_EQ(bounds(sheet_.page().rules[0]).height(), 4);
  const FloatImage ink = printed();
  EXPECT_NEAR(ink_in(ink, {0, 0, 600, 500}), 1200, 40);
}

TEST_F(SheetTest, BrokenRulesHaveGaps) {
  sheet_.rule({50, 300}, {550, 300}, 2, 0.5);
  const double left = ink_in(printed(), {0, 0, 600, 500});
  EXPECT_GT(left, 100);
  EXPECT_LT(left, 950);
}

TEST_F(SheetTest, WhatIsSetOnAReversedBoxComesOutAsPaper) {
  sheet_.reverse({40, 40, 560, 160}, 1);
  sheet_.begin(BlockKind::kText);
  const Box box = sheet_.line(font_, {text_of("white")}, 100, 110);
  const FloatImage ink = printed();
  EXPECT_EQ(ink.row(50)[50], 1);
  const double dark = ink_in(ink, box), all = box.width() * box.height();
  EXPECT_LT(dark, 0.9 * all);
  EXPECT_GT(dark, 0.2 * all);
  EXPECT_EQ(ink.row(400)[300], 0);
}

TEST_F(SheetTest, ALineThatRunsUpHasABaselineThatDoes) {
  sheet_.begin(BlockKind::kCaption);
  sheet_.upright_line(font_, {text_of("Skerrow")}, 30, 100, true);
  const Line& line = sheet_.block().lines.at(0);
  EXPECT_TRUE(line.runs_up_or_down());
  EXPECT_GT(line.baseline.front().y, line.baseline.back().y);
  EXPECT_EQ(line.baseline.front().x, line.baseline.back().x);
  const Box box = line.box;
  EXPECT_GT(ink_in(printed(), box), 50);
}

TEST_F(SheetTest, PicturesAndMarksAreKeptApart) {
  sheet_.picture({50, 50, 250, 200});
  sheet_.scribble({300, 300, 500, 350}, 1.5);
  sheet_.stamp({300, 50, 450, 150}, 1.5);
  EXPECT_EQ(sheet_.block().kind, BlockKind::kPicture);
  EXPECT_EQ(sheet_.page().marks.size(), 2u);
  const FloatImage ink = printed();
  EXPECT_GT(ink_in(ink, {50, 50, 250, 200}), 100);
  EXPECT_GT(ink_in(ink, {300, 50, 450, 150}), 50);
}

TEST_F(SheetTest, ATablesCellsFollowItsColumns) {
  fill_table(desk_, sheet_, font_, {20, 20, 580, 480});
  const Block& table = sheet_.page().truth.blocks.at(0);
  ASSERT_EQ(table.kind, BlockKind::kTable);
  ASSERT_GT(table.cells.size(), 5u);
  for (const Cell& cell : table.cells) {
    EXPECT_GT(cell.box.width(), 0);
    EXPECT_GT(cell.box.height(), 0);
    for (const int at : cell.lines) {
      const Line& line = table.lines.at(static_cast<size_t>(at));
      EXPECT_TRUE(cell.box.contains(line.box.centre())) << line.text();
    }
    for (const Cell& other : table.cells) {
      const bool right_of_it = other.row == cell.row && other.column > cell.column;
      EXPECT_TRUE(!right_of_it || other.box.x0 >= cell.box.x1 - 1e-6);
    }
  }
}

TEST_F(SheetTest, TheCameraTakesTheTruthAlong) {
  sheet_.begin(BlockKind::kText);
  sheet_.line(font_, {text_of("lamp")}, 200, 250);
  sheet_.rule({100, 300}, {400, 300}, 4);
  ComposedPage page;
  page.truth = sheet_.page().truth;
  page.rules = sheet_.page().rules;
  page.sheet = sheet_.page().sheet;
  CameraSettings settings;
  settings.quarter_turns = 1;
  const Camera camera(600, 500, settings);
  const Box before = page.truth.blocks[0].lines[0].words[0].box;
  camera.move(page);
  EXPECT_EQ(page.truth.width, 500);
  EXPECT_EQ(page.truth.height, 600);
  const Line& line = page.truth.blocks[0].lines[0];
  EXPECT_TRUE(line.runs_up_or_down());
  EXPECT_NEAR(line.x_height, 10, 1e-6);
  EXPECT_NEAR(line.words[0].box.height(), before.width(), 1e-6);
  EXPECT_NEAR(line.baseline.front().x, 250, 1e-6);  // what was 250 down is 250 to the right
  EXPECT_NEAR(bounds(page.sheet).width(), 500, 1e-6);
}

}  // namespace
}  // namespace burnisher::compose
