#include "export/epub.h"

#include <gtest/gtest.h>

#include <pugixml.hpp>

#include <cstdlib>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;

Page chapter_page(const std::string& heading, const std::string& word) {
  Page page = page_of({line_at({heading}, 50, 100)});
  page.blocks[0].kind = BlockKind::kHeading;
  page.blocks[0].level = 1;
  page.blocks.push_back(page_of({line_at({word, "&", "oil"}, 50, 200)}).blocks[0]);
  return page;
}

std::string unpacked(const testing::TemporaryFolder& folder, const std::string& name) {
  const std::string command =
      "unzip -p " + folder.file("a.epub") + " " + name + " > " + folder.file("part");
  EXPECT_EQ(std::system(command.c_str()), 0) << name;
  const auto bytes = read_file(folder.file("part"));
  return std::string(bytes.begin(), bytes.end());
}

TEST(Epub, HeadingsOfTheFirstLevelBeginChapters) {
  testing::TemporaryFolder folder;
  exporting::Epub book({folder.file("a.epub"), false}, {"Log", "J. Dunmore", "en", "1923"}, {});
  book.add(chapter_page("Lamp", "wicks"));
  book.add(chapter_page("Tower", "paint"));
  book.finish();
  EXPECT_NE(unpacked(folder, "book/chapter-001.xhtml").find("<p>wicks &amp; oil</p>"),
            std::string::npos);
  EXPECT_NE(unpacked(folder, "book/chapter-002.xhtml").find("id=\"page-2\""), std::string::npos);
  const std::string contents = unpacked(folder, "book/nav.xhtml");
  EXPECT_NE(contents.find("<a href=\"chapter-002.xhtml#heading-2\">Tower</a>"), std::string::npos)
      << contents;
  EXPECT_NE(contents.find("page-list"), std::string::npos);
  EXPECT_EQ(unpacked(folder, "mimetype"), "application/epub+zip");
  // The first entry lies bare at its place, so that the file's kind can be told.
  const auto bytes = read_file(folder.file("a.epub"));
  EXPECT_EQ(std::string(bytes.begin() + 30, bytes.begin() + 58), "mimetypeapplication/epub+zip");
}

TEST(Epub, ContentsAreNestedAsTheirHeadingsAre) {
  testing::TemporaryFolder folder;
  exporting::Epub book({folder.file("a.epub"), false}, {"Log", "", "en", ""}, {});
  Page page = chapter_page("Lamp", "wicks");
  page.blocks.clear();
  for (const auto& [text, level] : {std::pair("Foreword", 2),
                                    {"Lamp", 1},
                                    {"Oil", 2},
                                    {"Colza", 4},
                                    {"Wicks", 2},
                                    {"Tower", 1}}) {
    Block heading = testing::page_of({testing::line_at({text}, 50, 100)}).blocks[0];
    heading.kind = BlockKind::kHeading;
    heading.level = level;
    page.blocks.push_back(heading);
  }
  book.add(page);
  book.finish();
  std::string contents = unpacked(folder, "book/nav.xhtml");
  std::string shape;
  pugi::xml_document xml;
  ASSERT_TRUE(xml.load_string(contents.c_str())) << contents;
  for (const auto& link : xml.select_nodes("//nav[1]//a")) {
    int depth = 0;
    for (auto node = link.node(); node; node = node.parent())
      depth += node.name() == std::string("ol");
    shape += std::to_string(depth) + link.node().text().get() + " ";
  }
  EXPECT_EQ(shape, "1Foreword 1Lamp 2Oil 3Colza 2Wicks 1Tower ");
}

TEST(Epub, ABookReadFromTheRightSaysSo) {
  testing::TemporaryFolder folder;
  exporting::Epub book({folder.file("a.epub"), false}, {"יומן", "", "he", ""}, {});
  book.add(chapter_page("פנס", "שמן"));
  book.finish();
  EXPECT_NE(unpacked(folder, "book/chapter-001.xhtml").find("dir=\"rtl\""), std::string::npos);
  EXPECT_NE(unpacked(folder, "book/package.opf").find("page-progression-direction=\"rtl\""),
            std::string::npos);
}

TEST(Epub, AnEmptyBookIsStillOneAndNothingIsReplaced) {
  testing::TemporaryFolder folder;
  exporting::Epub({folder.file("a.epub"), false}, {"Log", "", "", ""}, {}).finish();
  EXPECT_NE(unpacked(folder, "book/package.opf").find("<dc:language>und</dc:language>"),
            std::string::npos);
  EXPECT_THROW(exporting::Epub({folder.file("a.epub"), false}, {}, {}), OutputError);
}

TEST(Epub, PicturesHaveTheirCaptions) {
  testing::TemporaryFolder folder;
  Page page = chapter_page("Lamp", "wicks");
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{100, 400, 500, 700}.corners();
  page.blocks.push_back(picture);
  page.blocks.push_back(page_of({line_at({"The", "burner"}, 100, 730)}).blocks[0]);
  page.blocks.back().kind = BlockKind::kCaption;
  auto one = std::make_shared<exporting::Illustration>();
  one->place = {100, 400, 500, 700};
  one->bytes = "JPEG";
  one->width = 2;
  exporting::Epub book({folder.file("a.epub"), false}, {"Log", "", "en", ""}, {});
  book.add(page, {one});
  book.finish();
  const std::string chapter = unpacked(folder, "book/chapter-001.xhtml");
  EXPECT_NE(chapter.find("alt=\"The burner\""), std::string::npos) << chapter;
  EXPECT_NE(chapter.find("<figcaption>The burner</figcaption>"), std::string::npos);
  EXPECT_EQ(unpacked(folder, "book/picture-001.jpg"), "JPEG");
  EXPECT_NE(unpacked(folder, "book/package.opf").find("media-type=\"image/jpeg\""),
            std::string::npos);
}

}  // namespace
}  // namespace burnisher
