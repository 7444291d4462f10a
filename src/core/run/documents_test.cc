#include "run/documents.h"

#include <gtest/gtest.h>

#include <pugixml.hpp>
#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

#include <qpdf/QPDF.hh>

namespace burnisher {
namespace {

using run::OutputKind;
using testing::count_of;
using testing::line_at;
using testing::page_of;

run::SharedPicture paper(int width, int height) {
  auto picture = std::make_shared<pdf::PagePicture>();
  picture->width = width;
  picture->height = height;
  picture->paper_colour = pdf::Rgb{255, 255, 255};
  return picture;
}

run::FinishedPage finished(const std::string& word, int part = 0) {
  run::FinishedPage finished;
  finished.page = page_of({line_at({word, "light"}, 100, 200)});
  finished.page.file = "log.tif";
  finished.page.part = part;
  finished.page.geometry.scan_width = part == 0 ? 1000 : 2000;
  finished.page.geometry.scan_height = 1400;
  if (part == 2) finished.page.geometry.to_scan = PlaneMap(Affine{1, 0, 1000, 0, 1, 0});
  if (part != 2) finished.picture = paper(finished.page.geometry.scan_width, 1400);
  return finished;
}

class DocumentKinds : public ::testing::Test {
 protected:
  std::string path(OutputKind kind) const {
    return folder_.file(std::string("log") + run::ending_of(kind));
  }
  // The document's bytes.
  std::string written(OutputKind kind, const std::vector<run::FinishedPage>& pages,
                      const run::Delivery& delivery = {}) {
    run::Delivery settings = delivery;
    settings.overwrite = true;
    run::Origin origin;
    origin.title = "log";
    const auto document =
        run::new_document(kind, {path(kind), settings.overwrite}, origin, settings);
    for (const run::FinishedPage& page : pages) document->add(page);
    document->finish();
    remark_ = document->remark(50000);
    const auto bytes = read_file(path(kind));
    return {bytes.begin(), bytes.end()};
  }

  testing::TemporaryFolder folder_;
  std::string remark_;
};

TEST_F(DocumentKinds, EveryKindIsWrittenWithoutPagesToo) {
  for (int k = 0; k <= static_cast<int>(OutputKind::kMets); ++k) {
    const OutputKind kind = static_cast<OutputKind>(k);
    if (kind == OutputKind::kPdf) continue;  // a PDF has a page
    EXPECT_NO_THROW(written(kind, {})) << run::ending_of(kind);
    written(kind, {finished("Skerrow"), finished("Dunmore")});
    run::Delivery careful;
    EXPECT_THROW(run::new_document(kind, {path(kind), careful.overwrite}, {}, careful)->finish(),
                 OutputError)
        << run::ending_of(kind);
  }
}

TEST_F(DocumentKinds, TextMarksItsPagesAsAsked) {
  const std::vector<run::FinishedPage> pages = {finished("Skerrow"), finished("Dunmore")};
  EXPECT_EQ(written(OutputKind::kText, pages), "Skerrow light\n\f\nDunmore light\n");
  run::Delivery delivery;
  delivery.text.marks = run::PageMarks::kNumber;
  EXPECT_EQ(written(OutputKind::kText, pages, delivery),
            "Skerrow light\n\n[1]\n\nDunmore light\n\n[2]\n\n");
  delivery.text.marks = run::PageMarks::kNone;
  delivery.text.crlf = true;
  EXPECT_EQ(written(OutputKind::kText, pages, delivery),
            "Skerrow light\r\n\r\nDunmore light\r\n\r\n");
}

TEST_F(DocumentKinds, AFacsimileOfASpreadIsOneSheetWithTheTextOfBoth) {
  run::Delivery delivery;
  delivery.pdf.picture.face = pdf::PageFace::kFacsimile;
  const std::vector<run::FinishedPage> pages = {finished("left", 1), finished("right", 2),
                                                finished("alone", 1), finished("single")};
  written(OutputKind::kPdf, pages, delivery);
  QPDF pdf;
  pdf.processFile(path(OutputKind::kPdf).c_str());
  ASSERT_EQ(pdf.getAllPages().size(), 3u);
  auto first = pdf.getAllPages().front();
  const auto box = first.getKey("/MediaBox").getArrayAsRectangle();
  EXPECT_NEAR(box.urx, 1000, 0.1);  // 2000 pixels at 144 dpi
  EXPECT_NE(remark_.find("of the scans'"), std::string::npos) << remark_;
  delivery.pdf.picture.face = pdf::PageFace::kCleaned;
  std::vector<run::FinishedPage> cleaned = pages;
  for (run::FinishedPage& page : cleaned) page.picture = paper(1000, 1400);
  written(OutputKind::kPdf, cleaned, delivery);
  QPDF other;
  other.processFile(path(OutputKind::kPdf).c_str());
  EXPECT_EQ(other.getAllPages().size(), 4u);
}

TEST_F(DocumentKinds, AltoInPositionsOfTheScanHasOnePageForASpread) {
  const std::vector<run::FinishedPage> pages = {finished("left", 1), finished("right", 2)};
  run::Delivery delivery;
  EXPECT_EQ(count_of("<Page ", written(OutputKind::kAlto, pages, delivery)), 2u);
  delivery.positions = Positions::kScan;
  const std::string alto = written(OutputKind::kAlto, pages, delivery);
  EXPECT_EQ(count_of("<Page ", alto), 1u);
  pugi::xml_document xml;
  ASSERT_TRUE(xml.load_string(alto.c_str()));
  const auto word = xml.select_node("//String[@CONTENT='right']").node();
  EXPECT_EQ(word.attribute("HPOS").as_int(), 1100);
}

TEST_F(DocumentKinds, ListsOfWordsAreOneListOverAllPages) {
  const auto words = parse_json(written(
      OutputKind::kWordsJson, {finished("Skerrow"), run::FinishedPage(), finished("Dunmore")}));
  ASSERT_EQ(words.size(), 4u);
  EXPECT_EQ(words[2]["text"], "Dunmore");
  EXPECT_EQ(words[2]["page"], 3);
  EXPECT_EQ(count_of("\n", written(OutputKind::kWordsTsv, {finished("Skerrow")})), 3u);
}

TEST_F(DocumentKinds, TablesWithoutAnyAreSaidToBe) {
  written(OutputKind::kCsv, {finished("Skerrow")});
  EXPECT_NE(remark_.find("no table"), std::string::npos);
  run::FinishedPage page = finished("Oil");
  Block& block = page.page.blocks[0];
  block.kind = BlockKind::kTable;
  block.cells = {{0, 0, 1, 1, false, block.lines[0].box, {0}}};
  EXPECT_EQ(written(OutputKind::kCsv, {page, page}), "Oil light\r\n\r\nOil light\r\n");
  EXPECT_TRUE(remark_.empty());
}

TEST_F(DocumentKinds, MetsIsFinishedLastAndNamesTheOthers) {
  const run::WantedDocuments wanted = {
      {OutputKind::kMets, "a.mets"}, {OutputKind::kPdf, "a.pdf"}, {OutputKind::kText, "a.txt"}};
  const auto order = run::in_finishing_order(wanted);
  EXPECT_EQ(order.back().first, OutputKind::kMets);
  EXPECT_EQ(order.front().second, "a.pdf");
  EXPECT_EQ(run::paths_of(wanted), (std::vector<std::string>{"a.pdf", "a.txt"}));
}

TEST(Delivery, NamesFollowThePattern) {
  EXPECT_EQ(run::name_for("{stem}-read", "log"), "log-read");
  EXPECT_EQ(run::name_for("1904-{stem}", "log"), "1904-log");
  for (const char* pattern : {"read", "", "{stem}/read", "../{stem}"})
    EXPECT_THROW(run::check_name(pattern), SettingsError) << pattern;
  EXPECT_NO_THROW(run::check_name("{stem}"));
}

TEST(Names, OfPartsOfABatchTakeTheFieldsOfTheirSheet) {
  const DescriptiveFields fields = {{"box", "7"}, {"shelf", "../B/12"}, {"odd", ".hidden\n"}};
  EXPECT_EQ(run::name_for("{box}-{n}", "batch-3", fields, 3), "7-3");
  EXPECT_EQ(run::name_for("{stem}", "batch-3", fields, 3), "batch-3");
  EXPECT_EQ(run::name_for("{shelf}", "x", fields), "_._B_12");  // none becomes a path
  EXPECT_EQ(run::name_for("{odd}", "x", fields), "_hidden_");
  EXPECT_EQ(run::name_for("{nothing}", "batch-1", fields), "batch-1");
  EXPECT_EQ(run::name_for("a{box", "x", fields), "a{box");
  EXPECT_NO_THROW(run::check_name("{box}-{n}", true));
  EXPECT_THROW(run::check_name("{box}-{n}"), SettingsError);
  EXPECT_THROW(run::check_name("all", true), SettingsError);
  EXPECT_THROW(run::check_name("{box}/{n}", true), SettingsError);
}

TEST(Delivery, PicturesAreMadeWhereADocumentShowsThem) {
  const auto wanted_by = [](OutputKind kind) {
    run::Wanted wanted;
    wanted.add(kind);
    return std::pair(wanted.picture, wanted.illustrations);
  };
  EXPECT_EQ(wanted_by(OutputKind::kPdf), std::pair(true, false));
  EXPECT_EQ(wanted_by(OutputKind::kEpub), std::pair(false, true));
  EXPECT_EQ(wanted_by(OutputKind::kOdt), std::pair(false, true));
  EXPECT_EQ(wanted_by(OutputKind::kText), std::pair(false, false));
  EXPECT_EQ(wanted_by(OutputKind::kAlto), std::pair(false, false));
}

}  // namespace
}  // namespace burnisher
