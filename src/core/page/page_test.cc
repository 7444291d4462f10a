#include <gtest/gtest.h>

#include <fstream>

#include "base/error.h"
#include "base/files.h"
#include "page/alto.h"
#include "page/block_kind.h"
#include "page/page_xml.h"
#include "page/scan.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "raster/tiff.h"
#include "testing/printed_page.h"

#include <pugixml.hpp>

namespace burnisher {
namespace {

Page sample_page() {
  Page page;
  page.file = "log.png";
  page.number = 3;
  page.width = 1000;
  page.height = 1400;
  page.dpi = 200;
  page.geometry = {Affine::shift(10, -20) * Affine::turn(2), 990, 1390};
  Block heading;
  heading.kind = BlockKind::kHeading;
  heading.outline = Box{90, 90, 600, 140}.corners();
  Line line;
  line.baseline = {{100, 130}, {300, 131}, {590, 130}};
  line.x_height = 18.25;
  line.box = {100, 100, 590, 138};
  line.confidence = 0.93;
  Word first{"Keeper’s", {100, 100, 300, 138}, 0.91, {}},
      second{"<log>", {320, 104, 590, 136}, 0.5, {}};
  first.glyphs.push_back({U'K', {100, 100, 120, 130}, 0.99});
  second.readings = {{"<1og>", 0.6}, {"<log>", 0.4}};
  second.doubt = 0.25;
  second.reasons = kUnsure | kOdd;
  second.corrected = CorrectedBy::kRepair;
  second.before = "<1;o}g>";
  line.language = "en";
  page.file = "box 3; page:2.tif";
  line.words = {first, second};
  heading.lines.push_back(line);
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{100, 300, 800, 900}.corners();
  page.blocks = {heading, picture};
  return page;
}

TEST(PageXml, RoundTripKeepsEverything) {
  const Page page = sample_page();
  const PageXml read = read_page_xml(write_page_xml(page, "log-0003.png"), "test");
  EXPECT_EQ(read.image_name, "log-0003.png");
  const Page& back = read.page;
  EXPECT_EQ(back.width, 1000);
  EXPECT_EQ(back.number, 3);
  EXPECT_NEAR(back.dpi, 200, 1e-6);
  EXPECT_NEAR(back.geometry.to_scan.affine().b, page.geometry.to_scan.affine().b, 1e-7);
  EXPECT_EQ(back.geometry.scan_width, 990);
  ASSERT_EQ(back.blocks.size(), 2u);
  EXPECT_EQ(back.blocks[0].kind, BlockKind::kHeading);
  EXPECT_EQ(back.blocks[1].kind, BlockKind::kPicture);
  const Line& line = back.blocks[0].lines.at(0);
  EXPECT_EQ(line.text(), "Keeper’s <log>");
  EXPECT_NEAR(line.x_height, 18.25, 0.01);
  EXPECT_EQ(line.baseline.size(), 3u);
  EXPECT_NEAR(line.words[0].confidence, 0.91, 1e-3);
  EXPECT_EQ(line.words[0].glyphs.at(0).character, U'K');
  EXPECT_EQ(line.words[1].box.x1, 590);
  const Word& doubtful = line.words[1];
  ASSERT_EQ(doubtful.readings.size(), 2u);
  EXPECT_EQ(doubtful.readings[0].text, "<1og>");
  EXPECT_NEAR(doubtful.readings[0].share, 0.6, 1e-3);
  EXPECT_NEAR(doubtful.doubt, 0.25, 1e-3);
  EXPECT_EQ(doubtful.reasons, kUnsure | kOdd);
  EXPECT_EQ(doubtful.corrected, CorrectedBy::kRepair);
  EXPECT_EQ(doubtful.before, "<1;o}g>");
  EXPECT_EQ(line.language, "en");
  EXPECT_EQ(back.file, page.file);
}

TEST(PageXml, WhatEditorsWriteIsUnderstood) {
  const char* xml =
      "<?xml version='1.0'?><PcGts xmlns='x'><Page imageFilename='a.png' imageWidth='400' "
      "imageHeight='300'>"
      "<ReadingOrder><OrderedGroup id='g'><RegionRefIndexed index='1' regionRef='first'/>"
      "<RegionRefIndexed index='0' regionRef='second'/></OrderedGroup></ReadingOrder>"
      "<TextRegion id='first'><Coords points='0,0 10,0 10,10 0,10'/></TextRegion>"
      "<TextRegion id='second' type='marginalia'><Coords points='0,20 200,20 200,60 0,60'/>"
      "<TextLine id='l'><Coords points='0,20 200,20 200,60 0,60'/><TextEquiv><Unicode>two "
      "words</Unicode></TextEquiv>"
      "</TextLine></TextRegion><MusicRegion id='m'><Coords points='0,0 "
      "1,1'/></MusicRegion></Page></PcGts>";
  const Page page = read_page_xml(xml, "test").page;
  ASSERT_EQ(page.blocks.size(), 3u);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kMarginNote);
  const Line& line = page.blocks[0].lines.at(0);
  EXPECT_GT(line.x_height, 0);
  EXPECT_EQ(line.baseline.size(), 2u);
  EXPECT_EQ(line.text(), "two words");
  EXPECT_LT(line.words[0].box.x1, line.words[1].box.x0);
  EXPECT_EQ(page.blocks[2].kind, BlockKind::kNoise);
}

TEST(PageXml, PointsThatAreNoneArePassedOver) {
  const std::string head =
      "<PcGts xmlns=\"http://schema.primaresearch.org/PAGE/gts/pagecontent/2019-07-15\"><Page "
      "imageWidth=\"900\" imageHeight=\"700\"><TextRegion id=\"a\"><Coords points=\"";
  const std::string tail = "\"/></TextRegion></Page></PcGts>";
  const auto box_of = [&](const std::string& points) {
    const PageXml read = read_page_xml(head + points + tail, "test");
    return bounds(read.page.blocks.at(0).outline);
  };
  for (const char* points : {"10,20 300,20 300,80.5 10,80.5", "  10,20\n300,80.5 ",
                             "10,20 x,y 300,80.5", "10,20 7 300,80.5 ,,", "10,20 300,80.5 9,"}) {
    const Box box = box_of(points);
    EXPECT_EQ(box.x0, 10) << points;
    EXPECT_EQ(box.y0, 20) << points;
    EXPECT_EQ(box.x1, 300) << points;
    EXPECT_EQ(box.y1, 80.5) << points;
  }
}

TEST(PageXml, RefusesOtherXmlAndNamesTheFile) {
  for (const char* xml : {"", "<html/>", "<PcGts><Page/></PcGts>", "<PcGts><Page imageWidth='1'"}) {
    try {
      read_page_xml(xml, "layout/odd.xml");
      FAIL() << xml;
    } catch (const FormatError& error) {
      EXPECT_NE(std::string(error.what()).find("layout/odd.xml"), std::string::npos);
    }
  }
}

TEST(PageXml, EntitiesAreNotExpanded) {
  const char* bomb =
      "<!DOCTYPE x [<!ENTITY a 'aaaaaaaaaa'><!ENTITY b '&a;&a;&a;&a;'>]>"
      "<PcGts><Page imageWidth='9' imageHeight='9'><TextRegion id='r'><Coords points='0,0 9,9'/>"
      "<TextLine><Coords points='0,0 9,9'/><TextEquiv><Unicode>&b;</Unicode></TextEquiv></TextLine>"
      "</TextRegion></Page></PcGts>";
  EXPECT_EQ(read_page_xml(bomb, "test").page.blocks.at(0).lines.at(0).text(), "&b;");
}

TEST(BlockKind, EveryKindSurvivesPageXml) {
  for (int k = 0; k <= static_cast<int>(BlockKind::kNoise); ++k) {
    const auto kind = static_cast<BlockKind>(k);
    const PageRegion region = page_region_of(kind);
    EXPECT_EQ(kind_of_region(region.element, region.type), kind) << name_of(kind);
  }
}

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

TEST(Alto, NamesWithMarkupAreEscaped) {
  Page page = sample_page();
  page.file = "a<b>&\"c\".png";
  pugi::xml_document document;
  ASSERT_TRUE(document.load_string(write_alto({page}, Positions::kPage).c_str()));
  EXPECT_STREQ(document.select_node("//fileName").node().text().get(), page.file.c_str());
}

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

TEST(ScanFile, KindsAreToldByContentNotByName) {
  burnisher::testing::TemporaryFolder folder;
  write_file(folder.file("really.tif"), write_png(Picture(Gray(20, 10, 200)), 0));
  const ScanFile file(folder.file("really.tif"), {});
  const Scan scan = file.read(1);
  EXPECT_EQ(width_of(scan.picture), 20);
  EXPECT_EQ(scan.stated_dpi, 0);
}

TEST(ScanFile, ScreenResolutionsAreNotBelieved) {
  burnisher::testing::TemporaryFolder folder;
  write_file(folder.file("a.png"), write_png(Picture(Gray(20, 10, 200)), 72));
  EXPECT_EQ(ScanFile(folder.file("a.png"), {}).read(1).stated_dpi, 0);
}

TEST(ScanFile, BadFilesAreNamed) {
  burnisher::testing::TemporaryFolder folder;
  write_file(folder.file("empty.png"), "");
  write_file(folder.file("text.tif"), "this is no picture at all");
  write_file(folder.file("broken.pdf"), "%PDF-1.5 and nothing more");
  for (const char* name : {"empty.png", "text.tif", "broken.pdf", "missing.jpg"}) {
    try {
      ScanFile file(folder.file(name), {});
      FAIL() << name;
    } catch (const Error& error) {
      EXPECT_NE(std::string(error.what()).find(name), std::string::npos);
    }
  }
}

TEST(ScanFile, ACutJpegIsReadAndSaidOrRefusedWhenStrict) {
  burnisher::testing::TemporaryFolder folder;
  Gray busy(600, 600);
  for (size_t i = 0; i < busy.samples().size(); ++i)
    busy.samples()[i] = static_cast<uint8_t>(i * 2654435761u >> 24);
  auto bytes = write_jpeg(busy, 90);
  bytes.resize(bytes.size() / 2);
  write_file(folder.file("cut.jpg"), bytes);
  const Scan scan = ScanFile(folder.file("cut.jpg"), {}).read(1);
  ASSERT_EQ(scan.notes.size(), 1u);
  EXPECT_NE(scan.notes[0].find("end early"), std::string::npos);
  ScanLimits strict;
  strict.strict = true;
  EXPECT_THROW(ScanFile(folder.file("cut.jpg"), strict).read(1), FormatError);
}

TEST(CollectInputs, FoldersGiveTheirPicturesInOrder) {
  burnisher::testing::TemporaryFolder folder;
  for (const char* name : {"b.PNG", "a.tif", "notes.md"}) write_file(folder.file(name), "x");
  const auto files = collect_inputs(folder.path());
  ASSERT_EQ(files.size(), 2u);
  EXPECT_EQ(files[0], folder.file("a.tif"));
  EXPECT_THROW(collect_inputs(folder.file("nowhere")), InputError);
  burnisher::testing::TemporaryFolder bare;
  EXPECT_THROW(collect_inputs(bare.path()), InputError);
}

}  // namespace
}  // namespace burnisher
