// The small steps of layout, each on components and lines that are given, not found.
#include <gtest/gtest.h>

#include <algorithm>

#include "layout/gutters.h"
#include "layout/initials.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/outlines.h"
#include "layout/rows.h"
#include "layout/stencil.h"
#include "layout/tick_boxes.h"
#include "layout/turned.h"
#include "layout/upright_text.h"

namespace burnisher::layout {
namespace {

constexpr double kHeight = 20;  // the text height everywhere here

Component box_at(int x, int y, int width, int height) {
  return {x, y, x + width, y + height, width * height / 2};
}

// Letters side by side, 14 pixels wide, their feet on `y`.
std::vector<Component> letters_at(int x, int y, int count, int step = 18) {
  std::vector<Component> letters;
  for (int i = 0; i < count; ++i) letters.push_back(box_at(x + step * i, y - 20, 14, 20));
  return letters;
}

void append(std::vector<Component>& to, const std::vector<Component>& more) {
  to.insert(to.end(), more.begin(), more.end());
}

LetterLine line_of(const std::vector<Component>& letters) {
  LetterLine line;
  line.letters = letters;
  for (const Component& c : letters) line.box = united(line.box, c.box());
  line.x_height = kHeight;
  return line;
}

// ---- chains ----

TEST(Chains, LettersOfOneLineFollowEachOther) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 8));
  append(sorted.letters, letters_at(100, 250, 5));
  const auto lines = chain_lines(sorted, {}, kHeight, 12);
  ASSERT_EQ(lines.size(), 2u);
  EXPECT_EQ(lines[0].letters.size() + lines[1].letters.size(), 13u);
}

TEST(Chains, WhiteWiderThanAllowedPartsThem) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 5));
  append(sorted.letters, letters_at(400, 200, 5));
  EXPECT_EQ(chain_lines(sorted, {}, kHeight, 1).size(), 2u);
  EXPECT_EQ(chain_lines(sorted, {}, kHeight, 12).size(), 1u);
}

TEST(Chains, NeverCrossAGutter) {
  Sorted sorted;
  append(sorted.letters, letters_at(100, 200, 5));
  append(sorted.letters, letters_at(230, 200, 5));
  EXPECT_EQ(chain_lines(sorted, {}, kHeight, 12).size(), 1u);
  EXPECT_EQ(chain_lines(sorted, {{200, 100, 220, 300}}, kHeight, 12).size(), 2u);
  // A gutter elsewhere on the page parts nothing here.
  EXPECT_EQ(chain_lines(sorted, {{200, 400, 220, 600}}, kHeight, 12).size(), 1u);
}

TEST(Chains, MarksGoToTheirLine) {
  Sorted sorted;
  sorted.letters = letters_at(100, 200, 6);
  sorted.marks = {box_at(210, 197, 4, 4), box_at(130, 172, 4, 4), box_at(700, 600, 4, 4)};
  const auto lines = chain_lines(sorted, {}, kHeight, 12);
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

// ---- gutters and rows ----

std::vector<Box> two_columns(double gap) {
  std::vector<Box> pieces;
  for (int i = 0; i < 20; ++i) {
    const double y = 100 + 40 * i;
    pieces.push_back({100, y, 500, y + 20});
    pieces.push_back({500 + gap, y, 900 + gap, y + 20});
  }
  return pieces;
}

TEST(WhiteBands, PartColumnsOfText) {
  const auto gutters = gutters_of(two_columns(80), kHeight, 1100, 1000);
  ASSERT_EQ(gutters.size(), 1u);
  EXPECT_GT(gutters[0].centre().x, 500);
  EXPECT_LT(gutters[0].centre().x, 580);
  EXPECT_TRUE(gutters_of(two_columns(10), kHeight, 1100, 1000).empty());
  EXPECT_TRUE(gutters_of({}, kHeight, 1100, 1000).empty());
  EXPECT_TRUE(gutters_of(two_columns(80), 0, 1100, 1000).empty());
}

TEST(WhiteBands, ThatAreShortPartNothing) {
  auto pieces = two_columns(80);
  pieces.resize(6);  // three lines
  EXPECT_TRUE(gutters_of(pieces, kHeight, 1100, 1000).empty());
}

TEST(WhiteBands, EndAtARuleThatCrossesThem) {
  const std::vector<Box> gutters = {{520, 100, 560, 900}};
  const Component rule{100, 400, 1000, 404, 3600};
  const auto cut = cut_at_rules(gutters, {rule});
  ASSERT_EQ(cut.size(), 2u);
  EXPECT_EQ(cut[0].y1, 400);
  EXPECT_EQ(cut[1].y0, 404);
  const Component beside{600, 400, 1000, 404, 1600};
  EXPECT_EQ(cut_at_rules(gutters, {beside}).size(), 1u);
}

TEST(Rows, PiecesOnOneLevelInSeveralRowsAreOneLine) {
  std::vector<LetterLine> lines;
  for (int i = 0; i < 4; ++i) {
    lines.push_back(line_of(letters_at(100, 200 + 50 * i, 5)));
    lines.push_back(line_of(letters_at(700, 200 + 50 * i, 4)));
  }
  std::vector<LetterLine> parted = lines, few(lines.begin(), lines.begin() + 4);
  join_rows({}, kHeight, lines);
  EXPECT_EQ(lines.size(), 4u);
  join_rows({{400, 100, 420, 500}}, kHeight, parted);
  EXPECT_EQ(parted.size(), 8u);
  join_rows({}, kHeight, few);  // two rows are a coincidence
  EXPECT_EQ(few.size(), 4u);
}

TEST(Rows, LeadersBringThePageNumberToItsEntry) {
  Sorted sorted;
  for (int x = 210; x < 680; x += 20) sorted.marks.push_back(box_at(x, 196, 4, 4));
  std::vector<LetterLine> lines = {line_of(letters_at(100, 200, 5)),
                                   line_of(letters_at(700, 200, 2))};
  std::vector<LetterLine> bare = lines;
  join_leaders(sorted, {}, kHeight, lines);
  EXPECT_EQ(lines.size(), 1u);
  join_leaders({}, {}, kHeight, bare);
  EXPECT_EQ(bare.size(), 2u);
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

// ---- text that runs up the page ----

TEST(UprightText, IsTakenOutOfTheLevelLines) {
  Sorted sorted;
  for (int i = 0; i < 6; ++i) append(sorted.letters, letters_at(300, 200 + 50 * i, 20));
  const size_t level = sorted.letters.size();
  for (int i = 0; i < 10; ++i) sorted.letters.push_back(box_at(40, 150 + 19 * i, 20, 14));
  const auto blocks = take_upright_text(kHeight, 1000, sorted);
  ASSERT_EQ(blocks.size(), 1u);
  ASSERT_EQ(blocks[0].lines.size(), 1u);
  EXPECT_TRUE(blocks[0].lines[0].runs_up_or_down());
  EXPECT_EQ(blocks[0].kind, BlockKind::kMarginNote);  // at the page's edge
  EXPECT_EQ(sorted.letters.size(), level);
}

TEST(UprightText, AColumnOfFiguresIsNone) {
  Sorted sorted;
  for (int i = 0; i < 10; ++i) append(sorted.letters, letters_at(300, 200 + 40 * i, 2));
  EXPECT_TRUE(take_upright_text(kHeight, 1000, sorted).empty());
  EXPECT_EQ(sorted.letters.size(), 20u);
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

TEST(TickBoxes, BelowEachOtherTheyBeginAColumn) {
  const std::vector<Component> column = {box_at(300, 100, 30, 30), box_at(302, 160, 30, 30),
                                         box_at(299, 220, 30, 30)};
  const auto gutters = gutters_before(column, kHeight);
  ASSERT_EQ(gutters.size(), 1u);
  EXPECT_EQ(gutters[0].y0, 100);
  EXPECT_EQ(gutters[0].y1, 250);
  EXPECT_LE(gutters[0].x1, 300);
  EXPECT_TRUE(gutters_before({box_at(300, 100, 30, 30)}, kHeight).empty());
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

TEST(SortedComponents, GoByTheirSizeInTextHeights) {
  const Sorted sorted = sort_components({box_at(10, 10, 14, 20),
                                         box_at(40, 26, 4, 4),
                                         {100, 20, 500, 23, 1200},
                                         box_at(100, 200, 300, 250)},
                                        kHeight);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.marks.size(), 1u);
  EXPECT_EQ(sorted.rules.size(), 1u);
  EXPECT_EQ(sorted.pictures.size(), 1u);
}

TEST(SortedComponents, LettersInsideAPictureAreOfThePicture) {
  const Sorted sorted = sort_components(
      {box_at(100, 200, 300, 250), box_at(200, 300, 14, 20), box_at(600, 300, 14, 20)}, kHeight);
  EXPECT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.pictures.size(), 2u);
}

TEST(SortedComponents, ScrapsOnTheTrackOfAnUprightRuleAreDropped) {
  Sorted sorted;
  sorted.letters = {box_at(302, 400, 4, 10), box_at(340, 400, 14, 20)};
  drop_rule_bits({{300, 100, 304, 900, 3000}}, kHeight, sorted);
  ASSERT_EQ(sorted.letters.size(), 1u);
  EXPECT_EQ(sorted.letters[0].x0, 340);
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

}  // namespace
}  // namespace burnisher::layout
