// PDFs in a browser's viewer: what a reader finds, selects and copies there.
#include <gtest/gtest.h>

#include <chrono>
#include <thread>

#include "base/files.h"
#include "browser.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

using testing::TemporaryFolder;

const char* const kViewer = "/usr/share/javascript/pdf/web/viewer.html";
const char* const kAllSelected =
    "(() => { const s = getSelection(); s.selectAllChildren(document.querySelector("
    "'.textLayer')); return s.toString(); })()";

class Viewer : public ::testing::Test {
 protected:
  void SetUp() override {
    testing::PrintedPage page(1300, 900);
    page.print_column({"The keeper of the light-", "house at Skerrow wrote",
                       "his log by lamp and sent", "a copy to the engineer."},
                      160, 200, 50, 90);
    write_file(folder_.file("log.png"), write_png(Picture(page.picture(2)), 300));
  }

  void open(const std::string& options) {
    const Outcome o = shell("cd " + folder_.path() + " && $B run log.png --out a.pdf --out a.txt " +
                            "--lang en --quiet --overwrite " + options);
    ASSERT_EQ(o.code, 0) << o.err;
    browser_.open(std::string(kViewer) + "?file=file://" + folder_.file("a.pdf"));
    ASSERT_EQ(
        awaited("PDFViewerApplication.pdfViewer.getPageView(0)?.textLayer?.renderingDone", "true"),
        "true");
  }

  // The expression's value as soon as it is `wanted`, or its last after a minute.
  std::string awaited(const std::string& expression, const std::string& wanted) {
    std::string value;
    for (int i = 0; i < 600; ++i) {
      value = folded(browser_.value_of(expression));
      if (value == wanted) break;
      std::this_thread::sleep_for(std::chrono::milliseconds(100));
    }
    return value;
  }

  std::string matches_of(const std::string& query, const std::string& wanted) {
    browser_.value_of("PDFViewerApplication.eventBus.dispatch('find', {type: '', query: '" + query +
                      "', phraseSearch: true, caseSensitive: false, highlightAll: true})");
    return awaited("PDFViewerApplication.findController._matchesCountTotal", wanted);
  }

  TemporaryFolder folder_;
  Browser browser_;
};

TEST_F(Viewer, FindsWordsAndSelectsThemInOrder) {
  const std::string printed =
      "The keeper of the light- house at Skerrow wrote his log by lamp and sent a copy to the "
      "engineer.";
  for (const char* options : {"", "--face facsimile", "--face hybrid", "--face reset"}) {
    open(options);
    // The text layer is filled a little after its page has come.
    EXPECT_EQ(awaited(kAllSelected, printed), printed) << options;
    EXPECT_EQ(matches_of("engineer", "1"), "1") << options;
    // A search without a hit between the two: a count of one must come from the second word.
    EXPECT_EQ(matches_of("harbour", "0"), "0") << options;
    EXPECT_EQ(matches_of("lighthouse", "1"), "1") << options;
  }
}

}  // namespace
}  // namespace burnisher::tests
