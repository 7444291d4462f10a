// Suspects, repairs, the proof sheet in a browser, decisions and the lexicon, through the built
// program.
#include <gtest/gtest.h>

#include <filesystem>
#include "base/json.h"

#include "base/files.h"
#include "browser.h"
#include "pagefile/page_xml.h"
#include "program.h"
#include "raster/png.h"
#include "testing/printed_page.h"

namespace burnisher::tests {
namespace {

using testing::PrintedPage;
using testing::TemporaryFolder;

// A folder with a page of the log that has names and a misprint in it, read into a job. The user's
// own list of words is kept in the folder, too.
class Correcting : public ::testing::Test {
 protected:
  Correcting() {
    PrintedPage page(1300, 800);
    page.print_column({"The lamp of Qzavrow was lit before", "dusk and burned clear all night. Two",
                       "boats passed inside the reef with", "oil. Keeper Vlexmore saw the larnp",
                       "of Qzavbeck. Oil used: 14 gallons."},
                      160, 160, 50, 90);
    write_file(folder_.file("log.png"), write_png(page.picture(), 300));
  }

  Outcome in(const std::string& command) {
    return shell("cd " + folder_.path() + " && export XDG_CONFIG_HOME=" + folder_.path() +
                 "/settings && " + command);
  }
  void read() {
    const Outcome o =
        in("$B run log.png --out log.pdf --out log.txt --job job --lang en --suspect-above 0.003");
    ASSERT_EQ(o.code, 0) << o.err;
  }
  Page page() { return read_page_xml_file(folder_.file("job/log-0001.xml")).page; }
  const Word* word(const Page& page, const std::string& text) {
    for (const Block& block : page.blocks) {
      for (const Line& line : block.lines) {
        for (const Word& w : line.words) {
          if (w.text == text) return &w;
        }
      }
    }
    return nullptr;
  }

  TemporaryFolder folder_;
};

TEST_F(Correcting, UnknownWordsAreSuspectsAndKnownOnesAreNot) {
  read();
  const Page read = page();
  const Word *misprint = word(read, "larnp"), *right = word(read, "lamp");
  ASSERT_NE(misprint, nullptr);
  ASSERT_NE(right, nullptr);
  EXPECT_TRUE(misprint->reasons & kUnknown);
  EXPECT_EQ(right->reasons, 0u);
  const Outcome o =
      in("$B correct job --out-dir checked --lang en --suspect-above 0.003 --changes changes.tsv");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "suspects")) << o.err;
  EXPECT_TRUE(contains(content_of(folder_.file("changes.tsv")), "before\tafter"));
  // What was corrected stays as it is when it is corrected again.
  in("$B correct checked --out-dir again --lang en --suspect-above 0.003");
  EXPECT_EQ(content_of(folder_.file("again/log-0001.xml")),
            content_of(folder_.file("checked/log-0001.xml")));
  EXPECT_EQ(in("$B correct job").code, 2);
  EXPECT_EQ(in("$B correct nowhere --out-dir x").code, 3);
}

TEST_F(Correcting, TheProofSheetWorksByKeysAndClicks) {
  read();
  ASSERT_EQ(in("$B proof job --out proof.html --lang en").code, 0);
  Browser browser;
  browser.open(folder_.file("proof.html"));
  const int count = std::stoi(browser.value_of("sheet.items.length"));
  ASSERT_GE(count, 2);
  EXPECT_EQ(browser.text_of("#done"), "0 of " + std::to_string(count) + " decided");
  // To the misprint, which is to read "lamp".
  const int misprint = std::stoi(browser.value_of("sheet.items.findIndex(i => i.read == 'larnp')"));
  ASSERT_GE(misprint, 0);
  for (int i = 0; i < misprint; ++i) browser.type("\uE014");
  EXPECT_EQ(browser.text_of("#text mark"), "larnp");
  const int lamp = std::stoi(browser.value_of("item().suggestions.indexOf('lamp')"));
  ASSERT_GE(lamp, 0);
  EXPECT_LT(lamp, 3);
  browser.type(std::to_string(lamp + 1));
  EXPECT_EQ(browser.text_of("#done"), "1 of " + std::to_string(count) + " decided");
  browser.type("u");
  EXPECT_EQ(browser.text_of("#done"), "0 of " + std::to_string(count) + " decided");
  EXPECT_EQ(browser.text_of("#text mark"), "larnp");
  // Typed by hand, with the keyboard alone.
  browser.type("e");
  browser.type("old lamp\uE007", "#typed");
  EXPECT_TRUE(contains(browser.value_of("decisionsTable()"), "larnp\tchange\told lamp"));
  // Clicks: another suspect from the list, into the lexicon; the page view.
  browser.click("#list button:nth-child(" + std::to_string(misprint == 0 ? 2 : 1) + ")");
  const std::string name = browser.text_of("#text mark");
  browser.click("#lexicon");
  EXPECT_TRUE(contains(browser.value_of("decisionsTable()"), name + "\tlexicon\t"));
  browser.click("#leafview");
  EXPECT_EQ(browser.value_of("getComputedStyle(get('pageview')).display"), "block");
  EXPECT_NE(browser.value_of("document.querySelectorAll('#leaf button').length"), "0");
  // What was decided is still there when the page is opened again.
  const std::string table = browser.value_of("decisionsTable()");
  browser.open(folder_.file("proof.html"));
  EXPECT_EQ(browser.value_of("decisionsTable()"), table);

  put(folder_.file("decisions.tsv"), table);
  const Outcome o = in("$B amend job decisions.tsv");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(o.err, "2 decisions applied")) << o.err;
  EXPECT_NE(word(page(), "old"), nullptr);
  EXPECT_EQ(word(page(), "larnp"), nullptr);
  EXPECT_TRUE(contains(in("$B lexicon list").out, name.substr(0, 6)));
  EXPECT_TRUE(
      contains(in("$B amend job decisions.tsv").err, "0 decisions applied, 2 applied before"));
}

TEST_F(Correcting, AnyWordOfThePageViewIsPutRightAndLinesAreTypedWhole) {
  read();
  ASSERT_EQ(in("$B proof job --out proof.html --lang en").code, 0);
  Browser browser;
  browser.open(folder_.file("proof.html"));
  browser.type("v");
  const auto place_of = [&](const std::string& text) {
    return browser.value_of("sheet.pages[0].words.findIndex(w => w[READ] == '" + text + "')");
  };
  // A word that is no suspect.
  const std::string reef = place_of("reef"), burned = place_of("burned");
  ASSERT_NE(reef, "-1");
  browser.click("#leaf button[data-word='" + reef + "']");
  browser.type("shoal\uE007", "#word");
  EXPECT_TRUE(contains(browser.value_of("decisionsTable()"), "\treef\tchange\tshoal"));
  // The whole of a line: one word changed, one put in.
  browser.value_of("editLine(" + burned + ")");
  const std::string line = browser.value_of("document.getElementById('word').value");
  EXPECT_EQ(line, "dusk and burned clear all night. Two");
  browser.value_of("document.getElementById('word').value = ''");
  browser.type("dusk and shone very clear all night. Two\uE007", "#word");
  EXPECT_TRUE(contains(browser.value_of("decisionsTable()"), "\tburned\tchange\tshone very"))
      << browser.value_of("decisionsTable()");
  // Search, the strip of pages, undo.
  browser.type("passed", "#search");
  EXPECT_EQ(browser.text_of("#hits"), "1 place");
  EXPECT_EQ(browser.value_of("document.querySelectorAll('#strips button').length"), "1");
  const std::string table = browser.value_of("decisionsTable()");
  browser.value_of("undo()");
  EXPECT_FALSE(contains(browser.value_of("decisionsTable()"), "shone"));

  put(folder_.file("decisions.tsv"), table);
  const Outcome o = in("$B amend job decisions.tsv");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_NE(word(page(), "shoal"), nullptr);
  EXPECT_NE(word(page(), "very"), nullptr);
  EXPECT_EQ(word(page(), "burned"), nullptr);
}

TEST_F(Correcting, TheProofSheetDecidesForAllOfAKindAndSaves) {
  PrintedPage page(1300, 500);
  page.print_column({"The larnp was lit. The larnp burned", "clear all night. Keeper Vlexmore saw"},
                    160, 160, 50, 90);
  write_file(folder_.file("log.png"), write_png(page.picture(), 300));
  read();
  ASSERT_EQ(in("$B proof job --out proof.html --lang en --order doubt").code, 0);
  Browser browser;
  browser.open(folder_.file("proof.html"));
  EXPECT_EQ(browser.value_of("get('order').value"), "doubt");
  // The most doubtful comes first.
  EXPECT_EQ(browser.value_of(
                "order.every((n, i) => i == 0 || sheet.items[order[i - 1]].error_probability >= "
                "sheet.items[n].error_probability)"),
            "true");
  const int first =
      std::stoi(browser.value_of("order.findIndex(n => sheet.items[n].read == 'larnp')"));
  ASSERT_GE(first, 0);
  browser.click("#list button:nth-child(" + std::to_string(first + 1) + ")");
  browser.type("s");
  EXPECT_EQ(browser.value_of("get('same').checked"), "true");
  browser.type("e");
  browser.type("lamp\uE007", "#typed");
  EXPECT_EQ(browser.value_of("Object.values(decisions).filter(d => d.text == 'lamp').length"), "2");
  browser.type("u");
  EXPECT_EQ(browser.value_of("Object.keys(decisions).length"), "0");
  // Leave open, remove, and right as read: each with its key. What was left open is decided with
  // the others of its kind.
  browser.type("o");
  EXPECT_EQ(browser.value_of("Object.values(decisions).map(d => d.verdict).join()"), "open");
  browser.type("x");
  EXPECT_EQ(browser.value_of("Object.values(decisions).map(d => d.verdict + d.text).join()"),
            "change,change");
  browser.click("#undo");
  EXPECT_EQ(browser.value_of("Object.values(decisions).map(d => d.verdict).join()"), "open");
  browser.click("#same");
  browser.type("\uE007");
  EXPECT_TRUE(contains(browser.value_of("decisionsTable()"), "\tright\t"));
  // What is saved is a table with a heading.
  EXPECT_TRUE(contains(browser.value_of("decisionsTable()"),
                       "id\tfile\tpage\tx\ty\twidth\theight\thash\tread\tdecision\ttext"));
  // Typing in the field is no command.
  browser.type("e");
  browser.type("xul", "#typed");
  EXPECT_EQ(browser.value_of("document.activeElement.id"), "typed");
}

TEST_F(Correcting, DecisionsSurviveAnotherReading) {
  read();
  const Word* misprint = word(page(), "larnp");
  ASSERT_NE(misprint, nullptr);
  in("$B proof job --out words.tsv");
  // The row of the word, as a script would make a decision of it.
  put(folder_.file("make.awk"),
      "BEGIN{FS=OFS=\"\\t\"; print \"file\",\"page\",\"x\",\"y\",\"width\",\"height\",\"read\","
      "\"decision\",\"text\"} $11==\"larnp\"{print $1,$2,$7,$8,$9,$10,$11,\"change\",\"lamp\"}");
  in("awk -f make.awk words.tsv > mine.tsv");
  ASSERT_EQ(in("$B amend job mine.tsv").code, 0);
  // Read anew with another cleaning; the decisions of the job are applied to pages and documents.
  const Outcome o =
      in("$B run log.png --out log.pdf --out log.txt --out log.xml --job job --lang en --crop text "
         "--overwrite");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_FALSE(contains(content_of(folder_.file("log.txt")), "larnp"));
  EXPECT_TRUE(contains(content_of(folder_.file("log.xml")), "CS=\"true\""));
  EXPECT_TRUE(contains(shell("pdftotext " + folder_.file("log.pdf") + " -").out, "saw the lamp"));
  EXPECT_EQ(shell("xmllint --noout " + folder_.file("log.xml")).code, 0);
  // A decision about a word that is not there is a conflict, and is told.
  put(folder_.file("wrong.tsv"),
      "file\tpage\tx\ty\twidth\theight\tread\tdecision\ttext\n"
      "log.png\t1\t5\t5\t20\t20\tghost\tchange\tlamp\nother.png\t1\t5\t5\t20\t20\tx\tright\t\n");
  const Outcome wrong = in("$B amend job wrong.tsv");
  EXPECT_EQ(wrong.code, 1);
  EXPECT_TRUE(contains(wrong.err, "no word is there")) << wrong.err;
  EXPECT_TRUE(contains(wrong.err, "other.png is none of these pages")) << wrong.err;
}

TEST_F(Correcting, OneWordForAnotherOverManyFiles) {
  read();
  const std::string before = content_of(folder_.file("job/log-0001.xml"));
  const Outcome look = in("$B amend job --replace oil paraffin --ignore-case --dry-run");
  EXPECT_TRUE(contains(look.out, "oil. -> paraffin.")) << look.out;
  EXPECT_TRUE(contains(look.out, "Oil -> paraffin")) << look.out;
  EXPECT_TRUE(contains(look.err, "2 places in 1 file; nothing was written")) << look.err;
  EXPECT_EQ(content_of(folder_.file("job/log-0001.xml")), before);
  in("$B amend job --replace oil paraffin");
  EXPECT_NE(word(page(), "paraffin."), nullptr);
  EXPECT_NE(word(page(), "Oil"), nullptr);
  EXPECT_EQ(in("$B amend job --replace '(' x --regex").code, 2);
}

TEST_F(Correcting, DocumentsWithManySuspectsWait) {
  const Outcome o =
      in("$B run log.png --out-dir done --to text --hold-if 'suspects>1%' --lang en "
         "--suspect-above 0.003");
  EXPECT_EQ(o.code, 1);
  EXPECT_TRUE(contains(o.err, "held because of log.png: suspect words")) << o.err;
  EXPECT_TRUE(std::filesystem::exists(folder_.file("done/waiting/log.txt")));
  EXPECT_FALSE(std::filesystem::exists(folder_.file("done/log.txt")));
  const Outcome through =
      in("$B run log.png --out-dir done --to text --hold-if 'suspects>50%,no-text' --lang en "
         "--overwrite");
  EXPECT_EQ(through.code, 0) << through.err;
  EXPECT_EQ(in("$B run log.png --out x.txt --hold-if nonsense").code, 2);
}

TEST_F(Correcting, TheUsersWordsAreNoSuspects) {
  EXPECT_EQ(in("$B lexicon add Qzavrow Vlexmore").code, 0);
  EXPECT_EQ(in("$B lexicon list").out, "Qzavrow\nVlexmore\n");
  put(folder_.file("places.txt"), "# places\nQzavbeck\n");
  ASSERT_EQ(in("$B run log.png --out log.txt --job job --lang en --words places.txt").code, 0);
  const Page read = page();
  for (const char* name : {"Qzavrow", "Vlexmore", "Qzavbeck."}) {
    ASSERT_NE(word(read, name), nullptr) << name;
    EXPECT_FALSE(word(read, name)->reasons & kUnknown) << name;
  }
  const Outcome check = in("$B lexicon check --lang en Qzavrow lamps larnp 412");
  EXPECT_EQ(check.code, 1);
  EXPECT_TRUE(contains(check.out, "Qzavrow\tknown\nlamps\tknown\nlarnp\tunknown")) << check.out;
  EXPECT_TRUE(contains(check.out, "412\tnot looked up")) << check.out;
  in("$B lexicon remove Qzavrow");
  EXPECT_EQ(in("$B lexicon list").out, "Vlexmore\n");
}

TEST_F(Correcting, AJobIsExportedAsAWhole) {
  read();
  const Outcome o = in("$B export job --out again.pdf --out again.txt --out again.xml");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_EQ(content_of(folder_.file("again.txt")), content_of(folder_.file("log.txt")));
  EXPECT_EQ(shell("qpdf --check " + folder_.file("again.pdf")).code, 0);
  std::filesystem::create_directories(folder_.file("empty"));
  EXPECT_EQ(in("$B export empty --out x.txt").code, 3);
  EXPECT_EQ(in("$B export again.xml --out x.txt").code, 3);  // ALTO is an end, no beginning
}

TEST_F(Correcting, AltoIsTakenAndGivenBack) {
  ASSERT_EQ(in("$B run log.png --out log.xml --lang en").code, 0);
  const Outcome o = in("$B correct log.xml --out-dir checked --lang en");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_TRUE(contains(content_of(folder_.file("checked/log.xml")), "<alto"));
  ASSERT_EQ(in("$B amend log.xml --replace lamp lantern --out-dir changed").code, 0);
  const std::string changed = content_of(folder_.file("changed/log.xml"));
  EXPECT_TRUE(contains(changed, "CONTENT=\"lantern\""));
  EXPECT_TRUE(contains(changed, "as read"));
  EXPECT_EQ(shell("xmllint --noout " + folder_.file("changed/log.xml")).code, 0);
  EXPECT_EQ(in("$B amend log.xml --replace lamp lantern").code, 2);  // in place only when told
}

TEST_F(Correcting, WhatWasNotCorrectedIsSaid) {
  in("$B clean log.png --out-dir pages --quiet && $B recognise pages/log.png --out-dir read "
     "--quiet");
  const Outcome o = in("$B proof read --images pages --out proof.html --lang en");
  EXPECT_EQ(o.code, 0);
  EXPECT_TRUE(contains(o.err, "run `burnisher correct` first")) << o.err;
  const Outcome lost =
      in("$B correct read --out-dir checked --suspect-above 0.003 --lang en && "
         "$B proof checked --out lost.html --lang en");
  EXPECT_TRUE(contains(lost.err, "shown without pictures")) << lost.err;
}

TEST_F(Correcting, ALanguageWithoutDictionaryIsNamed) {
  const Outcome o =
      in("$B run log.png --out x.txt --job job --quiet; "
         "DICPATH=/nowhere $B correct job --out-dir checked --lang zz");
  EXPECT_EQ(o.code, 0);
  EXPECT_TRUE(contains(o.err, "no dictionary is installed for 'zz'")) << o.err;
  EXPECT_EQ(in("$B run log.png --out y.txt --words none.txt").code, 3);
}

TEST_F(Correcting, PrecisionAndLongSAreChosen) {
  ASSERT_EQ(in("$B run log.png --out f.txt --precision float").code, 0);
  ASSERT_EQ(in("$B run log.png --out b.txt --precision int8 --long-s modern").code, 0);
  EXPECT_EQ(content_of(folder_.file("f.txt")), content_of(folder_.file("b.txt")));
  EXPECT_EQ(in("$B run log.png --out c.txt --precision decimal").code, 2);
}

TEST_F(Correcting, BrokenTablesAndFilesAreNamed) {
  read();
  put(folder_.file("d.tsv"), "one\ttwo\n");
  const Outcome table = in("$B amend job d.tsv");
  EXPECT_NE(table.code, 0);
  EXPECT_TRUE(contains(table.err, "d.tsv: is no table of decisions")) << table.err;
  put(folder_.file("job/zz.xml"), "<PcGts>");
  const Outcome o = in("$B correct job --out-dir checked --lang en");
  EXPECT_EQ(o.code, 1);
  EXPECT_TRUE(contains(o.err, "zz.xml: no usable XML")) << o.err;
  EXPECT_TRUE(std::filesystem::exists(folder_.file("checked/log-0001.xml")));
}

TEST_F(Correcting, ListsOfWordsAreKeptByHandOrByCommand) {
  put(folder_.file("places.txt"), "# of the Board\nSkerrow\n");
  EXPECT_EQ(in("$B lexicon add --list places.txt Hallow Dunmore").code, 0);
  EXPECT_EQ(content_of(folder_.file("places.txt")), "# of the Board\nDunmore\nHallow\nSkerrow\n");
  EXPECT_TRUE(
      contains(in("$B lexicon add --list places.txt Hallow").err, "is in the list already"));
  EXPECT_TRUE(contains(in("$B lexicon remove --list places.txt nobody").err, "is not in the list"));
  EXPECT_EQ(in("$B lexicon list --list places.txt").out, "Dunmore\nHallow\nSkerrow\n");
  EXPECT_TRUE(contains(in("$B lexicon list").err, "dictionaries are installed for:"));
  EXPECT_EQ(in("$B lexicon add 'two words'").code, 2);
  EXPECT_EQ(in("$B lexicon").code, 2);
  EXPECT_EQ(in("$B lexicon check lamp").code, 2);  // in which language?
  const Outcome own = in("$B lexicon check --lang en --list places.txt Hallow");
  EXPECT_EQ(own.out, "Hallow\tknown\n");
}

TEST_F(Correcting, FilesWithAbsurdContentAreNamedAndLeft) {
  const std::string cell =
      "<PcGts xmlns='x'><Page imageFilename='a.png' imageWidth='9' imageHeight='9'><TableRegion "
      "id='t'><Coords points='0,0 9,9'/><TextRegion id='c'><Coords points='0,0 9,9'/><Roles>"
      "<TableCellRole rowIndex='-1' columnIndex='0'/></Roles></TextRegion></TableRegion></Page>"
      "</PcGts>";
  put(folder_.file("absurd.xml"), cell);
  for (const char* command :
       {"correct absurd.xml --out-dir x", "proof absurd.xml --out x.html",
        "export absurd.xml --out x.csv", "amend absurd.xml --replace a b --out-dir x"}) {
    const Outcome o = in(std::string("$B ") + command);
    EXPECT_EQ(o.code, 3) << command << ": " << o.err;
    EXPECT_TRUE(contains(o.err, "absurd.xml: no table has a cell in row")) << o.err;
  }
  EXPECT_EQ(content_of(folder_.file("absurd.xml")), cell);
  EXPECT_FALSE(std::filesystem::exists(folder_.file("x.html")));
}

TEST_F(Correcting, NothingThatIsThereIsOverwrittenUnlessAsked) {
  read();
  put(folder_.file("proof.html"), "mine");
  put(folder_.file("changes.tsv"), "mine");
  std::filesystem::create_directories(folder_.file("checked"));
  put(folder_.file("checked/log-0001.xml"), "mine");
  EXPECT_EQ(in("$B proof job --out proof.html").code, 3);
  EXPECT_EQ(in("$B correct job --out-dir checked").code, 3);
  EXPECT_EQ(in("$B correct job --out-dir other --changes changes.tsv").code, 3);
  EXPECT_EQ(content_of(folder_.file("proof.html")), "mine");
  EXPECT_EQ(content_of(folder_.file("checked/log-0001.xml")), "mine");
  EXPECT_EQ(content_of(folder_.file("changes.tsv")), "mine");
  EXPECT_EQ(in("$B proof job --out proof.html --overwrite").code, 0);
  EXPECT_TRUE(contains(content_of(folder_.file("proof.html")), "<!DOCTYPE html>"));
}

TEST_F(Correcting, PaperWordsAndEar) {
  read();
  const Outcome o =
      in("$B proof job --out proof.pdf --out words.tsv --read-aloud aloud.txt --lang en");
  ASSERT_EQ(o.code, 0) << o.err;
  EXPECT_EQ(shell("qpdf --check " + folder_.file("proof.pdf")).code, 0);
  EXPECT_TRUE(contains(shell("pdftotext " + folder_.file("proof.pdf") + " -").out, "read: larnp"));
  EXPECT_TRUE(contains(content_of(folder_.file("words.tsv")), "\tlarnp\t"));
  EXPECT_TRUE(contains(content_of(folder_.file("aloud.txt")), "used colon 1 4 gallons full stop"));
  EXPECT_EQ(in("$B proof job --out proof.docx").code, 2);
}

TEST_F(Correcting, WordsOfAnyLengthDoNoHarm) {
  read();
  const std::string path = folder_.file("job/log-0001.xml");
  std::string page = content_of(path);
  const size_t at = page.find("<Unicode>dusk</Unicode>");
  ASSERT_NE(at, std::string::npos);
  page.replace(at + 9, 4, std::string(400000, '1') + "x");
  write_file(path, std::string_view(page));
  EXPECT_EQ(in("$B correct job/log-0001.xml --out-dir read --lang en").code, 0);
  EXPECT_EQ(in("$B export job --out long.txt --out long.md --out long.pdf").code, 0);
  EXPECT_EQ(in("qpdf --check long.pdf").code, 0);
}

}  // namespace
}  // namespace burnisher::tests
