// The demo scans against their truth: the whole way, on pages with everything that happens to
// paper.

#include <gtest/gtest.h>

#include "base/json.h"

#include <algorithm>
#include <sstream>

#include "base/edit_distance.h"
#include "base/printed_order.h"
#include "base/unicode.h"
#include "program.h"

namespace burnisher::tests {
namespace {

// White space counts once, as between words; marks that only say which way to read not at all.
std::vector<char32_t> squeezed(const std::string& text) {
  std::istringstream words(text);
  std::string joined;
  for (std::string word; words >> word;) joined += (joined.empty() ? "" : " ") + word;
  std::vector<char32_t> characters = decode_utf8(joined);
  const auto is_mark = [](char32_t c) { return c >= 0x202A && c <= 0x202E; };
  characters.erase(std::remove_if(characters.begin(), characters.end(), is_mark), characters.end());
  return characters;
}

struct DemoPage {
  const char* file;
  double most_errors;  // share of characters
  friend void PrintTo(const DemoPage& page, std::ostream* out) { *out << page.file; }
};

class DemoScans : public ::testing::TestWithParam<DemoPage> {};

TEST_P(DemoScans, AreReadNearlyRight) {
  testing::TemporaryFolder folder;
  const std::string scan = std::string(BURNISHER_DEMO_SCANS) + "/" + GetParam().file;
  const Outcome o =
      shell("$B run " + scan + " --out " + folder.file("a.txt") + " --out " + folder.file("a.pdf"));
  ASSERT_EQ(o.code, 0) << o.err;
  const auto read = squeezed(content_of(folder.file("a.txt")));
  const auto truth = squeezed(content_of(scan.substr(0, scan.rfind('.')) + ".txt"));
  const double rate = static_cast<double>(edit_distance(read, truth)) /
                      static_cast<double>(std::max<size_t>(1, truth.size()));
  EXPECT_LE(rate, GetParam().most_errors) << content_of(folder.file("a.txt"));
  // What is copied out of the PDF is what the text file says, in its order.
  const auto copied = squeezed(shell("pdftotext -raw " + folder.file("a.pdf") + " -").out);
  // Commas of lines from the right are put elsewhere by pdftotext.
  const size_t most = read.size() / (runs_right_to_left(read) ? 20 : 50) + 1;
  EXPECT_LE(edit_distance(copied, read), static_cast<int>(most));
  EXPECT_EQ(shell("qpdf --check " + folder.file("a.pdf")).code, 0);
}

INSTANTIATE_TEST_SUITE_P(
    Skerrow, DemoScans,
    ::testing::Values(DemoPage{"01-title.jpg", 0.004}, DemoPage{"02-letter.jpg", 0.004},
                      DemoPage{"03-report.jpg", 0.004}, DemoPage{"04-log.jpg", 0.004},
                      DemoPage{"05-stores.tif", 0.004}, DemoPage{"06-notice.jpg", 0.004},
                      DemoPage{"07-upside-down.jpg", 0.004}, DemoPage{"08-carbon.jpg", 0.004},
                      DemoPage{"09-blank.jpg", 0}, DemoPage{"10-spread.jpg", 0.004},
                      DemoPage{"11-ledger.jpg", 0.004}, DemoPage{"12-russian-notice.jpg", 0.004},
                      DemoPage{"13-arabic-letter.jpg", 0.035}));

TEST(DemoScansTogether, BecomeOneDocumentWithItsOddPagesPutRight) {
  testing::TemporaryFolder folder;
  const Outcome o = shell("$B run " BURNISHER_DEMO_SCANS " --json --out " + folder.file("all.pdf"));
  EXPECT_EQ(o.code, 0);
  const auto pages = parse_json(o.out)["pages"];
  ASSERT_EQ(pages.size(), 14u);  // the spread is two
  EXPECT_EQ(pages[6]["turn"], 180);
  EXPECT_TRUE(pages[8]["blank"]);
  EXPECT_EQ(pages[9]["part"], 1);
  EXPECT_EQ(pages[10]["part"], 2);
  EXPECT_NE(shell("pdfinfo " + folder.file("all.pdf")).out.find("Pages:           14"),
            std::string::npos);
}

}  // namespace
}  // namespace burnisher::tests
