#include "page/page.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "page/page_order.h"
#include "testing/read_page.h"
#include "testing/sample_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;
using testing::sample_page;

TEST(Page, MeanConfidenceWeighsLongWordsMoreAndSkipsNoise) {
  Page page = sample_page();
  const double expected = (8 * 0.91 + 5 * 0.5) / 13;
  EXPECT_NEAR(page.mean_confidence(), expected, 1e-9);
  page.blocks[0].kind = BlockKind::kNoise;
  EXPECT_EQ(page.mean_confidence(), 0);
  EXPECT_FALSE(page.has_words());
}

TEST(Direction, OfALineIsThatOfItsScript) {
  Line hebrew = line_at({"שמן", "Skerrow", "Light", "Board"}, 50, 100);
  EXPECT_FALSE(hebrew.right_to_left());  // most words are Latin
  hebrew.script = "Hebr";
  EXPECT_TRUE(hebrew.right_to_left());
  Line figures = line_at({"12", "1873"}, 50, 150);
  figures.script = "Hebr";
  EXPECT_FALSE(figures.right_to_left());
  EXPECT_TRUE(line_at({"זית", "מן"}, 50, 200).right_to_left());
}

TEST(Direction, OfABlockIsThatOfMostLines) {
  Page page =
      page_of({line_at({"שמן"}, 50, 100), line_at({"זית"}, 50, 150), line_at({"Oil"}, 50, 200)});
  EXPECT_TRUE(page.blocks[0].right_to_left());
  page.blocks[0].lines.erase(page.blocks[0].lines.begin());
  EXPECT_FALSE(page.blocks[0].right_to_left());
}

TEST(Page, MainScriptIsThatOfMostLines) {
  Page page = page_of(
      {line_at({"Oil"}, 50, 100), line_at({"масло"}, 50, 150), line_at({"фитиль"}, 50, 200)});
  EXPECT_EQ(page.main_script(), "Cyrl");  // by its letters, where no file says how it was read
  page.blocks[0].lines[0].script = "Latn";
  page.blocks[0].lines[1].script = page.blocks[0].lines[2].script = "Cyrl";
  EXPECT_EQ(page.main_script(), "Cyrl");
  page.blocks[0].lines[1].script = "Latn";
  EXPECT_EQ(page.main_script(), "Latn");
  EXPECT_EQ(Page().main_script(), "Latn");
}

TEST(PageRange, NamesPagesAndSpans) {
  const PageRange range("3-5,9,12-");
  for (int page : {3, 4, 5, 9, 12, 4000}) EXPECT_TRUE(range.contains(page)) << page;
  for (int page : {1, 2, 6, 8, 10, 11}) EXPECT_FALSE(range.contains(page)) << page;
  EXPECT_TRUE(PageRange().contains(77));
}

TEST(PageRange, RefusesNonsense) {
  for (const char* text : {"a", "0", "5-3", "3,,4", "-", "1;2", "3-x", "99999999"}) {
    EXPECT_THROW(PageRange{text}, SettingsError) << text;
  }
}

}  // namespace
}  // namespace burnisher
