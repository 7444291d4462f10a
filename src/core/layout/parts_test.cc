// The small steps of layout, each on components and lines that are given, not found.
#include <gtest/gtest.h>

#include <algorithm>

#include "layout/initials.h"
#include "layout/leaders.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/map_regions.h"
#include "layout/outlines.h"
#include "layout/stencil.h"
#include "layout/tick_boxes.h"
#include "layout/turned.h"
#include "testing/painted_maps.h"

namespace burnisher::layout {
namespace {

using testing::append;
using testing::box_at;
using testing::letters_at;
using testing::line_of;
using testing::PaintedMaps;

constexpr double kHeight = 20;  // the text height everywhere here

// ---- chains ----

TEST(Chains, LettersOfOneLineFollowEachOther) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 8));
  append(sorted.letters, letters_at(100, 250, 5));
  const auto lines = chain_lines(sorted, {}, {}, kHeight);
  ASSERT_EQ(lines.size(), 2u);
  EXPECT_EQ(lines[0].letters.size() + lines[1].letters.size(), 13u);
}

TEST(Chains, EndWhereTheNetworkSeesAnEnd) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 5));
  append(sorted.letters, letters_at(230, 200, 5));
  PaintedMaps painted;
  painted.fill(kBandMap, {100, 180, 320, 200});
  EXPECT_EQ(chain_lines(sorted, painted.maps(), {}, kHeight).size(), 1u);
  painted.fill(kBandMap, {190, 180, 230, 200}, 0);
  painted.fill(kEndMap, {190, 170, 230, 210});
  EXPECT_EQ(chain_lines(sorted, painted.maps(), {}, kHeight).size(), 2u);
  // Unless a person says that lines go across.
  EXPECT_EQ(chain_lines(sorted, painted.maps(), {false, {}}, kHeight).size(), 1u);
  EXPECT_EQ(chain_lines(sorted, painted.maps(), {false, {210}}, kHeight).size(), 2u);
}

TEST(Chains, ReachAcrossAnyWhiteThatTheNetworkTakesForTheirs) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 5));
  append(sorted.letters, letters_at(800, 200, 3));
  PaintedMaps painted;
  EXPECT_EQ(chain_lines(sorted, painted.maps(), {}, kHeight).size(), 2u);
  painted.fill(kBandMap, {100, 180, 860, 200});  // a leader is between
  EXPECT_EQ(chain_lines(sorted, painted.maps(), {}, kHeight).size(), 1u);
}

TEST(Chains, NoLetterIsInTwoLines) {
  Sorted sorted;
  for (int i = 0; i < 6; ++i) append(sorted.letters, letters_at(100, 200 + 22 * i, 20));
  sorted.marks = letters_at(105, 215, 12);
  size_t letters = 0, marks = 0;
  for (const LetterLine& line : chain_lines(sorted, {}, {}, kHeight)) {
    letters += line.letters.size();
    marks += line.marks.size();
  }
  EXPECT_EQ(letters, 120u);
  EXPECT_LE(marks, 12u);
}

TEST(Chains, MarksGoToTheirLine) {
  Sorted sorted;
  sorted.letters = letters_at(100, 200, 6);
  sorted.marks = {box_at(210, 197, 4, 4), box_at(130, 172, 4, 4), box_at(700, 600, 4, 4)};
  const auto lines = chain_lines(sorted, {}, {}, kHeight);
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_EQ(lines[0].marks.size(), 2u);
  EXPECT_EQ(lines[0].box.y0, 172);
}

TEST(Chains, ScrapsOfBrokenLettersJoinTheirLine) {
  std::vector<LetterLine> lines = {line_of(letters_at(100, 200, 8)),
                                   line_of({box_at(140, 203, 10, 6)}),
                                   line_of(letters_at(100, 400, 8))};
  absorb_scraps(kHeight, lines);
  ASSERT_EQ(lines.size(), 2u);
  EXPECT_EQ(lines[0].marks.size(), 1u);
  EXPECT_EQ(lines[0].box.y1, 209);
}

// ---- drop capitals ----

Sorted beside_capital(int capital_height) {
  Sorted sorted;
  for (int i = 0; i < 5; ++i)
    append(sorted.letters, letters_at(i < 3 ? 200 : 100, 200 + 40 * i, 12));
  sorted.letters.push_back(box_at(100, 180, 70, capital_height));
  return sorted;
}

TEST(Initials, AreTallLettersThatRowsBeginBeside) {
  Sorted sorted = beside_capital(100);
  const auto initials = take_initials(kHeight, sorted);
  ASSERT_EQ(initials.size(), 1u);
  EXPECT_EQ(initials[0].height(), 100);
  EXPECT_EQ(sorted.letters.size(), 60u);
  Sorted usual = beside_capital(30);
  EXPECT_TRUE(take_initials(kHeight, usual).empty());
}

TEST(Initials, TallSignsWithoutRowsBesideThemAreNone) {
  Sorted alone;
  alone.letters = {box_at(100, 180, 70, 100)};
  EXPECT_TRUE(take_initials(kHeight, alone).empty());
  // In the midst of a line it is a bracket or a sign.
  Sorted amid = beside_capital(100);
  append(amid.letters, letters_at(60, 220, 2));
  EXPECT_TRUE(take_initials(kHeight, amid).empty());
}

Block block_of_lines(const std::vector<Box>& boxes) {
  Block block;
  Box all;
  for (const Box& box : boxes) {
    Line line;
    line.box = box;
    line.baseline = {{box.x0, box.y1}, {box.x1, box.y1}};
    line.x_height = 15;
    block.lines.push_back(line);
    all = united(all, box);
  }
  block.outline = all.corners();
  return block;
}

TEST(Initials, StandBeforeTheLineTheyBegin) {
  std::vector<Block> blocks = {block_of_lines(
      {{100, 100, 600, 120}, {200, 180, 600, 200}, {200, 220, 600, 240}, {100, 260, 600, 280}})};
  place_initials({box_at(100, 175, 80, 70)}, blocks);
  ASSERT_EQ(blocks.size(), 3u);
  EXPECT_EQ(blocks[0].lines.size(), 1u);
  EXPECT_EQ(blocks[1].kind, BlockKind::kDropCapital);
  EXPECT_EQ(blocks[2].lines.size(), 3u);
  EXPECT_EQ(bounds(blocks[0].outline).y1, 120);
  EXPECT_EQ(bounds(blocks[2].outline).y0, 180);
}

// ---- tick boxes ----

// An empty square, or a filled one.
void draw_square(int x, int y, int side, bool filled, Bitonal& ink) {
  for (int v = 0; v < side; ++v) {
    for (int u = 0; u < side; ++u) {
      const bool rim = u < 3 || v < 3 || u >= side - 3 || v >= side - 3;
      if (rim || filled) ink.set_ink(x + u, y + v, true);
    }
  }
}

TEST(TickBoxes, AreEmptySquares) {
  Bitonal ink(200, 100);
  draw_square(20, 30, 30, false, ink);
  draw_square(80, 30, 30, true, ink);
  draw_square(130, 30, 8, false, ink);  // smaller than any letter
  Components found = components_of(ink);
  const auto boxes = take_tick_boxes(kHeight, found);
  ASSERT_EQ(boxes.size(), 1u);
  EXPECT_EQ(boxes[0].x0, 20);
  EXPECT_EQ(found.list.size(), 2u);
}

TEST(TickBoxes, TheirTicksGoWithThem) {
  Bitonal ink(100, 100);
  draw_square(20, 30, 36, false, ink);
  for (int i = 0; i < 14; ++i) {
    ink.set_ink(32 + i, 40 + i, true);
    ink.set_ink(32 + i, 41 + i, true);
  }
  Components found = components_of(ink);
  ASSERT_EQ(found.list.size(), 2u);
  EXPECT_EQ(take_tick_boxes(kHeight, found).size(), 1u);
  EXPECT_TRUE(found.list.empty());
}

// ---- outlines, turning ----

TEST(Outlines, OfLevelLinesAreTheirBoxes) {
  LetterLine line = line_of(letters_at(100, 200, 20));
  line.baseline = {{100, 200}, {460, 201}};
  EXPECT_TRUE(outline_of(line).empty());
  line.baseline.clear();
  EXPECT_TRUE(outline_of(line).empty());
}

TEST(Outlines, OfSlopingLinesFollowTheLetters) {
  std::vector<Component> letters;
  for (int i = 0; i < 20; ++i) append(letters, letters_at(100 + 18 * i, 200 + 3 * i, 1));
  LetterLine line = line_of(letters);
  line.baseline = {{100, 200}, {460, 257}};
  const Polygon outline = outline_of(line);
  ASSERT_GE(outline.size(), 6u);
  const Box whole = bounds(outline);
  EXPECT_EQ(whole.y0, line.box.y0);
  EXPECT_EQ(whole.y1, line.box.y1);
  // On the left it ends well above the line's lowest place.
  EXPECT_LT(outline.back().y, line.box.y1 - 20);
}

TEST(TurnedBlocks, MoveWithAllTheyHold) {
  std::vector<Block> blocks = {block_of_lines({{100, 50, 300, 70}})};
  blocks[0].cells.push_back({});
  blocks[0].cells[0].box = {100, 50, 200, 70};
  turn_blocks(Affine::shift(10, 20), blocks);
  EXPECT_EQ(blocks[0].lines[0].box.x0, 110);
  EXPECT_EQ(blocks[0].lines[0].baseline[0].y, 90);
  EXPECT_EQ(blocks[0].cells[0].box.y1, 90);
  EXPECT_EQ(bounds(blocks[0].outline).x1, 310);
}

TEST(TurnedInk, IsWhatLiesUnderThePlaces) {
  Bitonal ink(40, 30);
  ink.set_ink(10, 5, true);
  const Bitonal moved = levelled(ink, Affine::shift(4, 2), 40, 30);
  EXPECT_TRUE(moved.ink(6, 3));
  EXPECT_FALSE(moved.ink(10, 5));
}

// ---- letters, marks, rules ----

PageMaps painted_with_text(const Box& box) {
  PaintedMaps painted;
  painted.fill(kBandMap, box);
  return painted.maps();
}

TEST(SortedComponents, GoByTheirSizeInTextHeights) {
  const Sorted sorted = sort_components({box_at(10, 10, 14, 20),
                                         box_at(40, 26, 4, 4),
                                         {100, 20, 500, 23, 1200},
                                         box_at(100, 200, 300, 250)},
                                        painted_with_text({0, 0, 60, 40}), kHeight);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.marks.size(), 1u);
  EXPECT_EQ(sorted.rules.size(), 1u);
  EXPECT_EQ(sorted.pictures.size(), 1u);
}

TEST(SortedComponents, WhatTheNetworkTakesForPicturesAndStampsIsNoText) {
  PaintedMaps painted;
  painted.fill(kPictureMap, {100, 200, 400, 500});
  painted.fill(kMarkMap, {700, 700, 900, 900});
  painted.fill(kPaperMap, {950, 0, 1000, 1000}, 0);
  painted.fill(kBandMap, {600, 300, 620, 320});
  const Sorted sorted = sort_components(
      {box_at(100, 200, 300, 250), box_at(200, 300, 14, 20), box_at(600, 300, 14, 20),
       box_at(750, 750, 14, 20), box_at(970, 300, 14, 20)},
      painted.maps(), kHeight);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.pictures.size(), 2u);
  EXPECT_EQ(sorted.others.size(), 2u);
}

TEST(SortedComponents, ScrapsOnTheTrackOfAnUprightRuleAreDropped) {
  Sorted sorted;
  sorted.letters = {box_at(302, 400, 4, 10), box_at(340, 400, 14, 20)};
  drop_rule_bits({{300, 100, 304, 900, 3000}}, kHeight, sorted);
  ASSERT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.letters[0].x0, 340);
}

// ---- what the network sees ----

TEST(PageMaps, AreAskedInPixelsOfThePage) {
  PaintedMaps painted;
  painted.fill(kBandMap, {200, 300, 400, 320});
  const PageMaps maps = painted.maps();
  EXPECT_NEAR(maps.pixels_of_cell(), 10, 1e-9);
  EXPECT_NEAR(maps.at(kBandMap, {305, 305}), 1, 1e-6);
  EXPECT_NEAR(maps.at(kBandMap, {305, 500}), 0, 1e-6);
  EXPECT_EQ(maps.at(kBandMap, {5000, 500}), 0);
  EXPECT_NEAR(maps.mean(kBandMap, {100, 302, 300, 318}), 0.5, 0.06);
  EXPECT_NEAR(maps.level_ridge(kBandMap, {200, 250, 400, 400}), 1, 0.05);
  EXPECT_GT(maps.column_peak(kBandMap, {100, 302, 300, 318}), 0.9);
  EXPECT_LT(maps.column_least(kBandMap, {100, 302, 300, 318}), 0.1);
}

TEST(PageMaps, TextOnItsSideIsLevelOnceThePageIsTurned) {
  PaintedMaps painted;
  painted.fill(kBandMap, {100, 200, 400, 500});
  painted.fill(kAxisCosMap, {100, 200, 400, 500}, -1);
  const PageMaps maps = painted.maps();
  EXPECT_NEAR(maps.axis({200, 300, 220, 320}).x, -1, 1e-6);
  EXPECT_EQ(text_axis(maps).sideways, 1);
  for (const Heading heading : {Heading::kDown, Heading::kUp}) {
    Affine back;
    const PageMaps level = maps.turned(heading, back);
    Polygon corners = Box{200, 300, 220, 320}.corners();
    for (Point& p : corners) p = back.inverse()(p);
    EXPECT_NEAR(level.axis(bounds(corners)).x, 1, 1e-6);
    EXPECT_NEAR(level.mean(kBandMap, bounds(corners)), 1, 1e-6);
  }
}

TEST(MapRegions, AreConnected) {
  PaintedMaps painted;
  painted.fill(kTableMap, {100, 100, 300, 200});
  painted.fill(kTableMap, {500, 100, 700, 200});
  const PageMaps maps = painted.maps();
  const std::vector<Box> regions = map_regions(maps, kTableMap, 0.5);
  ASSERT_EQ(regions.size(), 2u);
  EXPECT_NEAR(regions[0].x1, 300, 1e-9);
  EXPECT_NEAR(regions[1].x0, 500, 1e-9);
}

// ---- stencils ----

Page page_with(const std::vector<Block>& blocks) {
  Page page;
  page.width = 1000;
  page.height = 1400;
  page.blocks = blocks;
  return page;
}

TEST(StencilFits, GrowWithThePage) {
  Page model = page_with({block_of_lines({{100, 100, 900, 120}}),
                          block_of_lines({{100, 300, 900, 320}, {100, 340, 900, 360}})});
  model.blocks[0].kind = BlockKind::kHeading;
  // Five per cent larger, as another scanner had it.
  Page page = page_with(
      {block_of_lines({{110, 90, 950, 111}, {110, 300, 950, 321}, {110, 342, 950, 363}})});
  const StencilFit fit = lay_over(stencil_of(model), page);
  EXPECT_EQ(fit.lines, 3);
  EXPECT_EQ(fit.outside, 0);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kHeading);
  EXPECT_EQ(page.blocks[0].lines.size(), 1u);
  EXPECT_EQ(page.blocks[1].lines.size(), 2u);
}

TEST(StencilFits, EmptyPagesFitNothing) {
  const Page stencil = stencil_of(page_with({block_of_lines({{100, 100, 900, 120}})}));
  Page empty = page_with({});
  EXPECT_FALSE(lay_over(stencil, empty).fits());
}

TEST(StencilFits, PicturesOfTheStencilTakeNoText) {
  Page model =
      page_with({block_of_lines({{100, 100, 900, 120}}), block_of_lines({{100, 300, 900, 600}})});
  model.blocks[1].kind = BlockKind::kPicture;
  model.blocks[1].lines.clear();
  Page page = page_with({block_of_lines({{100, 100, 900, 120}, {150, 400, 500, 420}})});
  lay_over(stencil_of(model), page);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_TRUE(page.blocks[1].lines.empty());
}

TEST(StencilFits, TablesKeepTheirCells) {
  Block table = block_of_lines({{100, 300, 400, 320}, {500, 300, 900, 320}});
  table.kind = BlockKind::kTable;
  table.cells = {Cell{}, Cell{}};
  Page page = page_with({block_of_lines({{100, 100, 900, 120}}), table});
  const Page stencil = stencil_of(page);
  EXPECT_TRUE(stencil.blocks[1].cells.empty());
  lay_over(stencil, page);
  EXPECT_EQ(page.blocks[1].cells.size(), 2u);
  EXPECT_EQ(page.blocks[1].lines.size(), 2u);
}

Component dot(int x, int y, int size = 4) {
  return {x, y, x + size, y + size, size * size};
}

TEST(Leaders, EvenRowsOfDotsLead) {
  std::vector<Component> marks;
  for (int i = 0; i < 12; ++i) marks.push_back(dot(100 + 13 * i, 200 + i % 2));
  marks.push_back(dot(40, 200));   // the full stop before it
  marks.push_back(dot(180, 150));  // of an i above
  const std::vector<bool> leads = leader_dots(marks, 20);
  for (size_t i = 0; i < 12; ++i) EXPECT_TRUE(leads[i]) << i;
  EXPECT_FALSE(leads[12]);
  EXPECT_FALSE(leads[13]);
}

TEST(Leaders, FullStopsOfALineDoNot) {
  std::vector<Component> marks;
  int x = 100;
  for (const int step : {30, 95, 40, 120, 66, 25, 88}) marks.push_back(dot(x += step, 200));
  for (const bool leads : leader_dots(marks, 50)) EXPECT_FALSE(leads);
}

}  // namespace
}  // namespace burnisher::layout
