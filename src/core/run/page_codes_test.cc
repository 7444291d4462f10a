#include "run/page_codes.h"

#include <gtest/gtest.h>

#include "barcode/separator_sheet.h"
#include "base/files.h"
#include "intake/pdf_programs.h"
#include "raster/convert.h"
#include "raster/turn.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::run {
namespace {

// A separator sheet as a scan: codes at the upper left and the lower right.
Scan sheet() {
  testing::TemporaryFolder folder;
  write_file(folder.file("s.pdf"), barcode::separator_sheet({{"box", "7"}}));
  Scan scan;
  scan.picture = draw_pdf_page(folder.file("s.pdf"), 1, 100, 1e7);
  return scan;
}

clean::CleanResult page_of_scan(const Scan& scan) {
  clean::CleanResult cleaned;
  cleaned.page.width = width_of(scan.picture);
  cleaned.page.height = height_of(scan.picture);
  return cleaned;
}

TEST(PageCodes, LieWhereThePageShowsThem) {
  const Scan scan = sheet();
  std::vector<clean::CleanResult> pages;
  pages.push_back(page_of_scan(scan));
  // The page shows the scan without its upper left hundred pixels.
  pages[0].page.geometry.to_scan = shifted(PlaneMap(), 100, 100);
  note_barcodes(scan, pages);
  ASSERT_EQ(pages[0].page.barcodes.size(), 2u);
  const Box first = bounds(pages[0].page.barcodes[0].outline);
  EXPECT_NEAR(first.x0, 50 / 0.72 - 100, 4);  // 50 points from the sheet's edge
  EXPECT_NEAR(first.width(), 170 / 0.72, 8);
}

TEST(PageCodes, GoToThePageOfASpreadThatHasThem) {
  const Scan scan = sheet();
  std::vector<clean::CleanResult> pages;
  const int half = height_of(scan.picture) / 2;
  for (int part = 0; part < 2; ++part) {
    pages.push_back(page_of_scan(scan));
    pages.back().page.height = half;
    pages.back().page.geometry.to_scan = shifted(PlaneMap(), 0, part * half);
  }
  note_barcodes(scan, pages);
  EXPECT_EQ(pages[0].page.barcodes.size(), 1u);
  EXPECT_EQ(pages[1].page.barcodes.size(), 1u);
}

TEST(PageCodes, TakeTheirBarsOutOfTheText) {
  const Scan scan = sheet();
  std::vector<clean::CleanResult> pages;
  pages.push_back(page_of_scan(scan));
  Page& page = pages[0].page;
  page.blocks.push_back(testing::block_of({testing::line_at("bars", 120, 160)}));
  page.blocks.push_back(testing::block_of({testing::line_at("Separator", 100, 450)}));
  note_barcodes(scan, pages);
  ASSERT_EQ(page.blocks.size(), 1u);
  EXPECT_EQ(page.blocks[0].lines[0].words[0].text, "Separator");
}

}  // namespace
}  // namespace burnisher::run
