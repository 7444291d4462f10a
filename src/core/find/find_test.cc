#include <gtest/gtest.h>

#include <chrono>
#include <cmath>
#include <filesystem>
#include <map>

#include "base/error.h"
#include "base/files.h"
#include "find/expression.h"
#include "find/gather.h"
#include "find/hit_view.h"
#include "find/search.h"
#include "pagefile/page_xml.h"
#include "testing/printed_page.h"
#include "testing/word_pages.h"

namespace burnisher::find {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

std::string folded(const std::string& text, const Folding& folding) {
  return utf8_of(Folder(folding).folded(text));
}

TEST(Folding, MakesAlikeWhatIsAskedForAndNothingElse) {
  const Folding none, letters{true, false, false}, accents{false, true, false},
      spelling{false, false, true}, all{true, true, true};
  const struct {
    const char *text, *folded;
    Folding folding;
  } cases[] = {{"Ärger", "Ärger", none},
               {"don’t", "don't", none},
               {"light\u00ADhouse", "lighthouse", none},
               {"ÄRGER", "ärger", letters},
               {"ΛΌΓΟΣ", "λόγοσ", letters},
               {"Ärger", "Arger", accents},
               {"Łódź", "Lodz", accents},
               {"ἄνθρωπος", "ανθρωπος", accents},
               {"שָׁלוֹם", "שלום", accents},
               {"كِتَابٌ", "كتاب", accents},
               {"हिन्दी", "हिन्दी", accents},
               {"ſeyn", "seyn", spelling},
               {"vpon", "upon", spelling},
               {"Straße", "Strasse", spelling},
               {"أحمد", "احمد", spelling},
               {"کتاب", "كتاب", spelling},
               {"١٩٢٣", "1923", spelling},
               {"ﬁre-ſide", "fireside", spelling},
               {"вѣсъ", "вес", spelling},
               {"שלום", "שלומ", spelling},
               {"Œuvre", "oeuure", all}};
  for (const auto& c : cases) EXPECT_EQ(folded(c.text, c.folding), c.folded) << c.text;
}

TEST(Wildcards, StandForAnyLettersAndForOne) {
  const struct {
    const char *pattern, *text;
    bool matches;
  } cases[] = {{"light*", "lighthouse", true},
               {"light*", "light", true},
               {"*house", "lighthouse", true},
               {"l*t*e", "lighthouse", true},
               {"l?mp", "lamp", true},
               {"l?mp", "lmp", false},
               {"*", "", true},
               {"light", "lights", false},
               {"*ab*ab", "abab", true},
               {"*ab*ab", "aab", false}};
  for (const auto& c : cases)
    EXPECT_EQ(matches_wildcards(utf32_of(c.pattern), utf32_of(c.text)), c.matches)
        << c.pattern << " " << c.text;
}

TEST(Terms, KnowAMisreadWordByWhatIsMixedUp) {
  const std::vector<correct::Confusion> confusions = {{U"m", U"rn", 2.5}, {U"e", U"c", 4}};
  const Term lamp("lamp", {}, false, true, confusions);
  EXPECT_EQ(lamp.likelihood(U"lamp"), 1);
  EXPECT_NEAR(lamp.likelihood(U"larnp"), std::exp(-2.5), 1e-9);
  EXPECT_GT(lamp.likelihood(U"larnp"), 50 * lamp.likelihood(U"lanp"));
  EXPECT_EQ(lamp.likelihood(U"tower"), 0);
  EXPECT_EQ(Term("lamp", {}, false, false, confusions).likelihood(U"larnp"), 0);
  EXPECT_NEAR(Term("lamp", {}, true, true, confusions).likelihood(U"oldlarnps"), std::exp(-2.5),
              1e-9);
  // Short words have too many neighbours for two changes nobody ever counted.
  EXPECT_EQ(lamp.likelihood(U"bank"), 0);
}

TEST(Terms, ThatHoldNothingAreRefused) {
  for (const char* empty : {"", "*", "**", " "})
    EXPECT_THROW(Term(empty, {}, false, false, {}), SettingsError) << empty;
}

TEST(Expressions, FindWholeWordsUnlessToldOtherwise) {
  using Places = std::vector<std::pair<size_t, size_t>>;
  EXPECT_EQ(Expression("lamp", false, false).places(U"lamps, lamp"), (Places{{7, 11}}));
  EXPECT_EQ(Expression("lamp", false, true).places(U"lamps, lamp"), (Places{{0, 4}, {7, 11}}));
  EXPECT_EQ(Expression("LAMP", true, false).places(U"𝔸 lamp"), (Places{{2, 6}}));
  EXPECT_THROW(Expression("(", false, false), SettingsError);
}

TEST(Conditions, CompareNumbersDatesAndText) {
  const IndexedDocument document{
      1,
      "/log",
      "Log of Hallow Rock",
      {{"date", "1904-05-02"}, {"creator", "Rask"}, {"creator", "Holm"}, {"box", "12"}}};
  const struct {
    const char* condition;
    bool holds;
  } cases[] = {{"date>=1890", true},      {"date<1904", false},   {"date<1904-06", true},
               {"creator=rask", true},    {"creator=Holm", true}, {"creator=Ho", false},
               {"creator~ho", true},      {"box>9", true},        {"box>100", false},
               {"box!=12", false},        {"place!=Oslo", true},  {"place=Oslo", false},
               {"document~hallow", true}, {"page>3", true}};
  for (const auto& c : cases)
    EXPECT_EQ(holds({condition_named(c.condition)}, document), c.holds) << c.condition;
  EXPECT_TRUE(holds_for_page({condition_named("page<=3")}, 3));
  EXPECT_FALSE(holds_for_page({condition_named("page<=3")}, 4));
  EXPECT_THROW(condition_named("date"), SettingsError);
  EXPECT_THROW(condition_named("=1890"), SettingsError);
}

// Words as `page_words` and packing keep them.
TEST(PageWords, SurvivePacking) {
  std::map<std::string, FormNumber> numbers;
  const FormOf form_of = [&](const std::string& text) {
    return numbers.emplace(text, static_cast<FormNumber>(numbers.size() + 1)).first->second;
  };
  Page page =
      page_of_lines({line_of({word_of("The", 0.9), word_of("light-", 0.8, {{"1ight-", 0.25}})}),
                     line_of({word_of("house"), word_of("stands")}, 160)});
  Word& stands = page.blocks[0].lines[1].words[1];
  stands.corrected = CorrectedBy::kPerson;
  stands.before = "stauds";
  Block noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  page.blocks.push_back(noise);
  const PageWords words = page_words(page, form_of);
  const PackedWords bytes = packed(words);
  const PageWords back = unpacked(bytes.forms, bytes.doubts, bytes.places);
  ASSERT_EQ(back.words.size(), 4u);
  ASSERT_EQ(back.lines.size(), 2u);
  ASSERT_EQ(back.blocks.size(), 1u);
  EXPECT_EQ(back.words[1].joined, numbers.at("light\u00ADhouse"));
  ASSERT_EQ(back.words[1].others.size(), 1u);
  EXPECT_NEAR(back.words[1].others[0].share, 0.25, 0.003);
  EXPECT_NEAR(back.words[0].error_probability, 0.1, 0.003);
  EXPECT_TRUE(back.words[3].by_person);
  EXPECT_EQ(back.words[3].before, numbers.at("stauds"));
  for (size_t i = 0; i < 4; ++i) {
    const Box &a = words.words[i].page, &b = back.words[i].page;
    EXPECT_NEAR(a.x0, b.x0, 0.51);
    EXPECT_NEAR(a.x1, b.x1, 0.51);
    EXPECT_NEAR(a.y1, b.y1, 0.51);
  }
  EXPECT_EQ(word_on(page, 3).second->text, "stands");
  EXPECT_EQ(word_on(page, 4).second, nullptr);
}

// An index of pages in a folder, and searches in it.
class Finding : public ::testing::Test {
 protected:
  Finding() : index_("", Database::Use::kWrite) {}

  void page(const std::string& name, std::vector<Line> lines) {
    write(name, page_of_lines(std::move(lines), name + ".png"));
  }
  void write(const std::string& name, const Page& page) {
    write_file(folder_.file(name + ".xml"), write_page_xml(page, name + ".png"));
  }
  UpdateReport update() {
    struct : Progress {
      void advance(const std::string&, double, double) override {}
      void warn(const std::string&) override {}
      void say(const std::string&) override {}
    } quiet;
    std::vector<std::string> others;
    return find::update(index_, documents_at(folder_.path(), others), quiet);
  }
  // "page:word,word" of each hit.
  std::vector<std::string> found(const std::string& sought) {
    std::vector<std::string> places;
    for (const Hit& hit : search(index_, {sought}, settings_)) {
      std::string place;
      for (const HitPart& part : hit.parts) {
        place += (place.empty() ? "" : " ") + std::to_string(part.position) + ":";
        for (size_t i = 0; i < part.words.size(); ++i)
          place += (i > 0 ? "," : "") + std::to_string(part.words[i]);
      }
      places.push_back(place);
    }
    return places;
  }
  using Places = std::vector<std::string>;

  TemporaryFolder folder_;
  Index index_;
  SearchSettings settings_;
};

TEST_F(Finding, WholeWordsWithoutTheSignsRoundThem) {
  page("a", {line_of({word_of("(Hallow"), word_of("Rock,"), word_of("Hallows")}),
             line_of({word_of("“Hallow”"), word_of("hallow"), word_of("Hallow’s")}, 160)});
  update();
  EXPECT_EQ(found("Hallow"), (Places{"1:0", "1:3", "1:5"}));
  EXPECT_EQ(found("Hallow Rock"), (Places{"1:0,1"}));
  settings_.folding.ignore_case = true;
  EXPECT_EQ(found("hallow").size(), 4u);
  settings_.inside = true;
  EXPECT_EQ(found("hallow").size(), 5u);
}

TEST_F(Finding, HalvesOfAWordAndPhrasesOverLinesAndPages) {
  page("a", {line_of({word_of("The"), word_of("light-")}),
             line_of({word_of("house"), word_of("keep-")}, 160)});
  page("b", {line_of({word_of("er"), word_of("sleeps")})});
  update();
  EXPECT_EQ(found("lighthouse"), (Places{"1:1,2"}));
  EXPECT_EQ(found("light-house"), (Places{"1:1,2"}));
  EXPECT_EQ(found("keeper"), (Places{"1:3 2:0"}));
  EXPECT_EQ(found("lighthouse keeper sleeps"), (Places{"1:1,2,3 2:0,1"}));
  EXPECT_EQ(found("house"), Places{});  // half of a word is no word
  EXPECT_EQ(found("light"), Places{});
  settings_.inside = true;
  EXPECT_EQ(found("house"), (Places{"1:1,2", "1:2"}));
}

TEST_F(Finding, PhrasesOverPagesOfASingleWord) {
  page("a", {line_of({word_of("lamp"), word_of("the")})});
  page("b", {line_of({word_of("keeper")})});
  page("c", {line_of({word_of("of")})});
  page("d", {line_of({word_of("Hallow"), word_of("lamp")})});
  update();
  EXPECT_EQ(found("the keeper of Hallow lamp"), (Places{"1:1 2:0 3:0 4:0,1"}));
  EXPECT_EQ(found("lamp the keeper of Hallow"), (Places{"1:0,1 2:0 3:0 4:0"}));
  EXPECT_EQ(found("lamp"), (Places{"1:0", "4:1"}));
}

TEST_F(Finding, WhatAPersonSettledIsSureInExpressionsToo) {
  Page one = page_of_lines({line_of({word_of("Hallow", 0.4)})}, "a.png");
  Word& word = one.blocks[0].lines[0].words[0];
  word.corrected = CorrectedBy::kPerson;
  word.before = word.text;
  write("a", one);
  update();
  settings_.expression = true;
  const std::vector<Hit> hits = search(index_, {"Hal+ow"}, settings_);
  ASSERT_EQ(hits.size(), 1u);
  EXPECT_EQ(hits[0].probability, 1);
}

TEST_F(Finding, WhatTheRecogniserSawInsteadOfWhatItRead) {
  page("a", {line_of({word_of("Hailow", 0.55, {{"Hallow", 0.4}}), word_of("Harrow", 0.99)})});
  update();
  EXPECT_EQ(found("Hallow"), Places{});
  settings_.near = true;
  EXPECT_EQ(found("Hallow"), (Places{"1:0"}));
  const std::vector<Hit> hits = search(index_, {"Hallow"}, settings_);
  EXPECT_TRUE(hits[0].misread);
  EXPECT_GT(hits[0].probability, 0.4);
}

TEST_F(Finding, WhatAPersonCorrectedUnderItsNewFormAndTheOldIfWanted) {
  Page one = page_of_lines({line_of({word_of("Hallow", 0.5, {{"Harrow", 0.4}})})}, "a.png");
  Word& word = one.blocks[0].lines[0].words[0];
  word.corrected = CorrectedBy::kPerson;
  word.before = "Hailow";
  write("a", one);
  update();
  EXPECT_EQ(found("Hallow"), (Places{"1:0"}));
  EXPECT_EQ(found("Hailow"), Places{});
  settings_.near = true;
  EXPECT_EQ(found("Harrow"), Places{});  // somebody has looked
  settings_.as_read = true;
  EXPECT_EQ(found("Hailow"), (Places{"1:0"}));
}

TEST_F(Finding, ByExpressionsOverALine) {
  page("a", {line_of({word_of("No."), word_of("17"), word_of("and"), word_of("light-")}),
             line_of({word_of("house"), word_of("18")}, 160)});
  update();
  settings_.expression = true;
  EXPECT_EQ(found("[0-9]+"), (Places{"1:1", "1:5"}));
  EXPECT_EQ(found("No\\. 1."), (Places{"1:0,1"}));
  EXPECT_EQ(found("light.?house"), (Places{"1:3,4"}));
}

TEST_F(Finding, OnlyWhatChangedIsReadAgain) {
  page("a", {line_of({word_of("Hallow")})});
  page("b", {line_of({word_of("Nether")})});
  EXPECT_EQ(update().read, 2);
  EXPECT_EQ(update().read, 0);
  page("b", {line_of({word_of("Hallow"), word_of("Point")})});
  std::filesystem::last_write_time(
      folder_.file("b.xml"),
      std::filesystem::file_time_type::clock::now() + std::chrono::seconds(2));
  EXPECT_EQ(update().read, 1);
  EXPECT_EQ(found("Hallow"), (Places{"1:0", "2:0"}));
  EXPECT_EQ(found("Nether"), Places{});
  std::filesystem::remove(folder_.file("a.xml"));
  EXPECT_EQ(update().removed, 1);
  EXPECT_EQ(found("Hallow"), (Places{"1:0"}));
}

TEST_F(Finding, InFilesThatCannotBeReadIsSaid) {
  page("a", {line_of({word_of("Hallow")})});
  write_file(folder_.file("b.xml"), std::string("<PcGts><Page"));
  const UpdateReport report = update();
  ASSERT_EQ(report.problems.size(), 1u);
  EXPECT_NE(report.problems[0].what.find("b.xml"), std::string::npos);
  EXPECT_EQ(found("Hallow"), (Places{"1:0"}));
}

TEST_F(Finding, ShowsTheLineAndThePlace) {
  page("a", {line_of({word_of("At"), word_of("Hallow"), word_of("Rock")})});
  update();
  HitViews views(index_);
  const std::vector<HitLine> lines = views.lines(search(index_, {"Hallow"}, settings_).front());
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_EQ(lines[0].before, "At");
  EXPECT_EQ(lines[0].found, "Hallow");
  EXPECT_EQ(lines[0].after, "Rock");
  EXPECT_EQ(lines[0].on_page.x0, 82);
  EXPECT_EQ(lines[0].on_scan.x0, 82);
}

TEST(PlacesInPdf, FollowTheOrderAndWhereThatFailsTheNearestWord) {
  PdfWords pdf{100,
               100,
               {{"lamp", {70, 10, 90, 20}}, {"the", {10, 10, 20, 20}}, {"lamp", {25, 10, 45, 20}}}};
  const std::vector<PlacedText> words = {
      {"the", {0.15, 0.15}}, {"lamp", {0.35, 0.15}}, {"lamp", {0.8, 0.15}}};
  const std::vector<Box> places = places_in_pdf(words, pdf);
  ASSERT_EQ(places.size(), 3u);
  EXPECT_EQ(places[0].x0, 10);
  EXPECT_EQ(places[1].x0, 25);
  EXPECT_EQ(places[2].x0, 70);
  EXPECT_TRUE(places_in_pdf({{"rope", {0.1, 0.1}}}, pdf)[0].empty());
}

TEST(Indexes, OfOtherProgramsAreLeftAlone) {
  TemporaryFolder folder;
  const std::string path = folder.file("notes.sqlite");
  Database(path, Database::Use::kWrite).run("create table note(text text)");
  EXPECT_THROW(Index(path, Database::Use::kWrite), FormatError);
  EXPECT_EQ(Database(path, Database::Use::kRead).number("select count(*) from note"), 0);
  write_file(folder.file("no.sqlite"),
             std::string("not a database, but long enough to be read as one"));
  EXPECT_THROW(Index(folder.file("no.sqlite"), Database::Use::kRead), FormatError);
}

}  // namespace
}  // namespace burnisher::find
