#include "run/steps.h"

#include <gtest/gtest.h>

#include "base/files.h"
#include "testing/printed_page.h"

namespace burnisher::run {
namespace {

Word word_of(const std::string& text, double confidence, unsigned reasons = 0) {
  Word word;
  word.text = text;
  word.box = {10, 10, 60, 30};
  word.confidence = confidence;
  for (const char c : text) word.glyphs.push_back({static_cast<char32_t>(c), word.box, confidence});
  word.reasons = reasons;
  return word;
}

Block block_of(BlockKind kind, const std::vector<Word>& words) {
  Block block;
  block.kind = kind;
  block.outline = Box{10, 10, 200, 40}.corners();
  block.lines.emplace_back();
  block.lines.back().words = words;
  block.lines.back().box = {10, 10, 200, 40};
  return block;
}

Page log_page() {
  Page page;
  page.file = "in/box 3.tif";
  page.number = 7;
  page.dpi = 240;
  page.width = 400;
  page.height = 300;
  page.blocks = {block_of(BlockKind::kText, {word_of("Lit", 0.99), word_of("dnsk", 0.5, kUnknown)}),
                 block_of(BlockKind::kNoise, {word_of("scrawl", 0.3, kUnsure)}),
                 block_of(BlockKind::kNoise, {word_of("stamp", 0.2)})};
  return page;
}

TEST(ReportOfAPage, CountsWhatIsTextAndWhatWasSetAside) {
  const PageReport report = report_of(log_page());
  EXPECT_EQ(report.file, "in/box 3.tif");
  EXPECT_EQ(report.number, 7);
  EXPECT_EQ(report.dpi, 240);
  EXPECT_EQ(report.words, 2);
  EXPECT_EQ(report.suspects, 1);
  EXPECT_EQ(report.set_aside, 2);
}

TEST(PicturesSetAside, ShowTheFirstOfThemSmall) {
  testing::PrintedPage print(400, 300);
  print.rule(10, 25, 200, 25, 20);
  Page page = log_page();
  const auto pictures = pictures_set_aside(Picture(print.picture()), page);
  ASSERT_EQ(pictures.size(), 2u);
  EXPECT_LE(pictures[0]->width(), 160);
  EXPECT_LE(pictures[0]->height(), 48);
  EXPECT_LT(pictures[0]->row(pictures[0]->height() / 2)[20], 128);
  for (int i = 0; i < 20; ++i) page.blocks.push_back(page.blocks.back());
  EXPECT_EQ(pictures_set_aside(Picture(print.picture()), page).size(), 6u);
  page.blocks = {log_page().blocks.front()};
  EXPECT_TRUE(pictures_set_aside(Picture(print.picture()), page).empty());
}

TEST(Thumbnails, AreNarrow) {
  EXPECT_LE(thumbnail_of(Picture(Gray(2480, 3508)))->width(), 240);
  EXPECT_EQ(thumbnail_of(Picture(Gray(90, 40)))->width(), 90);
}

TEST(PageNames, TellPagesAndSidesApart) {
  Page page;
  page.file = "in/box 3.tif";
  page.number = 7;
  EXPECT_EQ(page_name_of(page), "box 3-0007");
  page.part = 1;
  EXPECT_EQ(page_name_of(page), "box 3-0007-left");
  EXPECT_EQ(stem_of("a/b/c.tar.gz"), "c.tar");
}

}  // namespace
}  // namespace burnisher::run
