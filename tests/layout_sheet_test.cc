// The layout sheet in a browser, with mouse and keys; its marks in a job; what is read then.
#include <gtest/gtest.h>

#include <filesystem>
#include "base/json.h"

#include "base/files.h"
#include "browser.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

namespace fs = std::filesystem;

using nlohmann::json;
using testing::PrintedPage;
using testing::TemporaryFolder;

// Pages of the board's minutes: a heading, a paragraph, a list of stores in columns.
class LayoutSheet : public ::testing::Test {
 protected:
  explicit LayoutSheet(int pages = 3) {
    fs::create_directories(folder_.file("scans"));
    for (int i = 1; i <= pages; ++i) {
      PrintedPage page(1200, 1000);
      page.print({"Minutes of meeting " + std::to_string(i), 320, 130, 52});
      page.print_column({"The Board met at the Skerrow office at noon. The",
                         "Engineer reported on the lamp and on the fog bell.",
                         "It was resolved to paint the tower in spring."},
                        130, 260, 38, 56);
      page.print_column({"Lamp oil", "Wicks", "Rope"}, 150, 560, 38, 70);
      page.print_column({"412", "24", "95"}, 620, 560, 38, 70);
      page.print({"Copied by the clerk", 700, 900, 30});
      write_file(folder_.file("scans/m" + std::to_string(i) + ".png"),
                 write_png(page.picture(), 200));
    }
    const Outcome o = in(folder_, "$B run scans --job job --out all.txt --out all.csv --lang en");
    EXPECT_EQ(o.code, 0) << o.err;
    const Outcome sheet = in(folder_, "$B layout job --out layout.html");
    EXPECT_EQ(sheet.code, 0) << sheet.err;
  }

  void open() {
    browser_.open(folder_.file("layout.html"));
    browser_.value_of("localStorage.clear()");
    browser_.open(folder_.file("layout.html"));
    browser_.value_of("go(0)");
  }
  // Where a place of the page is in the window.
  std::pair<double, double> seen(double x, double y) {
    const std::string text = browser_.value_of(
        "(() => { const m = get('draw').getScreenCTM(); return JSON.stringify([m.a * " +
        std::to_string(x) + " + m.e, m.d * " + std::to_string(y) + " + m.f]); })()");
    const json at = parse_json(text);
    return {at[0].get<double>(), at[1].get<double>()};
  }
  void drag(double x0, double y0, double x1, double y1, bool shift = false) {
    const auto a = seen(x0, y0), b = seen(x1, y1);
    browser_.drag(a.first, a.second, b.first, b.second, shift);
  }
  void click(double x, double y, bool shift = false) { drag(x, y, x, y, shift); }
  void press(const std::string& keys) { browser_.type(keys, "#view"); }
  int blocks() { return std::stoi(browser_.value_of("state().blocks.length")); }
  std::string kinds() { return browser_.value_of("state().blocks.map(b => b.kind).join(' ')"); }

  // Lays the sheet's marks over the job and delivers; the text of the first page.
  std::string delivered() {
    put(folder_.file("layout.json"), browser_.value_of("layoutFile()"));
    const Outcome amended = in(folder_, "$B amend job layout.json");
    EXPECT_EQ(amended.code, 0) << amended.err;
    const Outcome o = in(folder_, "$B run --job job");
    EXPECT_LE(o.code, 1) << o.err;
    const std::string text = content_of(folder_.file("all.txt"));
    return text.substr(0, text.find('\f'));
  }

  TemporaryFolder folder_;
  Browser browser_;
};

TEST_F(LayoutSheet, BlocksAreDrawnCutJoinedAndDeletedByMouse) {
  open();
  press("ab");  // all chosen; blank
  EXPECT_EQ(blocks(), 0);
  press("r");
  drag(100, 200, 1150, 410);
  ASSERT_EQ(blocks(), 1);
  press("r");
  drag(100, 60, 1150, 160);
  press("2");  // a heading
  EXPECT_EQ(kinds(), "text heading");
  press("\uE011");  // Home: to front
  EXPECT_EQ(kinds(), "heading text");
  press("c");
  click(600, 335);  // the paragraph in two
  EXPECT_EQ(kinds(), "heading text text");
  press("j");
  EXPECT_EQ(kinds(), "heading text");
  press("u");
  EXPECT_EQ(kinds(), "heading text text");
  press("U");
  EXPECT_EQ(kinds(), "heading text");
  const std::string text = delivered();
  EXPECT_TRUE(contains(text, "Minutes of meeting 1")) << text;
  EXPECT_TRUE(contains(text, "paint the tower in spring")) << text;
  EXPECT_FALSE(contains(text, "Lamp oil")) << text;
  EXPECT_FALSE(contains(text, "Copied")) << text;
  // The other pages are as they were, and nothing is done twice.
  EXPECT_TRUE(contains(content_of(folder_.file("all.txt")), "Copied by the clerk"));
  const Outcome again = in(folder_, "$B amend job layout.json");
  EXPECT_TRUE(contains(again.err, "0 pages laid out anew, 1 before")) << again.err;
  EXPECT_TRUE(contains(in(folder_, "$B run --job job").err, "up to date: all.txt"));
}

TEST_F(LayoutSheet, BlocksAreMovedAndResized) {
  open();
  press("b");
  press("r");
  drag(100, 500, 300, 560);
  drag(200, 530, 250, 700);  // the middle: moved
  const json after_move =
      parse_json(browser_.value_of("JSON.stringify(bounds(state().blocks[0].outline))"));
  EXPECT_NEAR(after_move[0].get<double>(), 150, 2);
  EXPECT_NEAR(after_move[1].get<double>(), 670, 2);
  EXPECT_NEAR(after_move[2].get<double>() - after_move[0].get<double>(), 200, 2);
  drag(350, 730, 800, 780);  // the corner: resized
  const json box =
      parse_json(browser_.value_of("JSON.stringify(bounds(state().blocks[0].outline))"));
  EXPECT_NEAR(box[2].get<double>(), 800, 4);
  EXPECT_NEAR(box[3].get<double>(), 780, 4);
  press("\uE014\uE014");  // right by two pixels
  EXPECT_EQ(std::stod(browser_.value_of("bounds(state().blocks[0].outline)[0]")),
            after_move[0].get<double>() + 2);
  // What was done is there when the sheet is opened again.
  browser_.open(folder_.file("layout.html"));
  browser_.value_of("go(0)");
  EXPECT_EQ(blocks(), 1);
}

TEST_F(LayoutSheet, OrderIsClicked) {
  open();
  press("b");
  for (const double y : {200.0, 60.0, 850.0}) {
    press("r");
    drag(90, y, 1150, y + (y == 200 ? 210 : 90));
  }
  press("o");
  click(800, 900);
  click(600, 110);
  click(600, 300);
  press("\uE00C");  // Esc
  const std::string text = delivered();
  const size_t clerk = text.find("Copied"), head = text.find("Minutes"),
               body = text.find("The Board");
  ASSERT_NE(body, std::string::npos) << text;
  EXPECT_LT(clerk, head) << text;
  EXPECT_LT(head, body) << text;
}

TEST_F(LayoutSheet, ATableGetsRulesAndGoesIntoTheSpreadsheet) {
  open();
  press("b");
  press("r");
  drag(130, 515, 760, 725);
  press("8");
  press("t");
  click(450, 640);        // a column rule
  click(300, 585, true);  // row rules
  click(300, 655, true);
  press("\uE00C");
  delivered();
  const std::string csv = content_of(folder_.file("all.csv"));
  EXPECT_TRUE(contains(csv, "Lamp oil,412\r\nWicks,24\r\nRope,95\r\n")) << csv;
}

TEST_F(LayoutSheet, LinesAreDrawnAndDeleted) {
  open();
  press("b");
  press("r");
  drag(100, 200, 1150, 410);
  press("l");
  drag(110, 275, 1140, 330);  // the second line alone
  EXPECT_EQ(browser_.value_of("state().blocks[0].lines.length"), "1");
  const std::string text = delivered();
  EXPECT_TRUE(contains(text, "Engineer reported")) << text;
  EXPECT_FALSE(contains(text, "The Board met")) << text;
}

TEST_F(LayoutSheet, AStencilLiesOverOtherPages) {
  open();
  press("b");
  press("r");
  drag(90, 200, 1150, 410);
  press("S");
  browser_.value_of("layStencil('2-3')");
  EXPECT_TRUE(contains(browser_.text_of("#say"), "laid over 2 pages")) << browser_.text_of("#say");
  // Most of their lines lie outside: it is said where.
  EXPECT_TRUE(contains(browser_.text_of("#say"), "does not fit")) << browser_.text_of("#say");
  delivered();
  const std::string all = content_of(folder_.file("all.txt"));
  EXPECT_FALSE(contains(all, "Minutes")) << all;
  size_t found = 0;
  for (size_t at = all.find("paint the tower"); at != std::string::npos;
       at = all.find("paint the tower", at + 1))
    ++found;
  EXPECT_EQ(found, 3u) << all;
}

TEST_F(LayoutSheet, PagesAreLeftOutAndTurned) {
  open();
  press("w");
  browser_.value_of("go(1)");
  press("qq");  // upside down
  EXPECT_TRUE(contains(browser_.text_of("#looked"), "2 of 3"));
  const std::string text = delivered();
  EXPECT_FALSE(contains(content_of(folder_.file("all.txt")), "meeting 1"));
  const json job = parse_json(content_of(folder_.file("job/job.json")));
  EXPECT_EQ(job["wishes"]["m2-0001"]["turn"], 180);
  EXPECT_TRUE(job["wishes"]["m1-0001"]["leave_out"].get<bool>());
  EXPECT_FALSE(contains(content_of(folder_.file("all.txt")), "meeting 2"));
  EXPECT_TRUE(contains(content_of(folder_.file("all.txt")), "meeting 3"));
}

TEST_F(LayoutSheet, EverythingIsDoneByKeysAlone) {
  open();
  press("n");
  EXPECT_EQ(browser_.value_of("chosen.length"), "1");
  const int before = blocks();
  press("\uE017");  // Del
  EXPECT_EQ(blocks(), before - 1);
  press("nk");  // only the first
  EXPECT_EQ(blocks(), 1);
  press(".");
  EXPECT_EQ(browser_.value_of("at"), "1");
  press("s");  // as the page before
  EXPECT_EQ(blocks(), 1);
  press("r\uE007");  // Enter draws one in the middle
  EXPECT_EQ(blocks(), 2);
  press("8t");
  EXPECT_EQ(browser_.value_of("chosen.length"), "1");
  press("\uE007\uE007");
  EXPECT_EQ(browser_.value_of("state().blocks[chosen[0]].columns.length"), "2");
}

TEST_F(LayoutSheet, MarksForPagesThatChangedSinceAreTold) {
  open();
  press("b");
  put(folder_.file("layout.json"), browser_.value_of("layoutFile()"));
  std::string xml = content_of(folder_.file("job/m1-0001.xml"));
  const size_t from = xml.find("<TextRegion"), to = xml.find("</TextRegion>", from);
  put(folder_.file("job/m1-0001.xml"), xml.erase(from, to + 13 - from));
  const Outcome o = in(folder_, "$B amend job layout.json");
  EXPECT_EQ(o.code, 1);
  EXPECT_TRUE(contains(o.err, "m1-0001: its layout is another")) << o.err;
  put(folder_.file("layout.json"),
      R"({"format":"burnisher-layout-1","pages":[{"page":"nowhere","blocks":[]}]})");
  EXPECT_EQ(in(folder_, "$B amend job layout.json").code, 1);
  put(folder_.file("layout.json"), "{}");
  EXPECT_EQ(in(folder_, "$B amend job layout.json").code, 3);
}

TEST_F(LayoutSheet, LoadsQuicklyAndOneFileHoldsAllOfIt) {
  ASSERT_EQ(in(folder_, "$B layout job --out one.html --one-file").code, 0);
  const std::string one = content_of(folder_.file("one.html"));
  EXPECT_FALSE(contains(one, "job/m1"));
  EXPECT_TRUE(contains(content_of(folder_.file("layout.html")), "job/m1-0001.jpg"));
  EXPECT_FALSE(contains(one, "http://") && contains(one, "src=\"http"));
  EXPECT_EQ(in(folder_, "$B layout job --out layout.html").code, 3);
  EXPECT_EQ(in(folder_, "$B layout nowhere --out x.html").code, 3);
}

}  // namespace
}  // namespace burnisher::tests
