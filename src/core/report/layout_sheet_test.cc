#include "report/layout_sheet.h"

#include <gtest/gtest.h>

#include "report/html.h"

namespace burnisher::report {
namespace {

Page page_with(const std::vector<Box>& blocks) {
  Page page;
  page.width = 200;
  page.height = 200;
  for (const Box& box : blocks) {
    Block block;
    block.outline = box.corners();
    page.blocks.push_back(block);
  }
  return page;
}

// White, with black squares of 20 pixels.
Gray picture_with(const std::vector<Point>& squares) {
  Gray picture(200, 200, 255);
  for (const Point& p : squares)
    for (int y = 0; y < 20; ++y)
      for (int x = 0; x < 20; ++x)
        picture.row(static_cast<int>(p.y) + y)[static_cast<int>(p.x) + x] = 0;
  return picture;
}

TEST(LayoutSheet, InkThatNoBlockCoversIsMeasured) {
  const Gray picture = picture_with({{40, 40}, {120, 120}});
  EXPECT_NEAR(uncovered_ink(page_with({{30, 30, 70, 70}}), picture), 0.5, 0.01);
  EXPECT_EQ(uncovered_ink(page_with({{30, 30, 150, 150}}), picture), 0);
  EXPECT_NEAR(uncovered_ink(page_with({}), picture), 1, 1e-9);
  // The rim counts for nothing: shadows lie there.
  EXPECT_EQ(uncovered_ink(page_with({}), Gray(200, 200, 255)), 0);
}

TEST(LayoutSheet, PagesUnlikeTheirNeighboursAreWorthALook) {
  const Page one = page_with({{10, 10, 50, 50}});
  const Page many = page_with(std::vector<Box>(6, {10, 10, 50, 50}));
  const std::vector<const Page*> pages = {&one, &one, &many, &one, &one};
  const auto reasons = worth_a_look(pages, {0, 0.5, 0, 0, 0});
  EXPECT_TRUE(reasons[0].empty());
  ASSERT_EQ(reasons[1].size(), 1u);
  EXPECT_EQ(reasons[1][0], "50 % of the ink in no block");
  ASSERT_EQ(reasons[2].size(), 1u);
  EXPECT_EQ(reasons[2][0], "6 blocks, its neighbours have 1");
  EXPECT_TRUE(reasons[3].empty());
}

TEST(LayoutSheet, HoldsBlocksLinesAndRulesOfTables) {
  Page page = page_with({{10, 10, 110, 50}});
  page.blocks[0].kind = BlockKind::kTable;
  Cell cell;
  cell.box = {10, 10, 58, 50};
  cell.header = true;
  page.blocks[0].cells.push_back(cell);
  cell.column = 1;
  cell.box = {62, 10, 110, 50};
  page.blocks[0].cells.push_back(cell);
  LayoutSheet sheet;
  sheet.title = "Layout of </script>";
  sheet.leaves.push_back({"log-0001", &page, "job/log-0001.jpg", {"the stencil does not fit"}});
  sheet.picture = [](size_t) { return picture_with({{40, 40}}); };
  const std::string html = layout_html(sheet);
  EXPECT_NE(html.find(R"("columns":[60])"), std::string::npos);
  EXPECT_NE(html.find(R"("header":1)"), std::string::npos);
  EXPECT_NE(html.find("the stencil does not fit"), std::string::npos);
  EXPECT_EQ(html.find("of </script>"), std::string::npos);
}

TEST(Html, NothingInJsonEndsItsScript) {
  EXPECT_EQ(within_script("[\"</script>\"]"), "[\"\\u003c/script>\"]");
}

}  // namespace
}  // namespace burnisher::report
