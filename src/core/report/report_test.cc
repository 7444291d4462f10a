// The reports: self-contained pages and tables, held against what they were made from.
#include <gtest/gtest.h>

#include "base/json.h"

#include "base/error.h"
#include "base/files.h"
#include "base/unicode.h"
#include "raster/png.h"
#include "report/html.h"
#include "report/proof_pdf.h"
#include "report/proof_sheet.h"
#include "report/score_report.h"
#include "report/survey_report.h"
#include "report/training_report.h"
#include "report/words_table.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::report {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

size_t times(const std::string& text, const std::string& part) {
  size_t count = 0;
  for (size_t at = text.find(part); at != std::string::npos; at = text.find(part, at + 1)) ++count;
  return count;
}

bool holds(const std::string& text, const std::string& part) {
  return times(text, part) > 0;
}

Gray striped(int width, int height) {
  Gray picture(width, height);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x)
      picture.row(y)[x] = static_cast<uint8_t>((x * 7 + y * 13 + x * y / 5) % 256);
  }
  return picture;
}

TEST(Html, WhatMeansSomethingIsReplaced) {
  EXPECT_EQ(escaped("a < b & \"c\" > d"), "a &lt; b &amp; &quot;c&quot; &gt; d");
  EXPECT_EQ(escaped("Straße № 4"), "Straße № 4");
}

TEST(Html, PagesNeedNoNetwork) {
  const std::string page = html_page("Log & tables", "p { color: red; }", "<p>x</p>");
  EXPECT_TRUE(holds(page, "<title>Log &amp; tables</title>"));
  EXPECT_TRUE(holds(page, "p { color: red; }"));
  EXPECT_FALSE(holds(page, "http"));
}

TEST(Html, PicturesLieInsideThePage) {
  const std::string gray = html_picture(striped(200, 150), "a \"log\"");
  EXPECT_TRUE(holds(gray, "data:image/"));
  EXPECT_TRUE(holds(gray, "width=\"200\" height=\"150\""));
  EXPECT_TRUE(holds(gray, "alt=\"a &quot;log&quot;\""));
  // A few flat greys are smaller without loss.
  EXPECT_TRUE(holds(html_picture(Gray(60, 60), ""), "image/png"));
}

TEST(Reasons, AreToldInWords) {
  EXPECT_EQ(reasons_in_words(0), "");
  EXPECT_EQ(reasons_in_words(kUnknown), "not in the lexicon");
  EXPECT_EQ(reasons_in_words(kUnsure | kOdd), "not clearly seen, an odd mixture");
}

// ---- surveys ----

std::vector<run::ScanSurvey> surveyed(const std::string& file) {
  run::ScanSurvey s;
  s.file = file;
  s.page = 4;
  s.width = 100;
  s.height = 200;
  s.depth = "gray";
  s.dpi = 300;
  s.skew = 0.1234;
  s.look = {"faint", "upside down"};
  s.thumbnail = striped(50, 100);
  std::vector<run::ScanSurvey> scans;
  scans.push_back(std::move(s));
  return scans;
}

TEST(SurveyReport, TheTableHasOneRowAScanUnderOneHeading) {
  const std::string table = survey_tsv(surveyed("a.tif"));
  EXPECT_EQ(times(table, "\n"), 2u);
  std::vector<size_t> tabs;
  for (size_t from = 0; from < table.size();) {
    const size_t end = table.find('\n', from);
    tabs.push_back(times(table.substr(from, end - from), "\t"));
    from = end + 1;
  }
  EXPECT_EQ(tabs[0], tabs[1]);
  EXPECT_TRUE(holds(table, "faint; upside down"));
}

TEST(SurveyReport, JsonHasTheSameNames) {
  const auto json = parse_json(survey_json(surveyed("box 3 <a>.tif")));
  ASSERT_EQ(json["pages"].size(), 1u);
  EXPECT_EQ(json["pages"][0]["page"], 4);
  EXPECT_NEAR(json["pages"][0]["skew"], 0.123, 1e-9);
  EXPECT_EQ(json["pages"][0]["look"].size(), 2u);
  const std::string table = survey_tsv(surveyed("a.tif"));
  for (const auto& [name, value] : json["pages"][0].items()) {
    EXPECT_TRUE(holds(table.substr(0, table.find('\n')), name)) << name;
  }
}

TEST(SurveyReport, ThePageShowsThumbnailsAndEscapesNames) {
  const std::string page = survey_html(surveyed("box 3 <a>.tif"));
  EXPECT_TRUE(holds(page, "&lt;a&gt;"));
  EXPECT_FALSE(holds(page, "<a>.tif"));
  EXPECT_TRUE(holds(page, "data:image/"));
}

// ---- training ----

TEST(TrainingReport, ShowsRoundsConfusionsAndTheWorstLines) {
  const auto example = [](const std::string& page, const std::string& text) {
    train::Example e;
    e.page = page;
    e.picture = striped(80, 30);
    e.text = decode_utf8(text);
    return e;
  };
  const train::Example right = example("one.png", "oil"), wrong = example("two.png", "lamp");
  train::RoundsReport report;
  report.learnt_lines = 12;
  report.added = "ŵ<";
  report.rounds = {
      {0, 0, 0, 0.5, 0.9, true}, {1, 0.4, 0.123, 0.25, 0.5, true}, {2, 0.8, 0.1, 0.3, 0.6, false}};
  report.lines = {{&right, "oil"}, {&wrong, "larnp"}};
  const std::string page = training_html(report);
  EXPECT_TRUE(holds(page, "12 lines learnt from, 2 kept back"));
  EXPECT_TRUE(holds(page, "ŵ&lt;"));
  EXPECT_TRUE(holds(page, "<tr class=\"best\"><td>1</td>"));
  EXPECT_TRUE(holds(page, "before"));
  // Only lines with errors are shown.
  EXPECT_EQ(times(page, "<figure>"), 1u);
  EXPECT_TRUE(holds(page, "larnp"));
  report.lines = {{&right, "oil"}};
  EXPECT_TRUE(holds(training_html(report), "None: every kept-back letter is read right"));
}

// ---- scores ----

class ScorePage : public ::testing::Test {
 protected:
  ScorePage() {
    write_file(folder_.file("a.png"), write_png(striped(300, 200), 200));
    read_.pages = {{"scans/a.png", 1, 300, 200}};
    read_.words = {{"larnp", 0.9, BlockKind::kHeading, 0, {20, 30, 90, 60}},
                   {"oil", 0.9, BlockKind::kText, 0, {100, 30, 150, 60}}};
    read_.text = "larnp oil";
    truth_.text = "lamp oil";
  }
  std::vector<std::string> add(const std::string& folder) {
    report_.pages.push_back({"a", score::compare(read_.text, truth_.text)});
    report_.all.add(report_.pages.back().comparison);
    return add_faults(read_, score::faults_in(read_, truth_), folder, "a", report_);
  }

  TemporaryFolder folder_;
  score::Document read_, truth_;
  ScoreReport report_;
};

TEST_F(ScorePage, ShowsTheWordsThatWereMisread) {
  EXPECT_TRUE(add(folder_.path()).empty());
  const std::string page = score_html(report_, 10);
  EXPECT_TRUE(holds(page, "alt=\"larnp\""));
  EXPECT_FALSE(holds(page, "alt=\"oil\""));
  EXPECT_TRUE(holds(page, "heading"));
  EXPECT_EQ(report_.kinds[BlockKind::kHeading].errors, 2);
  EXPECT_FALSE(holds(page, "Confidence of words"));  // none were counted
}

TEST_F(ScorePage, DoesWithoutPicturesAndSaysWhy) {
  EXPECT_TRUE(add("").empty());
  EXPECT_FALSE(holds(score_html(report_, 10), "data:image"));
  EXPECT_EQ(add(folder_.file("nowhere")).size(), 1u);
  read_.pages[0].width = 299;
  const auto problems = add(folder_.path());
  ASSERT_EQ(problems.size(), 1u);
  EXPECT_TRUE(holds(problems[0], "belong to a picture of 299 x 200")) << problems[0];
}

TEST_F(ScorePage, KeepsAFewExamplesOfEachConfusionAndTheCommonestConfusions) {
  for (int i = 0; i < 9; ++i) add(folder_.path());
  for (const auto& [pair, examples] : report_.examples) EXPECT_LE(examples.size(), 4u);
  EXPECT_LT(times(score_html(report_, 1), "<figure>"), times(score_html(report_, 2), "<figure>"));
}

// ---- proof sheets ----

class ProofOfLog : public ::testing::Test {
 protected:
  ProofOfLog() {
    first_ =
        page_of_lines({line_of({word_of("the"), word_of("larnp"), word_of("was")})}, "log.png");
    second_ = page_of_lines({line_of({word_of("</script>"), word_of("oil")})}, "log.png");
    second_.number = 2;
    mark(first_, 1);
    mark(second_, 0);
    sheet_.title = "Proof of log";
    sheet_.pages = {&first_, &second_};
    sheet_.items = {item(first_, 0, 1, {"lamp"}), item(second_, 1, 0, {})};
    sheet_.picture = [](size_t page) { return page == 0 ? striped(900, 1200) : Gray(); };
  }
  static void mark(Page& page, size_t word) {
    Word& w = page.blocks[0].lines[0].words[word];
    w.error_probability = 0.75;
    w.reasons = kUnknown;
  }
  static ProofItem item(const Page& page, size_t number, size_t word,
                        std::vector<std::string> suggestions) {
    const Line& line = page.blocks[0].lines[0];
    return {&line, &line.words[word], number, std::move(suggestions)};
  }
  nlohmann::json data() {
    const std::string page = proof_html(sheet_, true);
    const size_t from = page.find("const sheet = ") + 14;
    return parse_json(page.substr(from, page.find(";\n", from) - from));
  }

  Page first_, second_;
  ProofSheet sheet_;
};

TEST_F(ProofOfLog, HoldsEverySuspectWithItsLine) {
  const auto sheet = data();
  ASSERT_EQ(sheet["items"].size(), 2u);
  const auto& item = sheet["items"][0];
  EXPECT_EQ(item["read"], "larnp");
  EXPECT_EQ(item["lineBefore"], "the ");
  EXPECT_EQ(item["lineAfter"], " was");
  EXPECT_EQ(item["reason"], "not in the lexicon");
  EXPECT_EQ(item["suggestions"], parse_json("[\"lamp\"]"));
  EXPECT_EQ(item["hash"].get<std::string>().size(), 16u);
  EXPECT_EQ(sheet["order"], "doubt");
  EXPECT_EQ(sheet["pages"][1]["name"], "page 2 of log.png");
}

TEST_F(ProofOfLog, ShowsPicturesWhereThereAreSome) {
  const auto sheet = data();
  EXPECT_EQ(sheet["strips"].size(), 1u);
  EXPECT_EQ(sheet["items"][0]["strip"], 0);
  EXPECT_TRUE(sheet["items"][1]["strip"].is_null());
  EXPECT_EQ(sheet["pages"][1]["src"], "");
}

TEST_F(ProofOfLog, WordsCannotEndTheScript) {
  const std::string page = proof_html(sheet_, false);
  EXPECT_EQ(times(page, "</script>"), 1u);
  EXPECT_EQ(data()["items"][1]["read"], "</script>");
}

TEST_F(ProofOfLog, PicturesAreAskedForOnceAPage) {
  std::vector<size_t> asked;
  sheet_.items.push_back(sheet_.items.back());
  sheet_.picture = [&](size_t page) {
    asked.push_back(page);
    return Gray();
  };
  proof_html(sheet_, false);
  EXPECT_EQ(asked, (std::vector<size_t>{0, 1}));
  asked.clear();
  const TemporaryFolder folder;
  write_proof_pdf(sheet_, folder.file("proof.pdf"), false);
  EXPECT_EQ(asked, (std::vector<size_t>{0, 1}));
}

TEST_F(ProofOfLog, OnPaperTooAndWithoutSuspects) {
  const TemporaryFolder folder;
  sheet_.items.clear();
  write_proof_pdf(sheet_, folder.file("proof.pdf"), false);
  const auto bytes = read_file(folder.file("proof.pdf"));
  EXPECT_EQ(std::string(bytes.begin(), bytes.begin() + 5), "%PDF-");
  EXPECT_THROW(write_proof_pdf(sheet_, folder.file("proof.pdf"), false), OutputError);
  EXPECT_EQ(data()["items"].size(), 0u);
}

TEST(LineCut, StaysWithinThePageAndKnowsWhereTheWordIs) {
  const Gray page = striped(900, 1200);
  const Line line = line_of({word_of("the"), word_of("larnp")}, 20);
  const Word& word = line.words[1];
  const LineCut cut = line_cut(page, line, word);
  ASSERT_GT(cut.picture.width(), 0);
  const int x = static_cast<int>(cut.word.x0), y = static_cast<int>(cut.word.y1) - 1;
  EXPECT_EQ(cut.picture.row(y)[x],
            page.row(static_cast<int>(word.box.y1) - 1)[static_cast<int>(word.box.x0)]);
  EXPECT_GE(cut.picture.width(), cut.word.x1);
}

// ---- words ----

TEST(WordsTable, HasEveryWordWithItsPlaceInTheScan) {
  Page page = page_of_lines({line_of({word_of("oil\tcan", 0.5), word_of("lit")})}, "in/log.png");
  page.geometry.to_scan = Affine::shift(100, 10);
  page.blocks[0].lines[0].words[0].before = "oi1";
  Block noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  page.blocks.push_back(noise);
  const std::string table = words_table({&page});
  EXPECT_EQ(times(table, "\n"), 3u);  // noise is left out
  EXPECT_TRUE(holds(table, "log.png\t1\t1\ttext\t1\t1\t150\t85\t70\t30\toil can\t0.500"));
  EXPECT_TRUE(holds(table, "\toi1\n"));
}

TEST(ReadAloud, FiguresCapitalsAndSignsAreTold) {
  const Page page =
      page_of_lines({line_of({word_of("Bar."), word_of("29.97;"), word_of("N"), word_of("45°"),
                              word_of("B4"), word_of("½"), word_of("☂")})},
                    "log.png");
  EXPECT_EQ(read_aloud({&page}),
            "log, page 1.\n\nBar full stop 2 9 full stop 9 7 semicolon N 4 5 degrees capital B 4 "
            "one half ☂\n\n");
}

}  // namespace
}  // namespace burnisher::report
