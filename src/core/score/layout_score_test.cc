#include "score/layout_score.h"

#include <gtest/gtest.h>

namespace burnisher::score {
namespace {

Line line_at(double x0, double x1, double y) {
  Line line;
  line.baseline = {{x0, y}, {x1, y}};
  line.x_height = 10;
  line.box = {x0, y - 15, x1, y + 5};
  return line;
}

Block text_of(std::vector<Line> lines, BlockKind kind = BlockKind::kText) {
  Block block;
  block.kind = kind;
  block.lines = std::move(lines);
  return block;
}

Page two_columns() {
  Page page;
  page.blocks = {text_of({line_at(0, 100, 30), line_at(0, 100, 60)}),
                 text_of({line_at(120, 220, 30), line_at(120, 220, 60)}, BlockKind::kHeading)};
  return page;
}

TEST(LayoutScore, ThePageItselfIsFoundWhole) {
  const LayoutScore score = score_layout(two_columns(), two_columns());
  EXPECT_EQ(score.lines, 4);
  EXPECT_EQ(score.line_f1(), 1);
  EXPECT_EQ(score.kind_share(), 1);
  EXPECT_EQ(score.order_share(), 1);
  EXPECT_EQ(score.cell_f1(), 1);  // there are none
}

TEST(LayoutScore, LinesReadAcrossColumnsAreNotFound) {
  Page across;
  across.blocks = {text_of({line_at(0, 220, 30), line_at(0, 220, 60)})};
  const LayoutScore score = score_layout(two_columns(), across);
  EXPECT_EQ(score.found, 0);
  EXPECT_EQ(score.surplus, 0);  // they cover something
}

TEST(LayoutScore, HalvesAndStrayLinesCount) {
  Page page = two_columns();
  page.blocks[0].lines[0] = line_at(0, 50, 30);  // half of it
  page.blocks[0].lines.push_back(line_at(0, 100, 300));
  const LayoutScore score = score_layout(two_columns(), page);
  EXPECT_EQ(score.found, 3);
  EXPECT_EQ(score.surplus, 2);
  EXPECT_NEAR(score.line_f1(), 6.0 / 9, 1e-9);
}

TEST(LayoutScore, OrderAndKindAreSeen) {
  Page page = two_columns();
  std::swap(page.blocks[0], page.blocks[1]);
  page.blocks[0].kind = BlockKind::kText;
  const LayoutScore score = score_layout(two_columns(), page);
  EXPECT_EQ(score.kinds, 2);
  EXPECT_EQ(score.neighbours, 3);
  EXPECT_EQ(score.in_order, 2);
}

TEST(LayoutScore, TextUpsideDownIsAnotherLine) {
  Page page = two_columns();
  std::swap(page.blocks[0].lines[0].baseline[0], page.blocks[0].lines[0].baseline[1]);
  EXPECT_EQ(score_layout(two_columns(), page).found, 3);
}

TEST(LayoutScore, CellsAreFoundByRowAndColumn) {
  Page page;
  page.blocks = {text_of({line_at(0, 50, 30), line_at(80, 120, 30)}, BlockKind::kTable)};
  for (int c = 0; c < 2; ++c) {
    Cell cell;
    cell.column = c;
    cell.lines = {c};
    page.blocks[0].cells.push_back(cell);
  }
  Page other = page;
  EXPECT_EQ(score_layout(page, other).cell_f1(), 1);
  other.blocks[0].cells[1].column = 2;
  EXPECT_EQ(score_layout(page, other).cells_found, 1);
  other.blocks[0].cells.clear();
  EXPECT_EQ(score_layout(page, other).cells_found, 0);
  EXPECT_EQ(score_layout(page, other).found, 2);
}

TEST(LayoutScore, PagesAreHeldAgainstTheirScan) {
  Page page = two_columns();
  page.geometry.to_scan = PlaneMap(Affine{2, 0, 10, 0, 2, 20});
  const Page scan = in_scan_frame(page);
  EXPECT_EQ(scan.blocks[0].lines[0].baseline[1].x, 210);
  EXPECT_EQ(scan.blocks[0].lines[0].baseline[1].y, 80);
  EXPECT_NEAR(scan.blocks[0].lines[0].x_height, 20, 1e-9);
}

TEST(LayoutScore, LinesOfACurledScanBendWithIt) {
  Page page = two_columns();
  // The scan's right half lies ten pixels lower.
  auto field = std::make_shared<DisplacementField>();
  field->step = 50;
  field->columns = 9;
  field->rows = 2;
  for (int row = 0; row < 2; ++row)
    for (int column = 0; column < 9; ++column) field->down.push_back(column < 2 ? 0.f : 10.f);
  page.geometry.to_scan = PlaneMap(Affine(), field);
  const Line& level = page.blocks[0].lines[0];
  const Line bent = in_scan_frame(page).blocks[0].lines[0];
  ASSERT_GT(bent.baseline.size(), level.baseline.size());
  EXPECT_EQ(bent.baseline.front().y, level.baseline.front().y);
  EXPECT_EQ(bent.baseline.back().y, level.baseline.back().y + 10);
  EXPECT_EQ(bent.baseline.back().x, level.baseline.back().x);
  for (size_t i = 1; i < bent.baseline.size(); ++i)
    EXPECT_GE(bent.baseline[i].x, bent.baseline[i - 1].x);
}

TEST(LayoutScore, CellsMoveIntoTheScanToo) {
  Page page = two_columns();
  Cell cell;
  cell.box = {10, 20, 30, 40};
  page.blocks[0].cells.push_back(cell);
  page.geometry.to_scan = PlaneMap(Affine{2, 0, 10, 0, 2, 20});
  EXPECT_EQ(in_scan_frame(page).blocks[0].cells[0].box.x0, 30);
  EXPECT_EQ(in_scan_frame(page).blocks[0].cells[0].box.y1, 100);
}

}  // namespace
}  // namespace burnisher::score
