// Finding words in what was read: in a job, a collection, files; as lines, tables, pages, marked
// PDFs and proof sheets.
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

// Three leaves of the board's papers, read into a job with a PDF.
class Find : public ::testing::Test {
 protected:
  Find() {
    leaf(1, {"The tower at Hallow Rock was painted in", "the spring of the year. The light-",
             "house keeper asked for lamp oil."});
    leaf(2, {"Nether Point reports two gales and a", "broken lamp. The relief was late."});
    leaf(3, {"Hallow Rock asks for wicks and rope.", "The fog bell was heard by two boats."});
    const Outcome o = in(folder_,
                         "$B run scans --job job --out all.pdf --out all.html --lang en --field "
                         "date=1904-06-30 --field 'creator=E. Rask'");
    EXPECT_EQ(o.code, 0) << o.err;
  }
  void leaf(int number, const std::vector<std::string>& lines) {
    fs::create_directories(folder_.file("scans"));
    PrintedPage page(1100, 420);
    page.print_column(lines, 120, 120, 40, 76);
    write_file(folder_.file("scans/leaf" + std::to_string(number) + ".png"),
               write_png(page.picture(), 200));
  }
  Outcome find(const std::string& what, const std::string& where = "job") {
    return in(folder_, "$B find " + what + " --in " + where);
  }
  int lines(const std::string& text) {
    return static_cast<int>(std::count(text.begin(), text.end(), '\n'));
  }
  TemporaryFolder folder_;
};

TEST_F(Find, TellsEveryPlaceInALine) {
  const Outcome o = find("'Hallow Rock'");
  EXPECT_EQ(o.code, 0);
  EXPECT_EQ(lines(o.out), 2) << o.out;
  EXPECT_TRUE(contains(o.out, "job  1  The tower at [Hallow Rock] was painted in")) << o.out;
  EXPECT_TRUE(contains(o.err, "2 hits on 2 pages")) << o.err;
  EXPECT_TRUE(contains(find("lighthouse").out, "[light-house] keeper")) << find("lighthouse").out;
  EXPECT_EQ(find("lamp --count").out, "2\n");
  EXPECT_TRUE(contains(find("lamp --context 2").out, "a broken [lamp.] The relief"))
      << find("lamp --context 2").out;
  EXPECT_EQ(lines(find("'l.mp' --regex").out), 2);
  EXPECT_EQ(find("lamp --where 'date>=1900' --where creator~rask --where page=2 --count").out,
            "1\n");
  EXPECT_EQ(find("lamp --where 'date<1900' --count").code, 1);
}

TEST_F(Find, SaysWhatAFreerSearchWouldFind) {
  const Outcome o = find("hallow");
  EXPECT_EQ(o.code, 1);
  EXPECT_EQ(o.out, "");
  EXPECT_TRUE(contains(o.err, "2 places with --ignore-case")) << o.err;
  EXPECT_TRUE(contains(find("allo").err, "2 places inside other words: --inside"));
  EXPECT_EQ(find("hallow --ignore-case --quiet").code, 0);
}

TEST_F(Find, GivesTablesAndJsonWithPlaces) {
  const json all = parse_json(find("lamp Rock --json").out);
  ASSERT_EQ(all["hits"].size(), 4u);
  const json& first = all["hits"][0];
  EXPECT_EQ(first["sought"], "Rock");
  EXPECT_EQ(first["pdf_page"], 1);
  const json& box = first["lines"][0]["box"];
  EXPECT_GT(box[0].get<int>(), 300);
  EXPECT_NEAR(box[1].get<int>(), 120, 60);
  const std::string table = find("lamp --tsv").out;
  EXPECT_TRUE(
      contains(table, "sought\tfound\tprobability\tmisread\tdocument\tpage\tprinted\tx\ty"));
  EXPECT_EQ(lines(table), 3);
  put(folder_.file("words.txt"), "# names\nHallow\nlamp\nOslo\n");
  EXPECT_EQ(find("--words words.txt").out,
            "word\thits\tjob 1\tjob 2\tjob 3\nHallow\t2\t1\t\t1\nlamp\t2\t1\t1\t\nOslo\t0\t\t\t\n");
}

TEST_F(Find, ReadsPdfHocrAltoAndFoldersOfThem) {
  EXPECT_EQ(find("Hallow --count", "all.pdf").out, "2\n");
  EXPECT_EQ(find("Hallow --count", "all.html").out, "2\n");
  ASSERT_EQ(in(folder_, "$B run scans/leaf1.png --out-dir kept --to alto,pdf --lang en").code, 0);
  const Outcome o = find("Hallow --json", "kept");
  const json hits = parse_json(o.out)["hits"];
  ASSERT_EQ(hits.size(), 1u) << o.err;  // not once more in the PDF beside it
  EXPECT_TRUE(contains(hits[0]["file"].get<std::string>(), "leaf1.xml"));
  EXPECT_TRUE(contains(hits[0]["pdf"].get<std::string>(), "leaf1.pdf"));
  EXPECT_EQ(find("Hallow", "scans/leaf1.png").code, 3);
  EXPECT_EQ(find("Hallow", "nowhere").code, 2);
}

TEST_F(Find, ACorrectionCountsAtOnceAndTheOldFormIsKept) {
  ASSERT_EQ(in(folder_, "$B amend job --replace Nether Nedder").code, 0);
  EXPECT_EQ(find("Nedder --count").out, "1\n");
  EXPECT_EQ(find("Nether --count").out, "0\n");
  EXPECT_EQ(find("Nether --as-read --count").out, "1\n");
}

TEST_F(Find, CollectionsAreBroughtUpToDate) {
  fs::copy(folder_.file("all.html"), folder_.file("other.html"));
  const Outcome made = in(folder_, "$B index job other.html --into all.sqlite");
  EXPECT_EQ(made.code, 0) << made.err;
  EXPECT_TRUE(contains(made.err, "6 pages of 2 documents; 4 files read")) << made.err;
  EXPECT_EQ(find("Hallow --count", "all.sqlite").out, "4\n");
  fs::remove(folder_.file("other.html"));
  const Outcome stale = find("Hallow --count", "all.sqlite");
  EXPECT_TRUE(contains(stale.err, "1 of its files changed or went since")) << stale.err;
  const Outcome again = in(folder_, "$B index --into all.sqlite");
  EXPECT_EQ(again.code, 1);
  EXPECT_EQ(find("Hallow --count", "all.sqlite").out, "2\n");
  // It moves with what it tells of.
  fs::create_directories(folder_.file("far"));
  for (const char* one : {"job", "all.sqlite", "scans"})
    fs::rename(folder_.file(one), folder_.file(std::string("far/") + one));
  const Outcome moved = find("Hallow --count", "far/all.sqlite");
  EXPECT_EQ(moved.out, "2\n");
  EXPECT_FALSE(contains(moved.err, "changed")) << moved.err;
}

TEST_F(Find, MarksHitsInACopyOfThePdf) {
  const Outcome o = find("Hallow lamp --pdf marked.pdf");
  ASSERT_EQ(o.code, 0) << o.err;
  const Outcome made = shell("qpdf --check " + folder_.file("marked.pdf") + " && qpdf --json " +
                             folder_.file("marked.pdf"));
  EXPECT_EQ(made.code, 0) << made.err;
  size_t marks = 0;
  for (size_t at = made.out.find("/Highlight"); at != std::string::npos;
       at = made.out.find("/Highlight", at + 1))
    ++marks;
  EXPECT_EQ(marks, 4u);
  // Yellow where the word is, and nowhere else: the tower's line begins white.
  ASSERT_EQ(in(folder_,
               "pdftoppm -r 200 -f 1 -l 1 marked.pdf page && pdftotext -f 1 -l 1 -bbox marked.pdf "
               "words.html")
                .code,
            0);
  const json box = parse_json(find("Hallow --json").out)["hits"][0]["lines"][0]["box"];
  const std::string ppm = content_of(folder_.file("page-1.ppm"));
  const size_t head = ppm.find("255\n") + 4;
  const int width = std::stoi(ppm.substr(3));
  const auto blue_share = [&](int x0, int y0, int w, int h) {
    double yellow = 0;
    for (int y = y0; y < y0 + h; ++y)
      for (int x = x0; x < x0 + w; ++x) {
        const size_t p = head + 3 * (static_cast<size_t>(y) * static_cast<size_t>(width) +
                                     static_cast<size_t>(x));
        yellow += static_cast<unsigned char>(ppm[p]) > 200 &&
                  static_cast<unsigned char>(ppm[p + 2]) < 130;
      }
    return yellow / (w * h);
  };
  EXPECT_GT(blue_share(box[0], box[1], box[2], box[3]), 0.4);
  EXPECT_LT(blue_share(120, box[1], 60, box[3]), 0.01);
}

TEST_F(Find, ShowsHitsInABrowser) {
  ASSERT_EQ(find("Hallow lamp --html hits.html").code, 0);
  EXPECT_EQ(find("Hallow --html hits.html").code, 3);  // it is there already
  Browser browser;
  browser.open(folder_.file("hits.html"));
  EXPECT_EQ(browser.value_of("document.querySelectorAll('article').length"), "4");
  EXPECT_EQ(browser.value_of(
                "[...document.querySelectorAll('.strip img')].every(i => i.decode ? true : false)"),
            "true");
  EXPECT_EQ(browser.value_of("document.querySelectorAll('svg a').length"), "3");
  EXPECT_EQ(browser.value_of("document.querySelector('article a').getAttribute('href')"),
            "all.pdf#page=1");
  EXPECT_EQ(browser.text_of("article mark"), "Hallow");
  browser.type("n");
  browser.type("n");
  EXPECT_EQ(browser.value_of("document.activeElement.id"), "hit-2");
  browser.type("p");
  EXPECT_EQ(browser.value_of("document.activeElement.id"), "hit-1");
  // The mark lies on ink: the picture under it is darker than beside it.
  EXPECT_EQ(browser.value_of(
                "(() => { const i = document.querySelector('.strip i').getBoundingClientRect(), s "
                "= document.querySelector('.strip').getBoundingClientRect(); return i.left >= "
                "s.left && i.right <= s.right + 1 && i.width > 20; })()"),
            "true");
}

TEST_F(Find, MakesAProofSheetOfTheHitsThatAmendTakes) {
  ASSERT_EQ(find("Hallow --proof proof.html").code, 0);
  Browser browser;
  browser.open(folder_.file("proof.html"));
  browser.value_of("localStorage.clear()");
  const std::string sheet = content_of(folder_.file("proof.html"));
  size_t items = 0;
  for (size_t at = sheet.find("\"lineBefore\""); at != std::string::npos;
       at = sheet.find("\"lineBefore\"", at + 1))
    ++items;
  EXPECT_EQ(items, 2u);
}

TEST_F(Find, WrongQuestionsAreAnsweredWithWhatIsWrong) {
  EXPECT_TRUE(contains(find("'(' --regex").err, "is no regular expression"));
  EXPECT_TRUE(contains(find("'*'").err, "nothing in it that could be sought"));
  EXPECT_TRUE(contains(find("lamp --where date").err, "expected as in 'date>=1890'"));
  EXPECT_EQ(find("").code, 2);
  EXPECT_TRUE(contains(find("lamp --near --regex").err, "with --regex it has no meaning"));
  EXPECT_TRUE(contains(find("lamp --probability 0.5").err, "is of use with --near"));
  put(folder_.file("there.pdf"), "somebody's");
  EXPECT_EQ(find("lamp --pdf there.pdf").code, 3);
  EXPECT_EQ(content_of(folder_.file("there.pdf")), "somebody's");
  put(folder_.file("notes.sqlite"), "SQLite format 3 but nothing else");
  EXPECT_EQ(find("lamp", "notes.sqlite").code, 3);
}

}  // namespace
}  // namespace burnisher::tests
