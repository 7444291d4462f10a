#include "pagefile/hocr.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

Page read(const std::string& body) {
  testing::TemporaryFolder folder;
  const std::string path = folder.file("a.html");
  write_file(path,
             "<?xml version=\"1.0\"?><html xmlns=\"http://www.w3.org/1999/xhtml\"><head><meta "
             "name=\"ocr-system\" content=\"x\"/></head><body>" +
                 body + "</body></html>");
  const std::vector<Page> pages = read_hocr_file(path);
  return pages.front();
}

TEST(Hocr, GivesWordsPlacesAndKinds) {
  const Page page = read(
      "<div class='ocr_page' title='image \"log \\\"b\\\".png\"; bbox 0 0 600 800; scan_res 200 "
      "200'>"
      "<div class='ocr_pageno' title='bbox 280 10 320 30'><span class='ocr_line' title='bbox 280 "
      "10 "
      "320 30'><span class='ocrx_word' title='bbox 280 10 320 30; x_wconf "
      "80'>12</span></span></div>"
      "<div class='ocr_carea' title='bbox 50 50 500 90'><p class='ocr_par'><span class='ocr_line' "
      "title='bbox 50 50 500 90'><span class='ocrx_word' title='bbox 50 50 150 "
      "90'><strong>The</strong>"
      "</span> <span class='ocrx_word' title='bbox 160 50 300 90; x_wconf "
      "55'>lamp</span></span></p>"
      "</div></div>");
  EXPECT_EQ(page.file, "log \"b\".png");
  EXPECT_EQ(page.width, 600);
  EXPECT_EQ(page.dpi, 200);
  ASSERT_EQ(page.blocks.size(), 2u);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kPageNumber);
  const Line& line = page.blocks[1].lines.at(0);
  EXPECT_EQ(line.text(), "The lamp");
  EXPECT_EQ(line.words[1].box.x0, 160);
  EXPECT_NEAR(line.words[1].confidence, 0.55, 1e-9);
}

TEST(Hocr, ThatIsNoneIsRefused) {
  EXPECT_THROW(read("<p>lamp</p>"), FormatError);
  EXPECT_THROW(read("<div class='ocr_page' title='bbox 0 0 x 9'/>"), FormatError);
  EXPECT_FALSE(looks_like_hocr("<html><body>lamp</body></html>"));
}

}  // namespace
}  // namespace burnisher
