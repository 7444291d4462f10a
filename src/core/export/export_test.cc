#include <gtest/gtest.h>

#include "export/overlay.h"
#include "export/text.h"
#include "export/word_list.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;

TEST(Text, LinesBlocksAndNoise) {
  Page page = page_of({line_at({"Oil", "spent"}, 50, 100), line_at({"9", "gallons"}, 50, 150)});
  Block other = page.blocks[0], noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  page.blocks.push_back(noise);
  page.blocks.push_back(other);
  EXPECT_EQ(exporting::text_of(page), "Oil spent\n9 gallons\n\nOil spent\n9 gallons\n");
  EXPECT_EQ(exporting::text_of(Page{}), "");
}

TEST(Overlay, DrawsSureAndUnsureWordsInDifferentColours) {
  const Page page =
      page_of({line_at({"sure"}, 100, 300, 0.95), line_at({"unsure"}, 100, 500, 0.2)});
  const Colour drawn = exporting::overlay_of(Gray(1000, 1400, 255), page, {});
  EXPECT_EQ(drawn.width(), 1000);
  const uint8_t *sure = drawn.row(285) + 3 * 120, *unsure = drawn.row(485) + 3 * 120;
  EXPECT_GT(sure[2], sure[0]);      // bluish
  EXPECT_GT(unsure[0], unsure[2]);  // reddish
}

TEST(Overlay, LargePagesAreReduced) {
  exporting::OverlaySettings settings;
  settings.widest = 500;
  EXPECT_EQ(exporting::overlay_of(Gray(1000, 1400, 255), page_of({line_at({"a"}, 9, 99)}), settings)
                .width(),
            500);
}

TEST(WordLists, NameBarcodesBehindTheWords) {
  Page page = page_of({line_at({"Lamp"}, 50, 100)});
  page.barcodes = {{"Code128", "INV\t17", Box{10, 20, 110, 60}.corners()}};
  const std::string tsv = exporting::word_list_tsv(page, Positions::kPage, 3);
  const std::string row = "3\t\tbarcode Code128\t\t\t10\t20\t110\t60\t1.000\t\t\tINV 17\n";
  EXPECT_EQ(tsv.substr(tsv.size() - row.size()), row);
  const std::string json = exporting::word_list_json(page, Positions::kPage, 3);
  EXPECT_NE(
      json.find("{\"page\":3,\"kind\":\"barcode\",\"barcode\":\"Code128\",\"box\":[10,20,110,60],"
                "\"text\":\"INV\\t17\"}"),
      std::string::npos);
}

}  // namespace
}  // namespace burnisher
