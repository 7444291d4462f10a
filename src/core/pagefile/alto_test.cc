#include "pagefile/alto.h"

#include <gtest/gtest.h>

#include <pugixml.hpp>

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"
#include "testing/sample_page.h"

namespace burnisher {
namespace {

using testing::sample_page;

TEST(Alto, WordsStandInTheChosenFrame) {
  const Page page = sample_page();
  for (const Positions positions : {Positions::kPage, Positions::kScan}) {
    pugi::xml_document document;
    ASSERT_TRUE(document.load_string(write_alto({page}, positions).c_str()));
    const auto node = document.select_node("//Page").node();
    EXPECT_EQ(node.attribute("WIDTH").as_int(), positions == Positions::kPage ? 1000 : 990);
    const auto words = document.select_nodes("//String");
    ASSERT_EQ(words.size(), 2u);
    const auto word = words.begin()->node();
    EXPECT_STREQ(word.attribute("CONTENT").value(), "Keeper’s");
    EXPECT_STREQ(word.attribute("WC").value(), "0.910");
    const Box expected = placed(page.blocks[0].lines[0].words[0].box, page, positions);
    EXPECT_NEAR(word.attribute("HPOS").as_double(), expected.x0, 0.51);
    EXPECT_NEAR(word.attribute("VPOS").as_double(), expected.y0, 0.51);
  }
}

TEST(Alto, NoiseIsLeftOutAndPicturesAreShown) {
  Page page = sample_page();
  Block noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  page.blocks.push_back(noise);
  pugi::xml_document document;
  ASSERT_TRUE(document.load_string(write_alto({page}, Positions::kPage).c_str()));
  EXPECT_EQ(document.select_nodes("//TextBlock").size(), 1u);
  EXPECT_EQ(document.select_nodes("//Illustration").size(), 1u);
  EXPECT_EQ(document.select_nodes("//SP").size(), 1u);
}

TEST(Alto, IsReadBack) {
  burnisher::testing::TemporaryFolder folder;
  const Page page = sample_page();
  write_file(folder.file("p.xml"), write_alto({page, page}, Positions::kPage));
  const std::vector<Page> pages = read_alto_file(folder.file("p.xml"));
  ASSERT_EQ(pages.size(), 2u);
  EXPECT_EQ(pages[0].width, page.width);
  ASSERT_EQ(pages[0].blocks.size(), 1u);
  const Line& line = pages[0].blocks[0].lines.at(0);
  EXPECT_EQ(line.text(), page.blocks[0].lines[0].text());
  EXPECT_NEAR(line.words[0].confidence, 0.91, 1e-6);
  EXPECT_NEAR(line.words[0].box.x0, page.blocks[0].lines[0].words[0].box.x0, 1);
  EXPECT_GE(line.baseline.size(), 2u);
}

TEST(Alto, WhatIsNoneIsRefused) {
  burnisher::testing::TemporaryFolder folder;
  for (const char* text : {"", "<PcGts/>", "<alto",
                           "<alto><Description><MeasurementUnit>mm10</MeasurementUnit>"
                           "</Description></alto>"}) {
    write_file(folder.file("p.xml"), std::string(text));
    EXPECT_THROW(read_alto_file(folder.file("p.xml")), FormatError) << text;
  }
}

TEST(Alto, AbsurdNumbersAndDepthsAreRefused) {
  burnisher::testing::TemporaryFolder folder;
  std::string deep, end;
  for (int i = 0; i < 20000; ++i) {
    deep += "<ComposedBlock>";
    end += "</ComposedBlock>";
  }
  for (const std::string& page :
       {std::string("<Page WIDTH='nan' HEIGHT='9'/>"),
        std::string("<Page WIDTH='1e300' HEIGHT='9'/>"),
        std::string(
            "<Page WIDTH='9' HEIGHT='9'><PrintSpace><TextBlock HPOS='inf'/></PrintSpace></Page>"),
        "<Page WIDTH='9' HEIGHT='9'><PrintSpace>" + deep + end + "</PrintSpace></Page>"}) {
    write_file(folder.file("p.xml"), "<alto><Layout>" + page + "</Layout></alto>");
    EXPECT_THROW(read_alto_file(folder.file("p.xml")), FormatError) << page.substr(0, 80);
  }
}

TEST(Alto, NamesWithMarkupAreEscaped) {
  Page page = sample_page();
  page.file = "a<b>&\"c\".png";
  pugi::xml_document document;
  ASSERT_TRUE(document.load_string(write_alto({page}, Positions::kPage).c_str()));
  EXPECT_STREQ(document.select_node("//fileName").node().text().get(), page.file.c_str());
}

}  // namespace
}  // namespace burnisher
