// Lines that the network did not see, or hardly: on painted maps.
#include <gtest/gtest.h>

#include "layout/segment.h"
#include "raster/convert.h"
#include "testing/painted_maps.h"
#include "testing/printed_page.h"

namespace burnisher::layout {
namespace {

using burnisher::testing::PaintedMaps;
using burnisher::testing::PrintedPage;

// How many lines there are on a page where the network saw each line of print so well, 0-1.
size_t lines_found(const std::vector<float>& seen) {
  PrintedPage print(1000, 1000);
  PaintedMaps painted;
  painted.fill(kAxisCosMap, {0, 0, 1000, 1000});
  for (size_t i = 0; i < seen.size(); ++i) {
    const double y = 100 + 70 * static_cast<double>(i);
    print.print({"Lit at sunset", 100, y, 40});
    painted.fill(kBandMap, {90, y - 20, 360, y}, seen[i]);
  }
  Page page;
  page.width = page.height = 1000;
  segment(to_bitonal(print.picture(), 128), painted.maps(), 26, {}, page);
  size_t lines = 0;
  for (const Block& block : page.blocks) lines += block.lines.size();
  return lines;
}

TEST(UnseenLines, AreDropped) {
  EXPECT_EQ(lines_found({1, 1, 1, 1}), 4u);
  EXPECT_EQ(lines_found({1, 1, 1, 0.05f}), 3u);
}

TEST(UnseenLines, AFewHardlySeenAmongManyStayToBeRead) {
  EXPECT_EQ(lines_found({1, 1, 1, 0.22f}), 4u);
  EXPECT_EQ(lines_found({1, 1, 0.22f, 1, 1, 0.22f, 1, 1}), 8u);
}

TEST(UnseenLines, ManyHardlySeenAreNoPrint) {
  EXPECT_EQ(lines_found({0.22f, 0.22f, 0.22f}), 0u);
  EXPECT_EQ(lines_found({1, 1, 1, 0.22f, 0.22f, 0.22f}), 3u);
}

}  // namespace
}  // namespace burnisher::layout
