#include "export/odt.h"

#include <gtest/gtest.h>

#include <cstdlib>

#include "base/error.h"
#include "base/files.h"
#include "raster/png.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::count_of;
using testing::line_at;
using testing::page_of;

std::string content_of(const testing::TemporaryFolder& folder, const std::string& part) {
  const std::string command =
      "unzip -p " + folder.file("a.odt") + " " + part + " > " + folder.file("part.xml");
  EXPECT_EQ(std::system(command.c_str()), 0) << part;
  EXPECT_EQ(std::system(("xmllint --noout " + folder.file("part.xml")).c_str()), 0) << part;
  const auto bytes = read_file(folder.file("part.xml"));
  return std::string(bytes.begin(), bytes.end());
}

Page stores_page() {
  Page page = page_of({line_at({"Stores"}, 50, 100)});
  page.blocks[0].kind = BlockKind::kHeading;
  page.blocks[0].level = 2;
  page.blocks.push_back(page_of({line_at({"Oil", "&", "wicks."}, 50, 200)}).blocks[0]);
  Block table = page_of({line_at({"Oil"}, 50, 300), line_at({"14"}, 200, 300)}).blocks[0];
  table.kind = BlockKind::kTable;
  table.cells = {{0, 0, 1, 2, true, {}, {0}}, {1, 0, 1, 1, false, {}, {1}}};
  page.blocks.push_back(table);
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{100, 400, 500, 700}.corners();
  page.blocks.push_back(picture);
  page.blocks.push_back(page_of({line_at({"The", "lamp"}, 100, 730)}).blocks[0]);
  page.blocks.back().kind = BlockKind::kCaption;
  page.blocks.push_back(page_of({line_at({"Feuer"}, 50, 800)}).blocks[0]);
  page.blocks.back().lines[0].language = "de";
  return page;
}

exporting::Illustrations lamp() {
  auto one = std::make_shared<exporting::Illustration>();
  one->place = {100, 400, 500, 700};
  const auto bytes = write_png(Picture(Gray(40, 30, 90)), 100);
  one->bytes.assign(bytes.begin(), bytes.end());
  one->png = true;
  one->width = 12.6;
  one->height = 4;
  return {one};
}

TEST(Odt, HoldsHeadingsTablesPicturesAndPages) {
  testing::TemporaryFolder folder;
  exporting::Odt odt({folder.file("a.odt"), false}, {"Log", "J. Dunmore", "en", "1923"}, {});
  odt.add(stores_page(), lamp());
  odt.add(page_of({line_at({"Second"}, 50, 100)}));
  odt.finish();
  const std::string content = content_of(folder, "content.xml");
  for (const char* part :
       {"text:outline-level=\"2\"><text:bookmark text:name=\"page 1\"/>Stores</text:h>",
        "Oil &amp; wicks.", "table:number-columns-spanned=\"2\"", "<table:covered-table-cell/>",
        "<table:table-header-rows>", "xlink:href=\"Pictures/001.png\"",
        // No wider than the page, in its own shape.
        "svg:width=\"6.300in\" svg:height=\"2.000in\"", "\"Caption\">The lamp", "Text_20_body_de",
        "text:name=\"page 2\""})
    EXPECT_NE(content.find(part), std::string::npos) << part;
  EXPECT_EQ(count_of("<table:table-row>", content), 2u);
  EXPECT_NE(content_of(folder, "meta.xml").find("J. Dunmore"), std::string::npos);
  EXPECT_NE(content_of(folder, "META-INF/manifest.xml").find("Pictures/001.png"),
            std::string::npos);
  content_of(folder, "styles.xml");
  const auto bytes = read_file(folder.file("a.odt"));
  EXPECT_EQ(std::string(bytes.begin() + 30, bytes.begin() + 77),
            "mimetypeapplication/vnd.oasis.opendocument.text");
}

TEST(Odt, ParagraphsFromTheRightAreSetThatWay) {
  testing::TemporaryFolder folder;
  exporting::Odt odt({folder.file("a.odt"), false}, {"Log", "", "en", ""}, {});
  Page page = page_of({line_at({"Oil"}, 50, 100)});
  page.blocks.push_back(page_of({line_at({"שמן", "זית"}, 50, 200)}).blocks[0]);
  page.blocks.back().lines[0].language = "he";
  odt.add(page);
  odt.finish();
  const std::string content = content_of(folder, "content.xml");
  EXPECT_NE(content.find("style:writing-mode=\"rl-tb\""), std::string::npos);
  EXPECT_NE(content.find("style:language-complex=\"he\""), std::string::npos);
  EXPECT_NE(content.find("Text_20_body_he\">שמן זית"), std::string::npos) << content;
  EXPECT_EQ(content.find("fo:language=\"he\""), std::string::npos);
}

TEST(Odt, AnEmptyOneIsSoundAndNothingIsReplaced) {
  testing::TemporaryFolder folder;
  exporting::Odt({folder.file("a.odt"), false}, {}, {}).finish();
  content_of(folder, "content.xml");
  EXPECT_THROW(exporting::Odt({folder.file("a.odt"), false}, {}, {}), OutputError);
}

}  // namespace
}  // namespace burnisher
