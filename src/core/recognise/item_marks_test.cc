#include "recognise/item_marks.h"

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

using testing::block_of;
using testing::line_at;

TEST(ItemMarks, AreNumbersLettersNumeralsAndBullets) {
  for (const char* mark : {"1.", "12.", "3)", "(4)", "A.", "b)", "IV.", "xii.", "2.1.", "3a.", "•"})
    EXPECT_TRUE(is_item_mark(mark)) << mark;
  for (const char* other :
       {"", "1", "12", "A", "No.", "and.", "1905.50", "St.", "+", "1-2.", "etc."})
    EXPECT_FALSE(is_item_mark(other)) << other;
}

TEST(ItemMarks, BeginTheLineTheyStandBefore) {
  Page page;
  page.blocks = {block_of({line_at("1.", 100, 100), line_at("2.", 100, 180)}),
                 block_of({line_at("Trim the lamps", 170, 100), line_at("every night.", 170, 140)}),
                 block_of({line_at("Wind the clock.", 170, 180)})};
  join_item_marks(page);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "1. Trim the lamps");
  EXPECT_EQ(page.blocks[0].lines[1].text(), "every night.");
  EXPECT_EQ(page.blocks[1].lines[0].text(), "2. Wind the clock.");
  EXPECT_EQ(bounds(page.blocks[1].outline).x0, 100);
  EXPECT_EQ(page.blocks[1].lines[0].baseline.size(), 4u);
}

TEST(ItemMarks, WithoutTheirPointAreKnownByTheirNeighbours) {
  Page page;
  page.blocks = {block_of({line_at("7.", 100, 100), line_at("Trim the lamps", 170, 100)}),
                 block_of({line_at("8", 100, 180)}),
                 block_of({line_at("Wind the clock.", 170, 180)}),
                 block_of({line_at("44", 100, 260)}), block_of({line_at("Oil", 170, 260)})};
  join_item_marks(page);
  ASSERT_EQ(page.blocks.size(), 4u);
  EXPECT_EQ(page.blocks[1].lines[0].text(), "8 Wind the clock.");
  EXPECT_EQ(page.blocks[2].lines[0].text(), "44");
}

TEST(ItemMarks, LabelsStandBeforeTheirEntries) {
  Page page;
  page.blocks = {block_of({line_at("PRESENT:", 100, 100)}),
                 block_of({line_at("ABSENT:", 100, 180)}),
                 block_of({line_at("Ivor Fairley", 300, 100), line_at("Cora Wood", 300, 140),
                           line_at("R. Quillgrove", 300, 180)})};
  join_item_marks(page);
  ASSERT_EQ(page.blocks.size(), 1u);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "PRESENT: Ivor Fairley");
  EXPECT_EQ(page.blocks[0].lines[1].text(), "Cora Wood");
  EXPECT_EQ(page.blocks[0].lines[2].text(), "ABSENT: R. Quillgrove");
}

TEST(ItemMarks, ALineOfProseThatEndsWithAColonIsNoLabel) {
  Page page;
  page.blocks = {block_of({line_at("as is said there:", 100, 100), line_at("the lamps", 100, 140)}),
                 block_of({line_at("Next column", 500, 100)})};
  join_item_marks(page);
  EXPECT_EQ(page.blocks.size(), 2u);
}

TEST(ItemMarks, FarFromAnyTextTheyStay) {
  Page page;
  page.blocks = {block_of({line_at("1.", 100, 100)}), block_of({line_at("Far away", 700, 100)}),
                 block_of({line_at("Below", 170, 160)})};
  join_item_marks(page);
  EXPECT_EQ(page.blocks.size(), 3u);
}

TEST(ItemMarks, InTablesAreEntries) {
  Page page;
  page.blocks = {block_of({line_at("1.", 100, 100)}), block_of({line_at("Oil", 170, 100)})};
  for (Block& b : page.blocks) b.kind = BlockKind::kTable;
  join_item_marks(page);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "1.");
}

TEST(ItemMarks, PicturesWithoutLinesStay) {
  Page page;
  Block picture;
  picture.kind = BlockKind::kPicture;
  page.blocks = {picture};
  join_item_marks(page);
  EXPECT_EQ(page.blocks.size(), 1u);
}

}  // namespace
}  // namespace burnisher::recognise
