#include "layout/kinds.h"

#include <gtest/gtest.h>

namespace burnisher::layout {
namespace {

constexpr int kPageHeight = 2000;

// So many lines of 40 pixels' pitch, or less for smaller type.
Block block_of(size_t lines, double x, double y, double width, double x_height = 20) {
  Block block;
  const double pitch = 2 * x_height;
  for (size_t i = 0; i < lines; ++i) {
    Line line;
    const double foot = y + pitch * static_cast<double>(i) + x_height;
    line.x_height = x_height;
    line.stroke = 0.2 * x_height;
    line.baseline = {{x, foot}, {x + width, foot}};
    line.box = {x, foot - x_height, x + width, foot};
    block.lines.push_back(line);
  }
  block.outline = Box{x, y, x + width, y + pitch * static_cast<double>(lines)}.corners();
  return block;
}

TEST(Kinds, LargerLinesAreHeadingsTheLargerTheHigher) {
  std::vector<Block> blocks = {block_of(1, 100, 100, 800, 40), block_of(20, 100, 200, 1200),
                               block_of(1, 100, 1100, 600, 25), block_of(10, 100, 1200, 1200)};
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[0].kind, BlockKind::kHeading);
  EXPECT_EQ(blocks[0].level, 1);
  EXPECT_EQ(blocks[1].kind, BlockKind::kText);
  EXPECT_EQ(blocks[2].kind, BlockKind::kHeading);
  EXPECT_GT(blocks[2].level, 1);
}

TEST(Kinds, ALineAtTheVeryTopSetApartIsARunningHeadAndANarrowOneAtTheFootAPageNumber) {
  std::vector<Block> blocks = {block_of(1, 500, 60, 400), block_of(30, 100, 300, 1200),
                               block_of(1, 680, 1900, 40)};
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[0].kind, BlockKind::kRunningHead);
  EXPECT_EQ(blocks[2].kind, BlockKind::kPageNumber);
}

TEST(Kinds, SmallNarrowPrintBesideTheBodyIsAMarginNote) {
  std::vector<Block> blocks = {block_of(30, 400, 200, 1000), block_of(3, 100, 600, 220, 15)};
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[0].kind, BlockKind::kText);
  EXPECT_EQ(blocks[1].kind, BlockKind::kMarginNote);
}

TEST(Kinds, AShortSmallBlockUnderAPictureIsItsCaption) {
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{300, 300, 1100, 900}.corners();
  std::vector<Block> blocks = {picture, block_of(2, 320, 915, 700, 17),
                               block_of(20, 100, 1050, 1200)};
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[0].kind, BlockKind::kPicture);
  EXPECT_EQ(blocks[1].kind, BlockKind::kCaption);
  EXPECT_EQ(blocks[2].kind, BlockKind::kText);
}

TEST(Kinds, SmallPrintBelowTheBodyIsAFootnote) {
  std::vector<Block> blocks = {block_of(20, 100, 200, 1200), block_of(3, 100, 1500, 1200, 16)};
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[0].kind, BlockKind::kText);
  EXPECT_EQ(blocks[1].kind, BlockKind::kFootnote);
}

TEST(Kinds, ColumnsAtTheFootOfALetterAreNone) {
  // The second was measured a little larger than the others: it has more capitals.
  std::vector<Block> blocks = {block_of(20, 100, 200, 1200), block_of(3, 100, 1500, 200, 17.5),
                               block_of(3, 600, 1503, 160, 19), block_of(3, 1150, 1500, 150, 19)};
  name_kinds(kPageHeight, blocks);
  for (size_t i = 1; i < blocks.size(); ++i) EXPECT_EQ(blocks[i].kind, BlockKind::kText) << i;
}

TEST(Kinds, AColumnBesideWhatIsSeenAsATableIsNone) {
  std::vector<Block> blocks = {block_of(20, 100, 200, 1200), block_of(3, 100, 1500, 200, 17),
                               block_of(6, 600, 1500, 700, 17)};
  blocks[2].kind = BlockKind::kTable;
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[1].kind, BlockKind::kText);
}

TEST(Kinds, ANoteUnderOneColumnIsAFootnoteBesideTheText) {
  std::vector<Block> blocks = {block_of(30, 100, 200, 560), block_of(2, 100, 1500, 560, 16),
                               block_of(34, 740, 200, 560)};
  name_kinds(kPageHeight, blocks);
  EXPECT_EQ(blocks[1].kind, BlockKind::kFootnote);
  EXPECT_EQ(blocks[2].kind, BlockKind::kText);
}

}  // namespace
}  // namespace burnisher::layout
