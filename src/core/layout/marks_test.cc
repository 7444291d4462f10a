#include "layout/marks.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher::layout {
namespace {

Line line_at(double x0, double y0, double x1, double y1, const std::string& text) {
  Line line;
  line.box = {x0, y0, x1, y1};
  line.baseline = {{x0, y1 - 5}, {x1, y1 - 5}};
  line.x_height = 12;
  if (!text.empty()) line.words.push_back({text, line.box, 0.9, {}});
  return line;
}

// Two paragraphs, one below the other, and a note beside them.
Page page() {
  Page page;
  page.width = 1000;
  page.height = 800;
  const auto add = [&](Box box, std::vector<Line> lines) {
    Block block;
    block.outline = box.corners();
    block.lines = std::move(lines);
    page.blocks.push_back(block);
  };
  add({100, 100, 500, 200},
      {line_at(100, 100, 500, 130, "first"), line_at(100, 150, 480, 180, "second")});
  add({100, 300, 500, 340}, {line_at(100, 300, 400, 330, "third")});
  add({600, 100, 800, 140}, {line_at(600, 100, 790, 130, "note")});
  return page;
}

MarkedBlock block(BlockKind kind, const Box& box) {
  MarkedBlock mark;
  mark.kind = kind;
  mark.outline = box.corners();
  return mark;
}

std::string texts(const Block& block) {
  std::string all;
  for (const Line& line : block.lines) all += (line.words.empty() ? "?" : line.text()) + " ";
  return all;
}

TEST(Marks, BlocksTakeTheLinesThatLieInThemInTheirOrder) {
  Page marked = page();
  const int gone = lay_over({block(BlockKind::kMarginNote, {590, 90, 810, 150}),
                             block(BlockKind::kText, {90, 90, 510, 350})},
                            marked);
  EXPECT_EQ(gone, 0);
  ASSERT_EQ(marked.blocks.size(), 2u);
  EXPECT_EQ(marked.blocks[0].kind, BlockKind::kMarginNote);
  EXPECT_EQ(texts(marked.blocks[0]), "note ");
  EXPECT_EQ(texts(marked.blocks[1]), "first second third ");
}

TEST(Marks, WhatLiesInNoBlockGoes) {
  Page marked = page();
  EXPECT_EQ(lay_over({block(BlockKind::kText, {90, 90, 510, 250})}, marked), 2);
  EXPECT_EQ(texts(marked.blocks[0]), "first second ");
  EXPECT_EQ(lay_over({}, marked), 2);
  EXPECT_TRUE(marked.blocks.empty());
}

TEST(Marks, LayingOverTwiceChangesNothing) {
  MarkedBlock mark = block(BlockKind::kText, {90, 90, 510, 350});
  mark.lines = std::vector<Box>{{100, 100, 500, 130}, {100, 210, 480, 240}};
  Page once = page();
  lay_over({mark}, once);
  EXPECT_EQ(texts(once.blocks[0]), "first ? ");
  Page twice = once;
  lay_over({mark}, twice);
  EXPECT_EQ(layout_digest(twice), layout_digest(once));
  EXPECT_EQ(texts(twice.blocks[0]), "first ? ");
}

TEST(Marks, RowsAndColumnsMakeCellsAndCutLines) {
  Page marked = page();
  MarkedBlock table = block(BlockKind::kTable, {90, 90, 510, 350});
  table.gridded = true;
  table.rows = {140, 250};
  table.columns = {300};
  table.header = 1;
  table.joined = {{0, 0, 1, 2}};
  lay_over({table}, marked);
  const Block& made = marked.blocks[0];
  ASSERT_EQ(made.cells.size(), 5u);
  EXPECT_EQ(made.cells[0].columns, 2);
  EXPECT_TRUE(made.cells[0].header);
  EXPECT_FALSE(made.cells[1].header);
  // The head is one cell and keeps its line; the others were cut, and are to be read.
  EXPECT_EQ(texts(made), "first ? ? ? ? ");
  EXPECT_EQ(made.lines[2].box.x0, 300);
  EXPECT_EQ(made.cells[2].lines, std::vector<int>{2});
}

TEST(Marks, ATableThatWasNotTouchedKeepsItsCells) {
  Page marked = page();
  MarkedBlock table = block(BlockKind::kTable, {90, 90, 510, 350});
  table.gridded = true;
  table.columns = {520};  // outside: no rule
  lay_over({table}, marked);
  ASSERT_EQ(marked.blocks[0].cells.size(), 1u);
  lay_over({block(BlockKind::kTable, {85, 85, 515, 355})}, marked);
  EXPECT_EQ(marked.blocks[0].cells.size(), 1u);
  EXPECT_EQ(texts(marked.blocks[0]), "first second third ");
}

TEST(Marks, ComeBackAsTheyWere) {
  PageMarks marks;
  marks.page = "log-0007";
  marks.seen = "abc";
  marks.turn = 90;
  marks.leave_out = true;
  MarkedBlock table = block(BlockKind::kTable, {90, 90, 510, 350});
  table.gridded = true;
  table.rows = {140.5};
  table.joined = {{0, 0, 1, 2}};
  MarkedBlock text = block(BlockKind::kHeading, {1, 2, 3, 4});
  text.level = 2;
  text.lines = std::vector<Box>{{1, 2, 3, 4}};
  marks.blocks = std::vector<MarkedBlock>{table, text};
  PageMarks bare;
  bare.page = "log-0008";
  const std::string json = written_marks({marks, bare});
  const std::vector<PageMarks> back = read_marks(json);
  EXPECT_EQ(written_marks(back), json);
  EXPECT_FALSE(back[1].blocks);
  EXPECT_EQ((*back[0].blocks)[1].level, 2);
}

TEST(Marks, WhatMakesNoSenseIsRefused) {
  for (
      const char* text :
      {"", "[]", "{\"format\":\"other\",\"pages\":[]}",
       R"({"format":"burnisher-layout-1","pages":[{"blocks":[]}]})",
       R"({"format":"burnisher-layout-1","pages":[{"page":"a","turn":45}]})",
       R"({"format":"burnisher-layout-1","pages":[{"page":"a","blocks":[{"kind":"poem","outline":[[0,0],[1,0],[1,1]]}]}]})",
       R"({"format":"burnisher-layout-1","pages":[{"page":"a","blocks":[{"kind":"text","outline":[[0,0],[1,0]]}]}]})",
       R"({"format":"burnisher-layout-1","pages":[{"page":"a","blocks":[{"kind":"text","outline":[[0,0],[1,0],[1e300,1]]}]}]})"})
    EXPECT_THROW(read_marks(text), FormatError) << text;
}

}  // namespace
}  // namespace burnisher::layout
