#include "clean/letter_rows.h"

#include <gtest/gtest.h>

#include "clean/blank.h"
#include "clean/borders.h"
#include "clean/clean.h"
#include "clean/edges.h"
#include "clean/faint_ink.h"
#include "clean/sheet_outline.h"
#include "raster/convert.h"
#include "testing/printed_page.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::PrintedPage;

TEST(LetterRows, TellRowsFromSpecksAndColumns) {
  PrintedPage page(800, 400);
  page.print({"Skerrow Light", 100, 120, 48}).disc(600, 300, 3).rule(100, 350, 700, 350, 3);
  const std::vector<Component> list = components_of(to_bitonal(page.picture(), 128)).list;
  int rows = 0, alone = 0;
  for (const LetterRow& row : letter_rows(list, 24)) {
    if (row.across_size >= 4) ++rows;
    if (row.alone()) ++alone;
  }
  EXPECT_GE(rows, 11);
  EXPECT_GE(alone, 2);
}

// Shade along the left side that is at its edge as dark as a scanner's bed.
Gray shaded(Gray page, int reach, int dark) {
  for (int y = 0; y < page.height(); ++y) {
    for (int x = 0; x < reach; ++x) {
      uint8_t& v = page.row(y)[x];
      v = static_cast<uint8_t>(v * (dark + (255 - dark) * x / reach) / 255);
    }
  }
  return page;
}

TEST(Crop, LettersInShadeAreNotCutOffAsTheBed) {
  PrintedPage print(1200, 800);
  for (int i = 0; i < 8; ++i)
    print.print({"Region-based reading of the keeper's log", 12, 100 + 85.0 * i, 44});
  Scan scan;
  scan.picture = shaded(print.picture(), 300, 60);
  scan.stated_dpi = 200;
  const auto pages = clean(scan, {});
  ASSERT_EQ(pages.size(), 1u);
  EXPECT_EQ(pages[0].page.width, 1200);
  // With nothing in it, the same band is bed.
  PrintedPage inner(1200, 800);
  for (int i = 0; i < 8; ++i) inner.print({"Region-based reading", 250, 100 + 85.0 * i, 44});
  Gray bed = inner.picture();
  for (int y = 0; y < 800; ++y) std::fill_n(bed.row(y), 150, uint8_t{30});
  scan.picture = std::move(bed);
  EXPECT_LT(clean(scan, {})[0].page.width, 1100);
}

TEST(Edges, LettersOfARowThatRunsToAnEdgeStay) {
  PrintedPage print(1000, 800);
  print.print({"The lamp was lit at dusk and burned until the morning", 4, 400, 44});
  const Bitonal text = to_bitonal(print.picture(), 128);
  Bitonal ink = text.clone();
  EXPECT_EQ(clear_edges({Affine{}, 1000, 800}, 20, ink), 0);
  EXPECT_EQ(ink.bytes(), text.bytes());
  // Scraps of the leaf beside stand alone.
  print.rule(990, 100, 997, 100, 14).rule(991, 200, 998, 200, 15).rule(990, 300, 996, 300, 12);
  ink = to_bitonal(print.picture(), 128);
  EXPECT_EQ(clear_edges({Affine{}, 1000, 800}, 20, ink), 3);
  EXPECT_EQ(ink.bytes(), text.bytes());
}

TEST(SheetOutline, AnEdgeBeyondWhichRowsOfLettersStandIsNone) {
  SheetOutline outline;
  outline.left = Edge{200, 0};
  outline.right = Edge{900, 0};
  std::vector<Component> row;
  for (int i = 0; i < 8; ++i) row.push_back({20 + 22 * i, 300, 34 + 22 * i, 320, 150});
  const SheetOutline kept = with_all_letters(outline, row, 20);
  EXPECT_FALSE(kept.left.has_value());
  EXPECT_TRUE(kept.right.has_value());
  row.resize(2);
  EXPECT_TRUE(with_all_letters(outline, row, 20).left.has_value());
}

TEST(Blank, AWordAloneIsNone) {
  for (const char* word : {"Quarterly", "47", "ab"}) {
    PrintedPage page(400, 120);
    page.print({word, 60, 80, 60});
    Scan scan;
    scan.picture = page.picture();
    scan.stated_dpi = 150;
    EXPECT_FALSE(clean(scan, {})[0].blank) << word;
  }
}

TEST(FaintInk, IsFoundWhereItIsKnownToBeAndNowhereElse) {
  Gray page(200, 60, 240);
  for (int y = 20; y < 40; ++y)
    for (int x = 50; x < 150; x += 5) page.row(y)[x] = page.row(y)[x + 1] = 190;
  Bitonal ink(200, 60);
  EXPECT_EQ(add_faint_ink(page, {{40, 15, 160, 45}}, ink), 1);
  EXPECT_TRUE(ink.ink(50, 30));
  EXPECT_FALSE(ink.ink(53, 30));
  Bitonal none(200, 60);
  EXPECT_EQ(add_faint_ink(page, {{0, 0, 40, 60}}, none), 0);
  EXPECT_EQ(none.bytes(), Bitonal(200, 60).bytes());
}

}  // namespace
}  // namespace burnisher::clean
