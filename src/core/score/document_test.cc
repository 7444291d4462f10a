#include "score/document.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "base/files.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::score {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

class Documents : public ::testing::Test {
 protected:
  Documents() {
    page_ = page_of_lines({line_of({word_of("Oil", 0.75), word_of("used")})});
    Block heading = page_.blocks[0];
    heading.kind = BlockKind::kHeading;
    heading.lines = {line_of({word_of("LOG")}, 60)};
    Block noise = heading;
    noise.kind = BlockKind::kNoise;
    page_.blocks.insert(page_.blocks.begin(), heading);
    page_.blocks.push_back(noise);
  }
  Page page_;
  TemporaryFolder folder_;
};

TEST_F(Documents, OfPageXmlHavePlacesAndKinds) {
  write_file(folder_.file("a.xml"), write_page_xml(page_, "pages/a.png"));
  const Document document = read_document(folder_.file("a.xml"));
  EXPECT_EQ(document.text, "LOG\n\nOil used\n");
  ASSERT_EQ(document.words.size(), 3u);
  EXPECT_EQ(document.words[0].kind, BlockKind::kHeading);
  EXPECT_NEAR(document.words[1].confidence, 0.75, 1e-3);
  EXPECT_EQ(document.words[1].box.x0, page_.blocks[1].lines[0].words[0].box.x0);
  ASSERT_EQ(document.pages.size(), 1u);
  EXPECT_EQ(document.pages[0].name, "pages/a.png");
  EXPECT_EQ(document.pages[0].width, 900);
}

TEST_F(Documents, OfAltoHaveAllPages) {
  write_file(folder_.file("a.xml"), write_alto({page_, page_}, Positions::kPage));
  const Document document = read_document(folder_.file("a.xml"));
  ASSERT_EQ(document.pages.size(), 2u);
  EXPECT_EQ(document.words.size(), 6u);
  EXPECT_EQ(document.words[5].page, 1u);
}

TEST_F(Documents, OfTextHaveNoPlaces) {
  write_file(folder_.file("a.txt"), std::string("Oil used\n"));
  const Document document = read_document(folder_.file("a.txt"));
  EXPECT_EQ(document.text, "Oil used\n");
  EXPECT_TRUE(document.words.empty());
  write_file(folder_.file("b.txt"), std::string("a\0b", 3));
  EXPECT_THROW(read_document(folder_.file("b.txt")), FormatError);
}

}  // namespace
}  // namespace burnisher::score
