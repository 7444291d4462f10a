#include "layout/order.h"

#include <gtest/gtest.h>

namespace burnisher::layout {
namespace {

// Three lines of text.
Block block_at(double x0, double y0, double x1, double y1) {
  Block block;
  block.outline = Box{x0, y0, x1, y1}.corners();
  for (int i = 0; i < 3; ++i) {
    Line line;
    line.box = {x0, y0 + i * (y1 - y0) / 3, x1, y0 + (i + 1) * (y1 - y0) / 3};
    line.x_height = 14;
    line.baseline = {{x0, line.box.y1}, {x1, line.box.y1}};
    block.lines.push_back(line);
  }
  return block;
}

std::vector<double> order_of(std::vector<Block> blocks, const OrderHints& hints = {}) {
  put_in_reading_order(hints, blocks);
  std::vector<double> places;
  for (const Block& b : blocks)
    places.push_back(bounds(b.outline).x0 * 10000 + bounds(b.outline).y0);
  return places;
}

double place(double x, double y) {
  return x * 10000 + y;
}

TEST(ReadingOrder, WhatIsHigherAcrossThePageComesFirst) {
  // A date at the right, the address lower at the left.
  const auto order = order_of({block_at(0, 300, 400, 500), block_at(700, 100, 900, 140)});
  EXPECT_EQ(order.front(), place(700, 100));
}

TEST(ReadingOrder, AtTheSameHeightTheLeftBlockComesFirst) {
  const auto order = order_of({block_at(700, 100, 900, 140), block_at(0, 110, 400, 150)});
  EXPECT_EQ(order.front(), place(0, 110));
}

std::vector<Block> headline_over_two_columns() {
  return {block_at(540, 110, 1000, 300), block_at(0, 600, 460, 880), block_at(0, 110, 460, 500),
          block_at(540, 400, 1000, 880), block_at(0, 0, 1000, 80)};
}

TEST(ReadingOrder, ColumnsAreReadDownFirst) {
  const std::vector<double> expected = {place(0, 0), place(0, 110), place(0, 600), place(540, 110),
                                        place(540, 400)};
  EXPECT_EQ(order_of(headline_over_two_columns()), expected);
}

TEST(ReadingOrder, FromTheRightColumnsAreReadFromTheRight) {
  const std::vector<double> expected = {place(0, 0), place(540, 110), place(540, 400),
                                        place(0, 110), place(0, 600)};
  OrderHints hints;
  hints.right_to_left = true;
  EXPECT_EQ(order_of(headline_over_two_columns(), hints), expected);
}

TEST(ReadingOrder, WhiteThatHappensToRunAcrossColumnsPartsNothing) {
  const auto order = order_of({block_at(0, 0, 460, 300), block_at(540, 0, 1000, 310),
                               block_at(0, 330, 460, 800), block_at(540, 340, 1000, 800)});
  const std::vector<double> expected = {place(0, 0), place(0, 330), place(540, 0), place(540, 340)};
  EXPECT_EQ(order, expected);
}

TEST(ReadingOrder, ARuleOrHeadingsRightAcrossPartThePage) {
  std::vector<Block> blocks = {block_at(0, 0, 460, 300), block_at(540, 0, 1000, 310),
                               block_at(0, 330, 460, 800), block_at(540, 340, 1000, 800)};
  const std::vector<double> expected = {place(0, 0), place(540, 0), place(0, 330), place(540, 340)};
  OrderHints ruled;
  ruled.rules = {{0, 318, 1000, 322}};
  EXPECT_EQ(order_of(blocks, ruled), expected);
  blocks[2].kind = blocks[3].kind = BlockKind::kHeading;
  EXPECT_EQ(order_of(blocks), expected);
}

TEST(ReadingOrder, AStoryIsReadToItsEndBeforeTheNextOneBesideIt) {
  // A headline over two columns, another story in a third.
  const auto order =
      order_of({block_at(0, 0, 620, 60), block_at(0, 80, 300, 700), block_at(320, 80, 620, 700),
                block_at(660, 10, 960, 50), block_at(660, 70, 960, 700)});
  const std::vector<double> expected = {place(0, 0), place(0, 80), place(320, 80), place(660, 10),
                                        place(660, 70)};
  EXPECT_EQ(order, expected);
}

Block entry_at(double x0, double y0, double x1) {
  Block block = block_at(x0, y0, x1, y0 + 20);
  block.lines.resize(1);
  block.lines[0].box = {x0, y0, x1, y0 + 20};
  block.lines[0].baseline = {{x0, y0 + 18}, {x1, y0 + 18}};
  return block;
}

TEST(ReadingOrder, LabelsAreReadWithTheirEntries) {
  std::vector<Block> blocks;
  for (int i = 0; i < 4; ++i) {
    blocks.push_back(entry_at(0, 60.0 * i, 150));
    blocks.push_back(entry_at(300, 60.0 * i + 2, 600));
  }
  const auto order = order_of(blocks);
  for (size_t i = 0; i < 4; ++i) {
    EXPECT_EQ(order[2 * i], place(0, 60.0 * static_cast<double>(i)));
    EXPECT_EQ(order[2 * i + 1], place(300, 60.0 * static_cast<double>(i) + 2));
  }
}

TEST(ReadingOrder, NotesFollowTheirBlockAndFeetComeLast) {
  Block note = block_at(0, 200, 90, 240), footnote = block_at(100, 700, 460, 740),
        number = block_at(400, 900, 420, 910);
  note.kind = BlockKind::kMarginNote;
  footnote.kind = BlockKind::kFootnote;
  number.kind = BlockKind::kPageNumber;
  const auto order = order_of({number, note, footnote, block_at(100, 0, 460, 190),
                               block_at(100, 195, 460, 600), block_at(500, 0, 900, 600)});
  const std::vector<double> expected = {place(100, 0), place(100, 195), place(0, 200),
                                        place(500, 0), place(100, 700), place(400, 900)};
  EXPECT_EQ(order, expected);
}

TEST(ReadingOrder, ARuleBesideAColumnDoesNotCutIt) {
  // A column from top to foot, and two bands beside it that a rule parts.
  const std::vector<Block> blocks = {block_at(0, 0, 280, 390),   block_at(0, 410, 280, 800),
                                     block_at(320, 0, 600, 390), block_at(320, 410, 600, 800),
                                     block_at(640, 0, 920, 390), block_at(640, 410, 920, 800)};
  OrderHints hints;
  hints.rules = {{320, 398, 920, 402}};
  const std::vector<double> expected = {place(0, 0),   place(0, 410),   place(320, 0),
                                        place(640, 0), place(320, 410), place(640, 410)};
  EXPECT_EQ(order_of(blocks, hints), expected);
}

TEST(ReadingOrder, SpeakersAreReadBeforeTheirSpeeches) {
  std::vector<Block> blocks;
  for (int i = 0; i < 4; ++i) {
    blocks.push_back(block_at(200, 120.0 * i, 900, 120.0 * i + 90));
    Block speaker = entry_at(0, 120.0 * i + 6, 150);
    speaker.lines[0].baseline = {{0, 120.0 * i + 30}, {150, 120.0 * i + 30}};
    blocks.push_back(speaker);
  }
  const auto order = order_of(blocks);
  for (size_t i = 0; i < 4; ++i) {
    EXPECT_EQ(order[2 * i], place(0, 120.0 * static_cast<double>(i) + 6));
    EXPECT_EQ(order[2 * i + 1], place(200, 120.0 * static_cast<double>(i)));
  }
}

TEST(ReadingOrder, ColumnsAreCutWhereAPersonSays) {
  std::vector<Block> blocks;
  for (int i = 0; i < 4; ++i) {  // entries that would be read across
    blocks.push_back(entry_at(0, 60.0 * i, 150));
    blocks.push_back(entry_at(300, 60.0 * i, 600));
  }
  OrderHints hints;
  hints.gutters = {220};
  const auto order = order_of(blocks, hints);
  for (size_t i = 0; i < 4; ++i) EXPECT_EQ(order[i], place(0, 60.0 * static_cast<double>(i)));
}

}  // namespace
}  // namespace burnisher::layout
