// Situations on real pages that once went wrong or easily could.

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/segment.h"
#include "raster/convert.h"
#include "testing/printed_page.h"
#include "testing/seen_page.h"

namespace burnisher::layout {
namespace {

using burnisher::testing::PrintedPage;
using burnisher::testing::prose;

using burnisher::testing::segmented;

std::vector<Line> lines_of(const Page& page) {
  std::vector<Line> lines;
  for (const Block& block : page.blocks)
    lines.insert(lines.end(), block.lines.begin(), block.lines.end());
  return lines;
}

PrintedPage page_of_prose(int lines) {
  PrintedPage page(1400, 1300);
  page.print_column(prose(lines, 55), 120, 150, 44, 60);
  return page;
}

TEST(LayoutCases, QuotationMarksStartNoLinesOfTheirOwn) {
  PrintedPage page(1400, 700);
  page.print_column({"“Today we must begin early,” he said to his",
                     "man. “The lamp is waiting for the white oil,",
                     "and by noon the reef will hardly be passable.”",
                     "They carried fifty sacks “from the loft” and"},
                    120, 150, 44, 60);
  const auto lines = lines_of(segmented(page.picture()));
  ASSERT_EQ(lines.size(), 4u);
  for (const Line& line : lines) EXPECT_LT(line.box.x0, 130);
}

TEST(LayoutCases, DotsOfLargeTypeBelongToTheirLine) {
  PrintedPage page(1400, 800);
  page.print({"Rising: six lights in fifteen", 120, 180, 110});
  page.print_column(prose(6, 55), 120, 320, 44, 60);
  EXPECT_EQ(lines_of(segmented(page.picture())).size(), 7u);
}

TEST(LayoutCases, SizesMayDifferOnOnePage) {
  PrintedPage page(1400, 1300);
  page.print({"Skerrow Light", 120, 170, 120});
  page.print_column(prose(8, 55), 120, 320, 44, 60);
  page.print_column(prose(3, 60), 120, 1000, 30, 42);
  const auto lines = lines_of(segmented(page.picture()));
  ASSERT_EQ(lines.size(), 12u);
  EXPECT_NEAR(lines[0].x_height, 120 * 0.459, 5);
  EXPECT_NEAR(lines[4].x_height, 44 * 0.459, 1.5);
  EXPECT_NEAR(lines[11].x_height, 30 * 0.459, 1.5);
}

TEST(LayoutCases, BlocksEndWhereTheDistanceGrows) {
  PrintedPage page(1400, 1300);
  page.print_column(prose(4, 55), 120, 150, 44, 60);
  page.print_column(prose(4, 55), 120, 520, 44, 60);
  const Page found = segmented(page.picture());
  EXPECT_EQ(std::count_if(found.blocks.begin(), found.blocks.end(),
                          [](const Block& b) { return !b.lines.empty(); }),
            2);
}

TEST(LayoutCases, ASlightSlopeLeftOverIsFollowed) {
  const auto lines = lines_of(segmented(page_of_prose(8).picture(0.4)));
  ASSERT_EQ(lines.size(), 8u);
  for (const Line& line : lines) {
    const double slope = (line.baseline.back().y - line.baseline.front().y) /
                         (line.baseline.back().x - line.baseline.front().x);
    EXPECT_NEAR(slope, -std::tan(0.4 * 3.14159265 / 180), 0.0015);
  }
}

TEST(LayoutCases, ABentLineGetsABentBaseline) {
  const Gray flat = page_of_prose(6).picture();
  Gray bent(flat.width(), flat.height(), 255);
  const auto sink = [](int x) { return 14 * std::sin(x / 1400.0 * 3.14159265); };
  for (int x = 0; x < flat.width(); ++x) {
    const int shift = static_cast<int>(std::lround(sink(x)));
    for (int y = 0; y + shift < flat.height(); ++y) bent.row(y + shift)[x] = flat.row(y)[x];
  }
  const auto lines = lines_of(segmented(bent));
  ASSERT_EQ(lines.size(), 6u);
  for (size_t i = 0; i < lines.size(); ++i) {
    const double middle = (lines[i].baseline.front().x + lines[i].baseline.back().x) / 2;
    const double expected = 150 + 60.0 * static_cast<double>(i) + sink(static_cast<int>(middle));
    EXPECT_NEAR(height_at(lines[i].baseline, middle), expected, 3);
  }
}

TEST(LayoutCases, UnderlinesAndFramesAreNoText) {
  PrintedPage page = page_of_prose(6);
  page.rule(120, 560, 900, 560, 3)
      .rule(80, 80, 1320, 80, 4)
      .rule(80, 80, 80, 1200, 4)
      .rule(1320, 80, 1320, 1200, 4)
      .rule(80, 1200, 1324, 1200, 4);
  EXPECT_EQ(lines_of(segmented(page.picture())).size(), 6u);
}

TEST(LayoutCases, LeadersReachTheirPageNumber) {
  PrintedPage page(1400, 900);
  const char* titles[] = {"The tower", "The lamp and its oil", "Relief and stores", "The keepers"};
  for (int i = 0; i < 4; ++i) {
    const double y = 200 + 80.0 * i;
    page.print({titles[i], 120, y, 44}).print({std::to_string(7 + 12 * i), 1240, y, 44});
    for (double x = 560; x < 1200; x += 26) page.disc(x, y - 3, 3);
  }
  const auto lines = lines_of(segmented(page.picture()));
  ASSERT_EQ(lines.size(), 4u);
  for (const Line& line : lines) EXPECT_GT(line.box.x1, 1240);
}

TEST(LayoutCases, HeadlinesAcrossColumnsComeBeforeThem) {
  PrintedPage page(1700, 1500);
  page.print({"First Headline of the Skerrow Courier", 120, 160, 70});
  page.print_column(prose(9, 34), 120, 260, 40, 52);
  page.print_column(prose(9, 34), 920, 260, 40, 52);
  page.rule(120, 770, 1600, 770, 4);
  page.print({"Second Headline about the Relief", 120, 860, 70});
  page.print_column(prose(9, 34), 120, 960, 40, 52);
  page.print_column(prose(9, 34), 920, 960, 40, 52);
  const auto lines = lines_of(segmented(page.picture()));
  ASSERT_EQ(lines.size(), 38u);
  EXPECT_GT(lines[0].x_height, 28);
  EXPECT_GT(lines[19].x_height, 28);  // the second headline after all of the upper columns
  EXPECT_GT(lines[19].box.y0, 780);
}

TEST(LayoutCases, SpecksBesideALineDoNotMoveItsBaseline) {
  PrintedPage page = page_of_prose(5);
  for (int i = 0; i < 40; ++i) page.disc(130 + 28 * i, 225 + (i * 37) % 17, 2);
  const auto lines = lines_of(segmented(page.picture()));
  ASSERT_GE(lines.size(), 5u);
  EXPECT_NEAR(height_at(lines[1].baseline, 600), 210, 3);
}

TEST(LayoutCases, EveryLineHasAPlaceInsideThePage) {
  const Page page = segmented(page_of_prose(15).picture(3));
  for (const Line& line : lines_of(page)) {
    EXPECT_GE(line.baseline.size(), 2u);
    EXPECT_GT(line.x_height, 1);
    EXPECT_LE(line.box.x1, page.width);
    EXPECT_LE(line.box.y1, page.height);
    EXPECT_LT(line.baseline.front().x, line.baseline.back().x);
  }
}

const Block* first_of(const Page& page, BlockKind kind) {
  const auto found = std::find_if(page.blocks.begin(), page.blocks.end(),
                                  [&](const Block& b) { return b.kind == kind; });
  return found == page.blocks.end() ? nullptr : &*found;
}

TEST(LayoutCases, DropCapitalsStandBeforeTheBlockTheyBegin) {
  PrintedPage page(1500, 1200);
  page.print_column(prose(4, 55), 120, 150, 44, 60);
  page.print({"T", 120, 570, 175});
  page.print_column(prose(2, 48), 245, 512, 44, 60);
  page.print_column(prose(6, 55), 120, 632, 44, 60);
  const Page found = segmented(page.picture());
  const Block* initial = first_of(found, BlockKind::kDropCapital);
  ASSERT_NE(initial, nullptr);
  ASSERT_EQ(initial->lines.size(), 1u);
  EXPECT_NEAR(initial->lines[0].baseline.front().y, 570, 3);
  const Block* next = initial + 1;
  ASSERT_LT(next, found.blocks.data() + found.blocks.size());
  EXPECT_NEAR(next->lines.front().box.x0, 245, 8);
  EXPECT_EQ(lines_of(found).size(), 13u);
}

TEST(LayoutCases, HeadlinesAreNoDropCapitals) {
  PrintedPage page(1500, 1200);
  page.print({"The light of Skerrow", 120, 260, 150});
  page.print_column(prose(6, 55), 120, 360, 44, 60);
  EXPECT_EQ(first_of(segmented(page.picture()), BlockKind::kDropCapital), nullptr);
}

TEST(LayoutCases, TextThatRunsUpThePageIsALineOfItsOwn) {
  PrintedPage page(1500, 1300);
  page.print_column(prose(14, 50), 220, 200, 44, 60);
  page.print({"Skerrow light board, stores", 110, 1000, 40, "Liberation Sans", 90});
  const auto lines = lines_of(segmented(page.picture()));
  ASSERT_EQ(lines.size(), 15u);
  const auto upright = std::find_if(lines.begin(), lines.end(), [](const Line& line) {
    return line.box.height() > 3 * line.box.width();
  });
  ASSERT_NE(upright, lines.end());
  EXPECT_NEAR(upright->baseline.front().x, 110, 3);
  EXPECT_NEAR(upright->baseline.front().y, 1000, 8);
  EXPECT_LT(upright->baseline.back().y, upright->baseline.front().y);
}

TEST(LayoutCases, TickBoxesAreNoTextAndBeginColumns) {
  PrintedPage page(1400, 700);
  page.print_column(prose(3, 50), 120, 150, 44, 60);
  const char* const left[] = {"paraffin", "wicks", "white lead"};
  const char* const right[] = {"rope", "coal for the fog signal", "tinned meat"};
  for (int i = 0; i < 3; ++i) {
    const double y = 400 + 70 * i;
    page.square(120, y - 32, 34, 3).print({left[i], 180, y, 44});
    page.square(700, y - 32, 34, 3).print({right[i], 760, y, 44});
  }
  const Page found = segmented(page.picture());
  EXPECT_EQ(first_of(found, BlockKind::kTable), nullptr);
  const auto lines = lines_of(found);
  ASSERT_EQ(lines.size(), 9u);
  for (int i = 0; i < 3; ++i) {
    EXPECT_NEAR(lines[static_cast<size_t>(3 + i)].box.x0, 180, 8);
    EXPECT_NEAR(lines[static_cast<size_t>(6 + i)].box.x0, 760, 8);
  }
}

// That a solid square is no box to tick, wherever it stands, TickBoxes.AreEmptySquares holds.
TEST(LayoutCases, LargeSquareFullStopsAreNoTickBoxes) {
  PrintedPage page(1400, 900);
  for (int i = 0; i < 6; ++i) {
    const double y = 200 + 90 * i;
    page.print({"Lit at dusk", 120, y, 44})
        .rule(346, y - 13, 372, y - 13, 26)
        .print({"Wind", 396, y, 44});
  }
  EXPECT_EQ(lines_of(segmented(page.picture())).size(), 6u);
}

TEST(LayoutCases, SlopingLinesHaveAnOutlineNarrowerThanTheirBox) {
  const auto lines = lines_of(segmented(page_of_prose(8).picture(1.5)));
  ASSERT_EQ(lines.size(), 8u);
  for (const Line& line : lines) {
    ASSERT_GT(line.outline.size(), 4u);
    const Box whole = bounds(line.outline);
    EXPECT_DOUBLE_EQ(whole.x0, line.box.x0);
    EXPECT_DOUBLE_EQ(whole.y0, line.box.y0);
    EXPECT_DOUBLE_EQ(whole.x1, line.box.x1);
    EXPECT_DOUBLE_EQ(whole.y1, line.box.y1);
    double area = 0;  // by the shoelace formula
    for (size_t i = 0; i < line.outline.size(); ++i) {
      const Point &a = line.outline[i], &b = line.outline[(i + 1) % line.outline.size()];
      area += (a.x * b.y - b.x * a.y) / 2;
    }
    EXPECT_LT(std::fabs(area), 0.85 * whole.width() * whole.height());
  }
}

}  // namespace
}  // namespace burnisher::layout
