#include "layout/document.h"

#include <gtest/gtest.h>

#include "layout/stencil.h"

namespace burnisher::layout {
namespace {

Block text_block(const std::string& text, double y, BlockKind kind = BlockKind::kText) {
  Block block;
  block.kind = kind;
  block.outline = Box{100, y, 700, y + 30}.corners();
  Line line;
  line.x_height = 12;
  line.box = {105, y + 5, 695, y + 25};
  line.baseline = {{105, y + 22}, {695, y + 22}};
  for (size_t at = 0; at < text.size();) {
    const size_t space = std::min(text.find(' ', at), text.size());
    line.words.push_back({text.substr(at, space - at), line.box, 0.9, {}});
    at = space + 1;
  }
  block.lines = {line};
  return block;
}

Page page_of(std::vector<Block> blocks) {
  Page page;
  page.width = 800;
  page.height = 1000;
  page.blocks = std::move(blocks);
  return page;
}

TEST(PageNumbers, ThatAreNoneBecomeText) {
  Page page = page_of({text_block("Oil", 500, BlockKind::kPageNumber),
                       text_block("- 9 -", 950, BlockKind::kPageNumber)});
  settle_kinds(page);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kText);
  EXPECT_EQ(page.blocks[1].kind, BlockKind::kPageNumber);
}

TEST(RunningHeads, RepeatButForTheirFigures) {
  Page left =
      page_of({text_block("Keeper's log 14", 40), text_block("Wind and rain all day.", 200)});
  Page right = page_of({text_block("Keeper's log 15", 42), text_block("Calm at last.", 200)});
  mark_repeated(left, right);
  EXPECT_EQ(left.blocks[0].kind, BlockKind::kRunningHead);
  EXPECT_EQ(right.blocks[0].kind, BlockKind::kRunningHead);
  EXPECT_EQ(left.blocks[1].kind, BlockKind::kText);
}

TEST(RunningHeads, FirstLinesThatDifferStayText) {
  Page a = page_of({text_block("The relief came at dawn", 40)});
  Page b = page_of({text_block("No oil was left by then", 40)});
  mark_repeated(a, b);
  EXPECT_EQ(a.blocks[0].kind, BlockKind::kText);
}

std::vector<NumberedPage> numbered(const std::vector<int>& numbers) {
  std::vector<NumberedPage> pages;
  for (int n : numbers) {
    NumberedPage page;
    page.name = "scan " + std::to_string(pages.size() + 1);
    if (n > 0) page.number = PrintedNumber{n, false};
    pages.push_back(page);
  }
  return pages;
}

TEST(Sequence, MissingAndDoubledPagesAreTold) {
  EXPECT_TRUE(sequence_breaks(numbered({5, 6, 0, 8, 9})).empty());
  const auto missing = sequence_breaks(numbered({5, 6, 9, 10}));
  ASSERT_EQ(missing.size(), 1u);
  EXPECT_EQ(missing[0].page, 2u);
  EXPECT_NE(missing[0].what.find("2 pages seem missing"), std::string::npos);
  const auto doubled = sequence_breaks(numbered({5, 6, 6, 7}));
  ASSERT_EQ(doubled.size(), 1u);
  EXPECT_NE(doubled[0].what.find("1 page seems too many"), std::string::npos);
}

TEST(Sequence, ASingleNumberOutOfLineIsAMisreading) {
  EXPECT_TRUE(sequence_breaks(numbered({5, 6, 71, 8, 9})).empty());
}

TEST(Stencil, MovesWithThePagesOwnFrame) {
  const Page model = page_of(
      {text_block("Keeper's log", 40, BlockKind::kRunningHead), text_block("Wind and rain", 200)});
  const Page stencil = stencil_of(model);
  ASSERT_EQ(stencil.blocks.size(), 2u);
  EXPECT_TRUE(stencil.blocks[0].lines.empty());
  Page moved = page_of({text_block("Another head", 70), text_block("Calm at last", 230)});
  const StencilFit fit = lay_over(stencil, moved);
  EXPECT_TRUE(fit.fits());
  EXPECT_EQ(moved.blocks[0].kind, BlockKind::kRunningHead);
  ASSERT_EQ(moved.blocks[0].lines.size(), 1u);
  EXPECT_EQ(moved.blocks[1].lines.size(), 1u);
}

TEST(Stencil, LinesOutsideItAreCounted) {
  const Page stencil = stencil_of(page_of({text_block("Wind and rain", 40)}));
  Page other = page_of({text_block("One", 40), text_block("Two", 500)});
  const StencilFit fit = lay_over(stencil, other);
  EXPECT_EQ(fit.outside, 1);
  EXPECT_FALSE(fit.fits());
}

TEST(Header, WordsOverFiguresAreTheHeadOfATable) {
  Block table;
  table.kind = BlockKind::kTable;
  const char* texts[3][2] = {{"Month", "Rain"}, {"May", "33.3"}, {"June", "70.3"}};
  for (int r = 0; r < 3; ++r) {
    for (int c = 0; c < 2; ++c) {
      Cell cell;
      cell.row = r;
      cell.column = c;
      cell.lines = {static_cast<int>(table.lines.size())};
      table.lines.push_back(text_block(texts[r][c], 100.0 + 40 * r).lines[0]);
      table.cells.push_back(cell);
    }
  }
  Page page = page_of({table});
  settle_kinds(page);
  EXPECT_TRUE(page.blocks[0].cells[0].header);
  EXPECT_FALSE(page.blocks[0].cells[2].header);
}

}  // namespace
}  // namespace burnisher::layout
