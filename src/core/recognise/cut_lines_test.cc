#include "recognise/cut_lines.h"

#include <gtest/gtest.h>

namespace burnisher::recognise {
namespace {

// A line as wide as the picture, its baseline at `y`.
Line line_at(double y, double confidence, double x_height = 15) {
  Line line;
  line.x_height = x_height;
  line.baseline = {{5, y}, {595, y}};
  line.box = {5, y - 1.6 * x_height, 595, y};
  line.confidence = confidence;
  line.words.emplace_back();
  return line;
}

Page page_of(std::vector<Line> lines) {
  Page page;
  page.width = page.geometry.scan_width = 600;
  page.height = page.geometry.scan_height = 200;
  Block block;
  block.outline = Box{5, 0, 595, 200}.corners();
  block.lines = std::move(lines);
  page.blocks = {block};
  return page;
}

std::vector<BlockKind> kinds_of(const Page& page) {
  std::vector<BlockKind> kinds;
  for (const Block& block : page.blocks) kinds.push_back(block.kind);
  return kinds;
}

TEST(CutLines, AreSetAsideWithTheirWords) {
  // What is left of the first looks a third as high as it was set.
  Page page = page_of({line_at(6, 0.5, 5), line_at(60, 0.97), line_at(110, 0.97)});
  EXPECT_EQ(set_cut_lines_aside(page), 1);
  EXPECT_EQ(kinds_of(page), (std::vector<BlockKind>{BlockKind::kText, BlockKind::kNoise}));
  EXPECT_EQ(page.blocks[0].lines.size(), 2u);
  EXPECT_EQ(page.blocks[1].lines.at(0).words.size(), 1u);
  EXPECT_GT(bounds(page.blocks[0].outline).y0, 20);
}

TEST(CutLines, AtTheFootToo) {
  Page page = page_of({line_at(60, 0.97), line_at(110, 0.97), line_at(199.5, 0.6)});
  EXPECT_EQ(set_cut_lines_aside(page), 1);
  EXPECT_EQ(page.blocks.back().kind, BlockKind::kNoise);
}

TEST(CutLines, WhatReadsClearlyStaysHoweverCloselyItWasCropped) {
  Page page = page_of({line_at(199.5, 0.97)});
  EXPECT_EQ(set_cut_lines_aside(page), 0);
  EXPECT_EQ(kinds_of(page), std::vector<BlockKind>{BlockKind::kText});
}

TEST(CutLines, LinesThatGoOnBeyondTheSidesAreNone) {
  Line beyond = line_at(60, 0.5);
  beyond.baseline = {{-300, 60}, {900, 60}};
  Page page = page_of({beyond, line_at(110, 0.5)});
  EXPECT_EQ(set_cut_lines_aside(page), 0);
}

TEST(CutLines, TheScansEdgeCountsWhereThePageIsLarger) {
  // Straightening made room above the scan.
  Page page = page_of({line_at(26, 0.5, 5), line_at(80, 0.97), line_at(130, 0.97)});
  page.geometry.to_scan = PlaneMap(Projective(Affine::shift(0, -20)));
  page.geometry.scan_height = 160;
  EXPECT_EQ(set_cut_lines_aside(page), 1);
}

TEST(CutLines, TablesStayWhole) {
  Page page = page_of({line_at(6, 0.5, 5), line_at(60, 0.97)});
  page.blocks[0].kind = BlockKind::kTable;
  EXPECT_EQ(set_cut_lines_aside(page), 0);
  EXPECT_EQ(page.blocks[0].lines.size(), 2u);
}

}  // namespace
}  // namespace burnisher::recognise
