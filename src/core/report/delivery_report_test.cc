#include "report/delivery_report.h"

#include <gtest/gtest.h>

#include "base/files.h"
#include "testing/printed_page.h"
#include "testing/read_page.h"

namespace burnisher {
namespace {

run::PageReport page_report(const std::string& file, double confidence) {
  run::PageReport page;
  page.file = file;
  page.words = 40;
  page.confidence = confidence;
  return page;
}

TEST(DeliveryReport, SaysWhatBecameOfEachPageAndHowLargeFilesAre) {
  testing::TemporaryFolder folder;
  write_file(folder.file("log.tif"), std::vector<uint8_t>(64000));
  write_file(folder.file("log.pdf"), std::vector<uint8_t>(8100));
  run::RunReport report;
  report.pages = {page_report(folder.file("log.tif"), 0.97),
                  page_report(folder.file("log.tif"), 0.6)};
  report.pages[0].skew = -1.26;
  report.pages[0].changes.emplace_back();
  report.pages[0].changes[0].before = "larnp";
  report.pages[0].changes[0].after = "lamp";
  report.pages[1].number = 2;
  report.pages[1].look.push_back("hardly <readable>");
  report.written = {folder.file("log.pdf")};
  report.remarks = {{folder.file("log.pdf"), "13 % of the scan"}};
  const std::string html = report::delivery_report(report);
  for (const char* part : {"straightened by 1.3°", "larnp mended to lamp", "log.tif, page 2",
                           "hardly &lt;readable&gt;", ">64 KB<", ">8 KB<", "13 % of the scan",
                           "<b>80</b>words", "<b>1</b>pages to look at"})
    EXPECT_NE(html.find(part), std::string::npos) << part;
  EXPECT_EQ(testing::count_of("<rect ", html), 2u);
  EXPECT_EQ(testing::count_of("#c2571a", html), 1u);  // the page that wants a look
}

}  // namespace
}  // namespace burnisher
