#include "pagefile/page_xml.h"

#include <gtest/gtest.h>

#include <pugixml.hpp>

#include "base/error.h"
#include "base/unicode.h"
#include "page/block_kind.h"
#include "testing/sample_page.h"

namespace burnisher {
namespace {

using testing::sample_page;

TEST(PageXml, MayBeReadWithoutGlyphs) {
  const Page page = sample_page();
  const std::string xml = write_page_xml(page, "a.png");
  ASSERT_NE(xml.find("<Glyph "), std::string::npos);
  Page with = read_page_xml(xml, "test").page;
  const Page without = read_page_xml(xml, "test", false).page;
  for (Block& block : with.blocks)
    for (Line& line : block.lines)
      for (Word& word : line.words) word.glyphs.clear();
  EXPECT_EQ(write_page_xml(with, "a.png"), write_page_xml(without, "a.png"));
}

TEST(PageXml, RoundTripKeepsEverything) {
  const Page page = sample_page();
  const PageXml read = read_page_xml(write_page_xml(page, "log-0003.png"), "test");
  EXPECT_EQ(read.image_name, "log-0003.png");
  const Page& back = read.page;
  EXPECT_EQ(back.width, 1000);
  EXPECT_EQ(back.number, 3);
  EXPECT_NEAR(back.dpi, 200, 1e-6);
  EXPECT_NEAR(back.geometry.to_scan.plane().affine.b, page.geometry.to_scan.plane().affine.b, 1e-7);
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
  EXPECT_NEAR(doubtful.error_probability, 0.25, 1e-3);
  EXPECT_EQ(doubtful.reasons, kUnsure | kOdd);
  EXPECT_EQ(doubtful.corrected, CorrectedBy::kRepair);
  EXPECT_EQ(doubtful.before, "<1;o}g>");
  EXPECT_TRUE(doubtful.small_capitals);
  EXPECT_FALSE(line.words[0].small_capitals);
  EXPECT_EQ(line.language, "en");
  EXPECT_EQ(back.file, page.file);
}

// Everything that leads back to the scan, to the last bit, and names that are hard on a reader.
struct WayBack {
  const char* name;
  PlaneMap to_scan;
  int part = 0;
  std::string file = "log.jpg";
  std::string image = "log-0001.jpg";
};

std::vector<WayBack> ways_back() {
  auto field = std::make_shared<DisplacementField>();
  field->step = 61.7;
  field->columns = 3;
  field->rows = 2;
  field->down = {0.1f, -3.7251f, 1e-7f, 12.f, -0.f, 7.3333335f};
  const Affine skewed = Affine::shift(10.1, -20.7) * Affine::turn(1.3);
  const Affine turned{0, 1, 0, -1, 0, 2480};
  return {
      {"skew", skewed},
      {"quarter turn", turned},
      {"half turn", Affine{-1, 0, 2480, 0, -1, 3508}},
      {"quarter turn and skew", turned * skewed},
      {"curl", PlaneMap(skewed, field)},
      {"left of a spread", skewed, 1},
      {"right of a spread", skewed * Affine::shift(1700, 0), 2},
      {"a name with keys in it", skewed, 0, "down: a; d:7 {bend} dpi:1 %41.jpg"},
      {"a name with keys and a curl", PlaneMap(skewed, field), 0, "box down:3,4; {x}.jpg"},
      {"a name that is no text", skewed, 0, "b\xff\x01 \n.jpg", "b\xff-0001.jpg"},
      {"a name with blanks at its ends", skewed, 0, " log "},
  };
}

TEST(PageXml, SaysWhatVersionReadThePage) {
  Page page = sample_page();
  EXPECT_EQ(read_page_xml(write_page_xml(page, "a.png"), "test").page.reading, "");
  page.reading = "3f2a90c1d4e7";
  EXPECT_EQ(read_page_xml(write_page_xml(page, "a.png"), "test").page.reading, "3f2a90c1d4e7");
}

TEST(PageXml, TheWayBackToTheScanSurvivesToTheLastBit) {
  for (const WayBack& way : ways_back()) {
    Page page = sample_page();
    page.geometry.to_scan = way.to_scan;
    page.part = way.part;
    page.file = way.file;
    page.relative_file = "../scans/" + way.file;
    page.cleaning = {{"turn", "90"}, {"crop", "2"}};
    page.dpi = 199.98571;
    std::string text = write_page_xml(page, way.image);
    // Whatever reads and writes it again must not wear it out.
    for (int round = 0; round < 3; ++round) {
      const PageXml read = read_page_xml(text, "test");
      const PlaneMap& back = read.page.geometry.to_scan;
      for (const auto p : {&Affine::a, &Affine::b, &Affine::c, &Affine::d, &Affine::e, &Affine::f})
        EXPECT_EQ(back.plane().affine.*p, way.to_scan.plane().affine.*p) << way.name;
      ASSERT_EQ(back.displacement() == nullptr, way.to_scan.displacement() == nullptr) << way.name;
      if (back.displacement()) {
        EXPECT_EQ(back.displacement()->down, way.to_scan.displacement()->down) << way.name;
        EXPECT_EQ(back.displacement()->step, way.to_scan.displacement()->step) << way.name;
      }
      EXPECT_EQ(read.page.part, way.part) << way.name;
      EXPECT_EQ(read.page.file, way.file) << way.name;
      EXPECT_EQ(read.page.relative_file, "../scans/" + way.file) << way.name;
      EXPECT_EQ(read.image_name, way.image) << way.name;
      EXPECT_EQ(read.page.cleaning, (decltype(page.cleaning){{"crop", "2"}, {"turn", "90"}}));
      EXPECT_EQ(read.page.dpi, page.dpi);
      const std::string again = write_page_xml(read.page, read.image_name);
      EXPECT_EQ(again, write_page_xml(read_page_xml(again, "test").page, read.image_name));
      text = again;
    }
    pugi::xml_document document;
    EXPECT_TRUE(document.load_string(text.c_str())) << way.name;
    EXPECT_EQ(sound_utf8(text), text) << way.name;
  }
}

TEST(PageXml, WhatThePageWasJudgedByIsKept) {
  Page page = sample_page();
  Word& word = page.blocks[0].lines[0].words[0];
  word.network_confidence = 0.437;
  page.blocks[0].lines[0].words[1].network_confidence = 0.5;
  page.blocks[0].lines[0].stroke = 3.25;
  page.blocks[0].lines[0].baseline = {{100.25, 130.5}, {300, 131.125}, {590, 130}};
  const Page back = read_page_xml(write_page_xml(page, "a.png"), "test").page;
  const Line& line = back.blocks[0].lines[0];
  EXPECT_NEAR(line.words[0].network_confidence, 0.437, 1e-9);
  EXPECT_NEAR(line.words[1].network_confidence, line.words[1].confidence, 1e-9);
  EXPECT_EQ(line.stroke, 3.25);
  EXPECT_EQ(line.baseline[0].x, 100.25);
  EXPECT_EQ(line.baseline[1].y, 131.125);
}

TEST(PageXml, ScriptAndDirectionOfLinesAreSaid) {
  Page page = sample_page();
  Line& line = page.blocks[0].lines[0];
  line.script = "Hebr";
  line.words.resize(1);
  line.words[0] = {"שמן", line.words[0].box, 0.9, {}};
  const std::string xml = write_page_xml(page, "a.png");
  EXPECT_NE(xml.find("readingDirection=\"right-to-left\""), std::string::npos);
  const Page back = read_page_xml(xml, "test").page;
  EXPECT_EQ(back.blocks[0].lines[0].script, "Hebr");
  EXPECT_TRUE(back.blocks[0].lines[0].right_to_left());
  EXPECT_EQ(back.blocks[0].lines[0].text(), "שמן");
  EXPECT_EQ(write_page_xml(sample_page(), "a.png").find("readingDirection"), std::string::npos);
}

TEST(PageXml, ABaselineThatAnEditorMovedCounts) {
  Page page = sample_page();
  page.blocks[0].lines[0].baseline = {{100.25, 130.5}, {590, 130}};
  std::string text = write_page_xml(page, "a.png");
  const std::string seen = "<Baseline points=\"100,131 590,130\" />";
  const size_t at = text.find(seen);
  ASSERT_NE(at, std::string::npos) << text;
  text.replace(at, seen.size(), "<Baseline points=\"100,140 590,140\" />");
  const Line line = read_page_xml(text, "test").page.blocks[0].lines[0];
  EXPECT_EQ(line.baseline[0].x, 100);
  EXPECT_EQ(line.baseline[0].y, 140);
}

TEST(PageXml, NumbersThatNoPageHasAreRefused) {
  const auto page_with = [](const std::string& custom, const std::string& points) {
    return "<PcGts><Page imageFilename='a.png' imageWidth='900' imageHeight='700' custom='" +
           custom + "'><TextRegion id='r'><Coords points='" + points +
           "'/></TextRegion></Page>"
           "</PcGts>";
  };
  EXPECT_NO_THROW(read_page_xml(page_with("scan {page:2; dpi:200;}", "0,0 9,9"), "test"));
  for (const char* custom :
       {"scan {dpi:0;}", "scan {dpi:-3;}", "scan {dpi:nan;}", "scan {a:inf;}", "scan {c:1e300;}",
        "scan {width:0;}", "scan {page:0;}", "scan {a:0; b:0; d:0; e:0;}", "scan {a:many;}",
        "displacement {step:64; columns:2; rows:2; down:1,2,3;}",
        "displacement {step:64; columns:2; rows:2; down:1,2,3,nan;}"}) {
    try {
      read_page_xml(page_with(custom, "0,0 9,9"), "layout/odd.xml");
      ADD_FAILURE() << custom;
    } catch (const FormatError& cause) {
      EXPECT_NE(std::string(cause.what()).find("layout/odd.xml"), std::string::npos);
    }
  }
  for (const char* points : {"nan,3 9,9", "0,0 inf,9", "0,0 1e30,9"})
    EXPECT_THROW(read_page_xml(page_with("", points), "test"), FormatError) << points;
  EXPECT_THROW(read_page_xml("<PcGts><Page imageWidth='99999999' imageHeight='9'/></PcGts>", "t"),
               FormatError);
}

TEST(PageXml, ControlCharactersInTextMakeNoUnsoundXml) {
  Page page = sample_page();
  page.blocks[0].lines[0].words[0].text = "a\x01\x1f\xff";
  page.blocks[0].lines[0].words[0].before = "x\x02;}";
  page.blocks[0].lines[0].words[0].corrected = CorrectedBy::kPerson;
  const std::string text = write_page_xml(page, "a.png");
  EXPECT_EQ(sound_utf8(text), text);
  EXPECT_EQ(text.find("&#x"), std::string::npos);
  EXPECT_EQ(read_page_xml(text, "test").page.blocks[0].lines[0].words[0].before, "x\x02;}");
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

TEST(PageXml, KeepsBarcodesWithoutMakingThemBlocks) {
  Page page = sample_page();
  const size_t blocks = page.blocks.size();
  page.barcodes = {{"Code128", "INV; {7}", Box{10, 20, 110, 60}.corners()},
                   {"QRCode", "Hallow & Nether", Box{200, 20, 260, 80}.corners()}};
  const std::string xml = write_page_xml(page, "a.png");
  EXPECT_NE(xml.find("<GraphicRegion id=\"c1\" type=\"barcode\""), std::string::npos);
  const Page back = read_page_xml(xml, "test").page;
  EXPECT_EQ(back.blocks.size(), blocks);
  ASSERT_EQ(back.barcodes.size(), 2u);
  EXPECT_EQ(back.barcodes[0].kind, "Code128");
  EXPECT_EQ(back.barcodes[0].text, "INV; {7}");
  EXPECT_EQ(bounds(back.barcodes[1].outline).x1, 260);
  EXPECT_EQ(write_page_xml(back, "a.png"), xml);
}

}  // namespace
}  // namespace burnisher
