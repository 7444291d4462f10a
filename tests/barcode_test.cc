// Barcodes on scans, and batches that are cut into documents where a sheet says so.
#include <gtest/gtest.h>

#include <filesystem>
#include "base/json.h"

#include "base/files.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;

using nlohmann::json;
using testing::PrintedPage;
using testing::TemporaryFolder;

class Barcodes : public ::testing::Test {
 protected:
  Barcodes() { fs::create_directories(folder_.file("batch")); }
  void leaf(const std::string& name, const std::string& text) {
    PrintedPage page(900, 400);
    page.print({text, 80, 140, 44}).print({"in the keeper's log.", 80, 220, 40});
    write_file(folder_.file("batch/" + name + ".png"), write_png(page.picture(), 150));
  }
  // A sheet as it comes back from a scanner: 150 dpi, a little crooked, grainy.
  void sheet(const std::string& name, const std::string& fields) {
    const Outcome made = in(folder_, "$B sheet " + fields +
                                         " --out sheet.pdf --overwrite && pdftoppm -r 150 -gray "
                                         "-singlefile sheet.pdf sheet && mv sheet.pgm batch/" +
                                         name + ".pgm");
    ASSERT_EQ(made.code, 0) << made.err;
  }
  void blank(const std::string& name) {
    PrintedPage page(900, 400);
    write_file(folder_.file("batch/" + name + ".png"), write_png(page.picture(), 150));
  }
  std::string text_of(const std::string& name) { return folded(content_of(folder_.file(name))); }
  TemporaryFolder folder_;
};

TEST_F(Barcodes, AreToldWithKindAndPlaceEverywhere) {
  sheet("s", "--field 'box=7 & more' --field shelf=B/12");
  leaf("t", "The lamp was lit");
  const Outcome o =
      in(folder_, "$B run batch --out all.txt --out all.tsv --job job --barcodes --json --lang en");
  EXPECT_EQ(o.code, 0) << o.err;
  const json pages = parse_json(o.out)["pages"];
  ASSERT_EQ(pages.size(), 2u);
  ASSERT_EQ(pages[0]["barcodes"].size(), 2u) << o.out;
  EXPECT_EQ(pages[0]["barcodes"][0]["kind"], "QRCode");
  EXPECT_EQ(pages[0]["barcodes"][0]["text"], "burnisher-separator:box=7 %26 more&shelf=B%2F12");
  EXPECT_TRUE(pages[1]["barcodes"].empty());
  EXPECT_TRUE(contains(content_of(folder_.file("all.tsv")), "barcode QRCode"));
  const std::string xml = content_of(folder_.file("job/s-0001.xml"));
  EXPECT_TRUE(contains(xml, "<GraphicRegion id=\"c1\" type=\"barcode\"")) << xml.substr(0, 2000);
  // It survives being taken up again.
  EXPECT_TRUE(
      contains(in(folder_, "$B export job/s-0001.xml --out again.tsv --quiet && cat again.tsv").out,
               "barcode QRCode"));
  const json survey = parse_json(
      in(folder_, "$B survey batch/s.pgm --barcodes --out s.json --quiet && cat s.json").out);
  EXPECT_TRUE(contains(json_text(survey), "burnisher-separator:box=7"));
}

TEST_F(Barcodes, SeparatorSheetsCutABatchAndNameItsDocuments) {
  leaf("1", "Before any sheet");
  sheet("2", "--field box=7 --field title='Log of Hallow'");
  leaf("3", "First of seven");
  leaf("4", "Second of seven");
  sheet("5", "--field box=../../8");
  leaf("6", "First of eight");
  const std::string line =
      "$B run batch --out-dir done --to text,pdf --split-at separator --name '{box}-{n}' --lang en";
  const Outcome o = in(folder_, line);
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(text_of("done/-1.txt"), "Before any sheet"));
  EXPECT_TRUE(contains(text_of("done/7-2.txt"), "First of seven"));
  EXPECT_TRUE(contains(text_of("done/7-2.txt"), "Second of seven"));
  EXPECT_FALSE(contains(text_of("done/7-2.txt"), "Separator"));
  EXPECT_TRUE(contains(text_of("done/_._.._8-3.txt"), "First of eight") ||
              contains(text_of("done/_.._.._8-3.txt"), "First of eight"))
      << o.err;  // a field never is a path
  EXPECT_TRUE(contains(in(folder_, "pdfinfo done/7-2.pdf").out, "Log of Hallow"));
  EXPECT_EQ(std::distance(fs::directory_iterator(folder_.file("done")), {}), 6);
}

TEST_F(Barcodes, BlankSheetsCutToo) {
  leaf("1", "The first letter");
  blank("2");
  blank("3");
  leaf("4", "The second letter");
  const Outcome o =
      in(folder_, "$B run batch --out-dir done --to text --split-at blank --job job --lang en");
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(text_of("done/batch-1.txt"), "The first letter"));
  EXPECT_TRUE(contains(text_of("done/batch-2.txt"), "The second letter"));
  EXPECT_FALSE(fs::exists(folder_.file("done/batch-3.txt")));
  // Nothing is left to do the second time.
  EXPECT_TRUE(contains(in(folder_, "$B run --job job").err, "up to date: "));
}

TEST_F(Barcodes, AWatchedFolderCutsBatches) {
  fs::create_directories(folder_.file("in"));
  leaf("1", "The first letter");
  sheet("2", "--field box=9");
  leaf("3", "The second letter");
  fs::rename(folder_.file("batch"), folder_.file("in/batch"));
  const Outcome o =
      in(folder_,
         "$B watch in --out-dir out --to text --split-at separator --once --settle 0.1 --lang en");
  EXPECT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(text_of("out/batch-1.txt"), "The first letter")) << o.err;
  EXPECT_TRUE(contains(text_of("out/batch-2.txt"), "The second letter"));
}

TEST_F(Barcodes, RulesThatMakeNoSenseAreRefused) {
  leaf("1", "A leaf");
  EXPECT_TRUE(contains(in(folder_, "$B run batch --out-dir d --to text --split-at moon").err,
                       "expected blank, separator, or barcode=PATTERN"));
  EXPECT_TRUE(contains(in(folder_, "$B run batch --out a.txt --split-at blank").err,
                       "makes many documents"));
  EXPECT_EQ(in(folder_, "$B sheet --field box --out s.pdf").code, 2);
}

}  // namespace
}  // namespace burnisher::tests
