#include "pagefile/page_file.h"

#include <gtest/gtest.h>

#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "pagefile/alto.h"
#include "pagefile/page_xml.h"
#include "raster/png.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

class PageFiles : public ::testing::Test {
 protected:
  Page page_ = page_of_lines({line_of({word_of("Lamp"), word_of("lit.")})});
  TemporaryFolder folder_;
};

TEST_F(PageFiles, AreWrittenBackInTheFormatTheyCameIn) {
  write_file(folder_.file("p.xml"), write_page_xml(page_, "log.png"));
  const PageFile page = read_page_file(folder_.file("p.xml"));
  EXPECT_EQ(page.format, PageFile::Format::kPageXml);
  EXPECT_EQ(page.image_name, "log.png");
  EXPECT_EQ(written(page), write_page_xml(page.pages[0], "log.png"));

  write_file(folder_.file("a.xml"), write_alto({page_, page_}, Positions::kPage));
  const PageFile alto = read_page_file(folder_.file("a.xml"));
  EXPECT_EQ(alto.format, PageFile::Format::kAlto);
  ASSERT_EQ(alto.pages.size(), 2u);
  EXPECT_EQ(alto.pages[1].blocks.at(0).lines.at(0).text(), "Lamp lit.");
  EXPECT_NE(written(alto).find("<alto"), std::string::npos);
}

TEST_F(PageFiles, AltoKeepsWhatWasCorrected) {
  auto& words = page_.blocks[0].lines[0].words;
  words[0].corrected = CorrectedBy::kRepair;
  words[0].before = "Larnp";
  words[1].corrected = CorrectedBy::kPerson;
  words[1].before = "lit.";
  write_file(folder_.file("a.xml"), write_alto({page_}, Positions::kPage));
  const auto read = read_alto_file(folder_.file("a.xml"));
  const auto& back = read.at(0).blocks.at(0).lines.at(0).words;
  EXPECT_EQ(back[0].corrected, CorrectedBy::kRepair);
  EXPECT_EQ(back[0].before, "Larnp");
  EXPECT_EQ(back[1].corrected, CorrectedBy::kPerson);
  EXPECT_EQ(back[1].before, "lit.");  // looked at, and right
  EXPECT_EQ(read[0].file, "log.png");
}

TEST_F(PageFiles, OfFoldersComeByName) {
  for (const char* name : {"b.xml", "a.xml", "c.txt"})
    write_file(folder_.file(name), write_page_xml(page_, "log.png"));
  std::filesystem::create_directories(folder_.file("empty"));
  std::vector<Problem> problems;
  EXPECT_EQ(
      page_files({folder_.path(), folder_.file("empty"), "elsewhere.xml"}, problems),
      (std::vector<std::string>{folder_.file("a.xml"), folder_.file("b.xml"), "elsewhere.xml"}));
  ASSERT_EQ(problems.size(), 1u);
  EXPECT_NE(problems[0].what.find("empty: no .xml"), std::string::npos);
}

TEST_F(PageFiles, TheirPicturesMustBeTheRightOnes) {
  PageFile file;
  file.path = folder_.file("p.xml");
  file.image_name = "log.png";
  file.pages = {page_};
  EXPECT_THROW(page_picture(file, ""), InputError);
  write_file(folder_.file("log.png"), write_png(Gray(900, 1200), 200));
  EXPECT_EQ(width_of(page_picture(file, "")), 900);
  std::filesystem::create_directories(folder_.file("pages"));
  write_file(folder_.file("pages/log.png"), write_png(Gray(901, 1200), 200));
  EXPECT_THROW(page_picture(file, folder_.file("pages")), FormatError);
  file.image_name.clear();
  EXPECT_THROW(page_picture(file, ""), FormatError);
}

TEST_F(PageFiles, BrokenOnesAreNamed) {
  write_file(folder_.file("x.xml"), std::string("<html/>"));
  try {
    read_page_file(folder_.file("x.xml"));
    FAIL();
  } catch (const FormatError& cause) {
    EXPECT_NE(std::string(cause.what()).find("x.xml"), std::string::npos);
  }
  EXPECT_THROW(read_page_file(folder_.file("none.xml")), InputError);
}

TEST(Languages, OfADocumentAreThoseOfItsPages) {
  const Page english = page_of_lines({line_of({word_of("the lamp was lit")}, 100, "en")});
  Page german = page_of_lines(
      {line_of({word_of("das Licht")}, 100, "de"), line_of({word_of("x")}, 150, "fr")});
  EXPECT_EQ(languages_of({&english, &german}), (std::vector<std::string>{"en", "de"}));
  EXPECT_EQ(german.languages(), (std::vector<std::string>{"de", "fr"}));
  german.blocks[0].kind = BlockKind::kNoise;
  EXPECT_TRUE(german.languages().empty());
}

}  // namespace
}  // namespace burnisher
