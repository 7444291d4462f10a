// Teaching as a person does it: the type case in a browser, its table learnt, the bundle used.
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

using testing::PrintedPage;
using testing::TemporaryFolder;

class TypeCase : public ::testing::Test {
 protected:
  TypeCase() {
    PrintedPage page(1100, 900);
    page.print_column({"the lamp was lit at the station", "and the lamp was trimmed at noon",
                       "the bell at the station was heard", "no lamp was lit at the station"},
                      80, 140, 44, 90);
    write_file(folder_.file("leaf.png"), write_png(page.picture(), 200));
    EXPECT_EQ(in(folder_, "$B run leaf.png --job leaf.job --out leaf.txt --lang en").code, 0);
  }
  void open() {
    const Outcome o = in(folder_, "$B teach leaf.job --out case.html");
    ASSERT_EQ(o.code, 0) << o.err;
    EXPECT_TRUE(contains(o.err, "piles, of 4 lines")) << o.err;
    browser_.open(folder_.file("case.html"));
  }
  std::string value(const std::string& expression) { return browser_.value_of(expression); }
  // Opens the pile that most pictures read as.
  void go_to(const std::string& read) {
    value("go([...Array(singles).keys()].find(p => readOf(pictures(p)) == '" + read + "'))");
  }
  std::string table() { return value("caseTable()"); }
  int rows() { return std::stoi(value("caseTable().trim().split('\\n').length - 1")); }

  TemporaryFolder folder_;
  Browser browser_;
};

TEST_F(TypeCase, PilesAreNamedWithOneKeyOrByTyping) {
  open();
  EXPECT_EQ(browser_.text_of("#title"), "Type case of leaf.job");
  EXPECT_TRUE(contains(browser_.text_of("#done"), "0 of "));
  // The largest and least sure first; a key names all of it, and the next open pile is there.
  go_to("t");
  const int letters = std::stoi(value("pictures(at).length"));
  EXPECT_GT(letters, 10);
  browser_.type("t");
  EXPECT_EQ(rows(), letters);
  EXPECT_NE(value("readOf(pictures(at))"), "t");
  go_to("e");
  browser_.type("\uE004");  // Tab
  browser_.type("{e}\uE007", "#name");
  EXPECT_TRUE(contains(table(), "\tglyph\t{e}\n"));
  browser_.type(" ");  // as it is read
  const int three = rows();
  EXPECT_GT(three, letters);
  browser_.value_of("undo()");
  EXPECT_LT(rows(), three);
  // What was done is there when the page is opened again.
  const int before = rows();
  browser_.open(folder_.file("case.html"));
  EXPECT_EQ(rows(), before);
  // Nothing comes from elsewhere.
  EXPECT_EQ(value("performance.getEntriesByType('resource').filter(r => "
                  "!r.name.startsWith('data:') && !r.name.startsWith('file:')).length"),
            "0");
}

TEST_F(TypeCase, PicturesAreTakenOutLeftOutJoinedAndParted) {
  open();
  go_to("t");
  const int all = std::stoi(value("pictures(at).length"));
  browser_.click("#grid button:nth-child(2)");
  browser_.type("\uE003");  // Backspace: taken out
  EXPECT_EQ(value("pictures(at).length"), std::to_string(all - 1));
  EXPECT_EQ(value("pictures(singles).length"), "1");
  browser_.type("\uE017");  // Delete: broken
  browser_.type("t");
  EXPECT_TRUE(contains(table(), "\tbroken\t\n"));
  EXPECT_EQ(rows(), all - 1);
  // Joined with its right neighbour, named by what it says then.
  go_to("l");
  const std::string glyphs = value("sheet.lines.reduce((n, line) => n + line.glyphs.length, 0)");
  browser_.type("\uE008\uE014");  // Shift, right
  EXPECT_EQ(std::stoi(value("sheet.lines.reduce((n, line) => n + line.glyphs.length, 0)")),
            std::stoi(glyphs) - 1);
  EXPECT_EQ(value("at == singles"), "true");
  browser_.type("\uE004");
  browser_.type("la\uE007", "#name");
  EXPECT_TRUE(contains(table(), "\tglyph\tla\n"));
  // Parted again at a place that is clicked.
  value(
      "(() => { const one = pictures(singles).find(([, g]) => g[NAME] == 'la'); at = singles; "
      "chosen = pictures(singles).findIndex(other => same(other, one)); show(); })()");
  browser_.type("\uE008\uE015");  // Shift, down
  EXPECT_TRUE(contains(browser_.text_of("#how"), "Click where it is to be parted"));
  browser_.type("\uE012\uE012");  // left, twice
  browser_.type("\uE007");
  EXPECT_EQ(value("sheet.lines.reduce((n, line) => n + line.glyphs.length, 0)"), glyphs);
  browser_.value_of("undo()");
  EXPECT_TRUE(contains(table(), "\tglyph\tla\n"));
  // A whole pile alike: a pile of its own comes of it.
  go_to("w");
  const std::string count = value("pictures(at).length");
  browser_.type("\uE034");  // F4
  browser_.type("\uE008\uE014");
  EXPECT_EQ(value("pictures(at).length"), count);
  EXPECT_EQ(value("at >= found && at < singles"), "true");
}

TEST_F(TypeCase, LinesAreSeenWholeAndMayBeTyped) {
  open();
  browser_.type("\uE032");  // F2
  EXPECT_EQ(value("document.querySelectorAll('#lineview .row').length"), "4");
  EXPECT_GT(std::stoi(value(
                "document.querySelectorAll('#lineview .row:first-child .strip button').length")),
            20);
  browser_.type("the lamp was lit at the ſtation\uE004", "#lineview .row:first-child input");
  EXPECT_TRUE(contains(table(), "\tline\tthe lamp was lit at the ſtation\n")) << table();
  browser_.click("#lineview .row:nth-child(2) .strip button");
  EXPECT_EQ(value("get('lineview').hidden"), "true");
  EXPECT_TRUE(contains(browser_.text_of("#how"), "line 2"));
}

TEST_F(TypeCase, WhatWasNamedIsLearntIntoABundleOfOnesOwn) {
  open();
  for (const char* letter : {"t", "a", "l", "m", "p", "w", "s", "i", "o", "n", "h", "b", "d", "r"})
    value(std::string(
              "(() => { const p = [...Array(singles).keys()].find(k => readOf(pictures(k)) == '") +
          letter + "'); if (p !== undefined) { go(p); nameAll('" + letter + "'); } })()");
  go_to("e");
  browser_.type("\uE004");
  browser_.type("{eh}\uE007", "#name");
  put(folder_.file("case.tsv"), table());
  const std::string own = "XDG_DATA_HOME=$PWD/data ";
  const Outcome none = in(folder_, own + "$B teach leaf.job --model mine");
  EXPECT_EQ(none.code, 2);
  EXPECT_TRUE(contains(none.err, "say what to learn from"));
  const Outcome taught =
      in(folder_, own + "$B teach leaf.job case.tsv --model mine --rounds 10 --out again.html");
  ASSERT_EQ(taught.code, 0) << taught.err;
  EXPECT_TRUE(contains(taught.err, "learnt from ")) << taught.err;
  EXPECT_TRUE(contains(taught.err, "burnisher run ... --model mine")) << taught.err;
  EXPECT_TRUE(fs::exists(folder_.file("data/burnisher/models/mine.bundle.json")));
  EXPECT_TRUE(contains(in(folder_, own + "$B models").out, "mine\n"));
  EXPECT_TRUE(contains(in(folder_, own + "$B models mine").out, "from latin"));
  const Outcome run =
      in(folder_, own + "$B run leaf.png --out read.txt --model mine --lang en --repair off");
  EXPECT_LE(run.code, 1) << run.err;  // so little was learnt from that it may be worth a look
  const std::string text = content_of(folder_.file("read.txt"));
  EXPECT_TRUE(contains(text, "{eh}")) << text;
  // The new case has what was named before.
  browser_.open(folder_.file("again.html"));
  EXPECT_TRUE(contains(table(), "\tglyph\t{eh}\n"));
  // Taught again, it goes on from itself; a table about other pages is told.
  std::string other = content_of(folder_.file("case.tsv"));
  other += "elsewhere\t1\t10.0\t10.0\t0.100\t0.500\tglyph\tq\n";
  put(folder_.file("more.tsv"), other);
  const Outcome again = in(folder_, own + "$B teach leaf.job more.tsv --model mine --rounds 1");
  EXPECT_EQ(again.code, 1);
  EXPECT_TRUE(contains(again.err, "elsewhere, line 1: is not there any more")) << again.err;
}

TEST_F(TypeCase, WhatMakesNoSenseIsSaid) {
  EXPECT_EQ(in(folder_, "$B teach leaf.job").code, 2);
  EXPECT_EQ(in(folder_, "$B teach case.tsv --model mine").code, 2);
  put(folder_.file("bad.tsv"), "nonsense\n");
  const Outcome bad = in(folder_, "$B teach leaf.job bad.tsv --model ./mine");
  EXPECT_NE(bad.code, 0);
  EXPECT_TRUE(contains(bad.err, "is no table of a type case")) << bad.err;
  const Outcome name = in(folder_, "$B teach leaf.job bad.tsv --model models/");
  EXPECT_EQ(name.code, 2);
  EXPECT_EQ(in(folder_, "$B teach nowhere.job --out x.html").code, 3);
}

}  // namespace
}  // namespace burnisher::tests
