// What is delivered beside PDFs and plain texts, held against the published rules of its format or
// opened with a program that people use for it; on demo scans with pictures, tables and stains.
#include <gtest/gtest.h>

#include <filesystem>

#include "base/files.h"
#include "program.h"
#include "raster/convert.h"
#include "raster/png.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;
using testing::TemporaryFolder;

class Formats : public ::testing::Test {
 protected:
  static void SetUpTestSuite() {
    folder_ = new TemporaryFolder;
    const std::string scans = BURNISHER_DEMO_SCANS;
    const Outcome o =
        in(*folder_, "$B run " + scans + "/03-report.jpg " + scans + "/05-stores.tif " + scans +
                         "/11-ledger.jpg --lang en --job job --out all.xml --out all.html "
                         "--out all.mets --out all.txt --quiet");
    ASSERT_EQ(o.code, 0) << o.err;
  }
  static void TearDownTestSuite() { delete folder_; }

  static void keeps_rules(const std::string& rules, const std::string& file) {
    const Outcome o =
        in(*folder_, "xmllint --noout --relaxng " BURNISHER_RULES "/" + rules + " " + file);
    EXPECT_EQ(o.code, 0) << file << ": " << o.err;
  }

  static TemporaryFolder* folder_;
};

TemporaryFolder* Formats::folder_ = nullptr;

TEST_F(Formats, KeepTheirRules) {
  keeps_rules("alto.rng", "all.xml");
  keeps_rules("hocr.rng", "all.html");
  keeps_rules("mets.rng", "all.mets");
  int pages = 0;
  for (const auto& file : fs::directory_iterator(folder_->file("job"))) {
    if (file.path().extension() != ".xml") continue;
    keeps_rules("page.rng", file.path());
    ++pages;
  }
  EXPECT_EQ(pages, 3);
}

TEST_F(Formats, PageXmlKeepsWhatIsReadOutOfIt) {
  ASSERT_EQ(in(*folder_, "$B export job --out again.txt --lang en --quiet").code, 0);
  EXPECT_EQ(content_of(folder_->file("again.txt")), content_of(folder_->file("all.txt")));
}

TEST_F(Formats, MetsNamesFilesThatAreThere) {
  const Outcome o = in(*folder_,
                       "xmllint --xpath '//*[local-name()=\"FLocat\"]/@*[local-name()="
                       "\"href\"]' all.mets | tr -d ' ' | sed 's/.*=\"//; s/\"$//'");
  int files = 0;
  size_t at = 0;
  for (size_t end; (end = o.out.find('\n', at)) != std::string::npos; at = end + 1) {
    const std::string name = o.out.substr(at, end - at);
    if (name.empty()) continue;
    EXPECT_TRUE(fs::exists(folder_->file(name))) << name;
    ++files;
  }
  EXPECT_EQ(files, 3 + 3 + 3 + 3);  // documents, scans, pictures, PAGE XML
}

TEST_F(Formats, AWordProcessorOpensTheOdt) {
  ASSERT_EQ(in(*folder_, "$B export job --out log.odt --title Log --lang en --quiet").code, 0);
  const std::string office = "soffice -env:UserInstallation=file://" + folder_->file("profile") +
                             " --headless --convert-to ";
  ASSERT_EQ(in(*folder_, office + "pdf log.odt").code, 0);
  const std::string text = in(*folder_, "pdftotext -layout log.pdf -").out;
  for (const char* part :
       {"Stores at Hallow Rock", "Lamp oil, gallons", "The tower at Hallow Rock"})
    EXPECT_TRUE(contains(text, part)) << text;
  EXPECT_TRUE(contains(in(*folder_, "pdfimages -list log.pdf").out, "image"));
  // Tables arrive as tables.
  ASSERT_EQ(in(*folder_, office + "html log.odt").code, 0);
  const std::string html = content_of(folder_->file("log.html"));
  EXPECT_TRUE(contains(html, "<table")) << html.substr(0, 2000);
  EXPECT_TRUE(contains(html, "<th") || contains(html, "<thead"));
}

TEST_F(Formats, BothDecodersGiveTheInkBackBitByBit) {
  TemporaryFolder folder;
  const Picture gray = read_png(read_file(log_page(folder, "one.png")), 1e9).picture;
  write_file(folder.file("one.png"), write_png(Picture(to_bitonal(to_gray(gray), 128)), 300));
  const Outcome read = in(folder, "cp one.png two.png && cp " BURNISHER_DEMO_SCANS
                                  "/05-stores.tif . && "
                                  "$B run one.png two.png 05-stores.tif --job job --out a.txt");
  ASSERT_EQ(read.code, 0) << read.err;
  ASSERT_EQ(in(folder, "$B export job --out a.pdf --quiet --order 2,3,1").code, 0);
  // Poppler decodes in pdfimages -png; -jbig2 hands out what jbig2dec is to decode.
  ASSERT_EQ(in(folder, "pdfimages -png a.pdf p && pdfimages -jbig2 a.pdf j").code, 0);
  int page = 0;
  for (const char* name : {"one-0001", "two-0001", "05-stores-0001"}) {
    const std::string number = "00" + std::to_string(page++);
    const Picture job =
        read_png(read_file(folder.file("job/" + std::string(name) + ".png")), 1e9).picture;
    const Picture poppler = read_png(read_file(folder.file("p-" + number + ".png")), 1e9).picture;
    ASSERT_EQ(
        in(folder, "jbig2dec -e -t png -o d.png $(ls j-*.jb2g | tail -n 1) j-" + number + ".jb2e")
            .code,
        0);
    const Picture jbig2dec = read_png(read_file(folder.file("d.png")), 1e9).picture;
    EXPECT_TRUE(to_gray(job).samples() == to_gray(poppler).samples()) << name;
    EXPECT_TRUE(to_gray(job).samples() == to_gray(jbig2dec).samples()) << name;
  }
}

}  // namespace
}  // namespace burnisher::tests
