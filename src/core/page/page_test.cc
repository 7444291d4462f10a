#include "page/page.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "page/page_order.h"
#include "testing/sample_page.h"

namespace burnisher {
namespace {

using testing::sample_page;

TEST(Page, MeanConfidenceWeighsLongWordsMoreAndSkipsNoise) {
  Page page = sample_page();
  const double expected = (8 * 0.91 + 5 * 0.5) / 13;
  EXPECT_NEAR(page.mean_confidence(), expected, 1e-9);
  page.blocks[0].kind = BlockKind::kNoise;
  EXPECT_EQ(page.mean_confidence(), 0);
  EXPECT_FALSE(page.has_words());
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
