#include "correct/decisions.h"

#include <gtest/gtest.h>

#include "base/error.h"
#include "correct/replace.h"
#include "testing/small_dictionary.h"

namespace burnisher::correct {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::TemporaryFolder;
using testing::word_of;

Decision decision(const Word& word, Verdict verdict, const std::string& text = "") {
  Decision d;
  d.file = "log.png";
  d.box = word.box;
  d.read = word.text;
  d.verdict = verdict;
  d.text = text;
  d.row = 2;
  return d;
}

Gray no_picture(size_t) {
  return {};
}

Outcome apply(const std::vector<Decision>& decisions, Page& page) {
  std::vector<bool> taken;
  return apply_decisions(decisions, no_picture, {&page}, taken);
}

Page log_page() {
  return page_of_lines(
      {line_of({word_of("the"), word_of("larnp"), word_of("Dunmore"), word_of("c5")})});
}

TEST(Decisions, ChangeKeepAndRemoveWords) {
  Page page = log_page();
  const auto& words = page.blocks[0].lines[0].words;
  const std::vector<Decision> decisions = {decision(words[1], Verdict::kChange, "lamp"),
                                           decision(words[2], Verdict::kLexicon),
                                           decision(words[3], Verdict::kChange, "")};
  const Outcome outcome = apply(decisions, page);
  EXPECT_EQ(outcome.applied, 3);
  EXPECT_TRUE(outcome.problems.empty());
  EXPECT_EQ(outcome.lexicon_words, std::vector<std::string>{"Dunmore"});
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the lamp Dunmore");
  EXPECT_EQ(words[1].before, "larnp");
  EXPECT_EQ(words[1].corrected, CorrectedBy::kPerson);
  EXPECT_EQ(words[1].confidence, 1);
}

TEST(Decisions, AppliedTwiceChangeNothing) {
  Page page = log_page();
  const std::vector<Decision> decisions = {
      decision(page.blocks[0].lines[0].words[1], Verdict::kChange, "old lamp")};
  apply(decisions, page);
  const std::string once = page.blocks[0].lines[0].text();
  const Outcome again = apply(decisions, page);
  EXPECT_EQ(again.applied, 0);
  EXPECT_EQ(again.already, 1);
  EXPECT_EQ(page.blocks[0].lines[0].text(), once);
}

TEST(Decisions, FollowTheWordWhenThePageIsCutOtherwise) {
  Page page = log_page();
  const std::vector<Decision> decisions = {
      decision(page.blocks[0].lines[0].words[1], Verdict::kChange, "lamp")};
  // Another cleaning moved the page by 30 pixels within the scan.
  page.geometry.to_scan = Affine::shift(30, 0);
  for (Word& word : page.blocks[0].lines[0].words) {
    word.box.x0 -= 30;
    word.box.x1 -= 30;
  }
  EXPECT_EQ(apply(decisions, page).applied, 1);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the lamp Dunmore c5");
}

TEST(Decisions, ConflictsAndLostPlacesAreReported) {
  Page page = log_page();
  Decision other = decision(page.blocks[0].lines[0].words[1], Verdict::kChange, "lamp");
  other.read = "tarn";
  Decision gone = other;
  gone.box = {700, 700, 760, 730};
  const Outcome outcome = apply({other, gone}, page);
  ASSERT_EQ(outcome.problems.size(), 2u);
  EXPECT_NE(outcome.problems[0].find("now \"larnp\" stands there"), std::string::npos);
  EXPECT_NE(outcome.problems[1].find("no word is there"), std::string::npos);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the larnp Dunmore c5");
}

TEST(Decisions, TheSamePictureCountsWhenTheReadingChanged) {
  Page page = log_page();
  Gray picture(900, 1200);
  for (int y = 0; y < picture.height(); ++y) {
    for (int x = 0; x < picture.width(); ++x)
      picture.row(y)[x] = static_cast<uint8_t>((x * x / 37 + y * 11) % 251);
  }
  Decision d = decision(page.blocks[0].lines[0].words[1], Verdict::kChange, "lamp");
  d.read = "tarn";
  d.hash = perceptual_hash(picture, d.box);
  ASSERT_EQ(d.hash.size(), 16u);
  std::vector<bool> taken;
  const Outcome outcome = apply_decisions(
      {d}, [&](size_t) { return picture.clone(); }, {&page}, taken);
  EXPECT_EQ(outcome.applied, 1);
  EXPECT_EQ(hash_distance(d.hash, d.hash), 0);
  EXPECT_EQ(hash_distance(d.hash, ""), 64);
}

TEST(Decisions, OfOtherScansAreLeftForTheirPages) {
  Page page = log_page();
  Decision d = decision(page.blocks[0].lines[0].words[1], Verdict::kChange, "lamp");
  d.file = "other.png";
  std::vector<bool> taken;
  apply_decisions({d}, no_picture, {&page}, taken);
  EXPECT_FALSE(taken[0]);
}

TEST(Decisions, TellTheTwoPagesOfASpreadApart) {
  // Both are parts of one scan; the right one begins at its middle.
  Page left = log_page(), right = log_page();
  left.part = 1;
  right.part = 2;
  right.geometry.to_scan = Affine::shift(900, 0);
  Decision d = decision(right.blocks[0].lines[0].words[1], Verdict::kChange, "lamp");
  d.box.x0 += 900;
  d.box.x1 += 900;
  std::vector<bool> taken;
  const Outcome outcome = apply_decisions({d}, no_picture, {&left, &right}, taken);
  EXPECT_EQ(outcome.applied, 1);
  EXPECT_TRUE(taken[0]);
  EXPECT_EQ(left.blocks[0].lines[0].text(), "the larnp Dunmore c5");
  EXPECT_EQ(right.blocks[0].lines[0].text(), "the lamp Dunmore c5");
}

TEST(Decisions, OpenOnesChangeNothing) {
  Page page = log_page();
  const Outcome outcome =
      apply({decision(page.blocks[0].lines[0].words[1], Verdict::kOpen, "lamp")}, page);
  EXPECT_EQ(outcome.applied + outcome.already, 0);
  EXPECT_EQ(page.blocks[0].lines[0].words[1].corrected, CorrectedBy::kNobody);
}

TEST(Decisions, AWordFoundRightIsNoSuspectAnyMore) {
  Page page = log_page();
  Word& word = page.blocks[0].lines[0].words[2];
  word.error_probability = 0.7;
  word.reasons = kUnknown;
  word.confidence = 0.4;
  EXPECT_EQ(apply({decision(word, Verdict::kRight)}, page).applied, 1);
  const Word& settled = page.blocks[0].lines[0].words[2];
  EXPECT_EQ(settled.reasons, 0u);
  EXPECT_EQ(settled.confidence, 1);
  EXPECT_EQ(settled.text, "Dunmore");
  EXPECT_EQ(settled.before, "Dunmore");
}

TEST(Decisions, ARepairIsOverruledByAPerson) {
  Page page = log_page();
  Word& word = page.blocks[0].lines[0].words[1];
  const Decision d = decision(word, Verdict::kRight);
  word.before = word.text;
  word.text = "lamp";
  word.corrected = CorrectedBy::kRepair;
  EXPECT_EQ(apply({d}, page).applied, 1);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the larnp Dunmore c5");
}

TEST(Decisions, IdsDependOnPlaceAndReading) {
  const Page page = log_page();
  const Box box{10, 20, 30, 40};
  EXPECT_EQ(id_of(page, box, "lamp"), id_of(page, box, "lamp"));
  EXPECT_NE(id_of(page, box, "lamp"), id_of(page, box, "lamps"));
  EXPECT_NE(id_of(page, box, "lamp"), id_of(page, {11, 20, 30, 40}, "lamp"));
  EXPECT_EQ(id_of(page, box, "lamp").size(), 11u);
}

TEST(Looks, OfTheSameWordAreAlikeInAnotherLight) {
  Gray page(400, 200), darker(400, 200), other(400, 200);
  for (int y = 0; y < 200; ++y) {
    for (int x = 0; x < 400; ++x) {
      const int value = (x / 7 + y / 9) % 2 ? 220 : 60;
      page.row(y)[x] = static_cast<uint8_t>(value);
      darker.row(y)[x] = static_cast<uint8_t>(value * 3 / 4);
      other.row(y)[x] = static_cast<uint8_t>((x / 31) % 2 ? 220 : 60);
    }
  }
  const Box box{100, 60, 220, 100};
  EXPECT_LE(hash_distance(perceptual_hash(page, box), perceptual_hash(darker, box)), 2);
  EXPECT_GT(hash_distance(perceptual_hash(page, box), perceptual_hash(other, box)), 14);
  EXPECT_EQ(perceptual_hash(page, {390, 60, 420, 100}), "");  // beyond the page
  EXPECT_EQ(perceptual_hash(page, {10, 10, 14, 14}), "");     // too small to tell
  EXPECT_EQ(perceptual_hash(Gray(), box), "");
}

TEST(Decisions, TablesFromSpreadsheetsAreUnderstood) {
  const TemporaryFolder folder;
  const std::string path = folder.file("d.tsv");
  write_file(path,
             std::string("\xEF\xBB\xBF"
                         "read\tdecision\ttext\tfile\tpage\tx\ty\twidth\theight\tremark\r\n"
                         "\"say \"\"oil\"\"\"\tchange\toil\tlog.png\t1\t5\t6\t70\t8\tx\r\n\r\n"));
  const auto decisions = read_decisions(path);
  ASSERT_EQ(decisions.size(), 1u);
  EXPECT_EQ(decisions[0].read, "say \"oil\"");
  EXPECT_EQ(decisions[0].box.x1, 75);
  write_file(path, decisions_table(decisions));
  EXPECT_EQ(read_decisions(path)[0].text, "oil");
}

TEST(Decisions, BrokenTablesNameTheirRow) {
  const TemporaryFolder folder;
  const std::string path = folder.file("d.tsv");
  const std::string heading = "file\tpage\tx\ty\twidth\theight\tread\tdecision\ttext\n";
  const auto cause = [&](const std::string& content) {
    write_file(path, content);
    try {
      read_decisions(path);
    } catch (const FormatError& e) {
      return std::string(e.what());
    }
    return std::string();
  };
  EXPECT_NE(cause("a\tb\n").find("\"file\" is missing"), std::string::npos);
  EXPECT_NE(cause(heading + "a.png\tone\t1\t1\t1\t1\tx\tright\t\n").find("row 2"),
            std::string::npos);
  EXPECT_NE(cause(heading + "a.png\t1\t1\t1\t1\t1\tx\tmaybe\t\n").find("\"maybe\""),
            std::string::npos);
}

class Replacing : public ::testing::Test {
 protected:
  std::vector<Change> replace(const std::string& from, const std::string& to,
                              ReplaceSettings settings = {}, bool only_look = false) {
    settings.from = from;
    settings.to = to;
    return replace_all({&page_}, settings, only_look);
  }
  std::string text() const { return page_.blocks[0].lines[0].text(); }

  Page page_ = page_of_lines({line_of({word_of("art,"), word_of("party"), word_of("Art"),
                                       word_of("état"), word_of("new"), word_of("wick.")})});
};

TEST_F(Replacing, TakesWholeWordsOnly) {
  const auto changes = replace("art", "craft");
  ASSERT_EQ(changes.size(), 1u);
  EXPECT_EQ(changes[0].line, "art, party Art état new wick.");
  EXPECT_EQ(text(), "craft, party Art état new wick.");
  // A letter with an accent is a letter: "tat" is no word of its own here.
  EXPECT_TRUE(replace("tat", "x").empty());
}

TEST_F(Replacing, CanIgnoreCaseAndGoInsideWords) {
  ReplaceSettings settings;
  settings.ignore_case = true;
  EXPECT_EQ(replace("art", "craft", settings, true).size(), 2u);
  settings.whole_words = false;
  EXPECT_EQ(replace("art", "craft", settings, true).size(), 3u);
  EXPECT_EQ(text(), "art, party Art état new wick.");
}

TEST_F(Replacing, ReachesOverSeveralWordsAndCanSplitOne) {
  EXPECT_EQ(replace("new wick", "newwick").size(), 1u);
  EXPECT_EQ(page_.blocks[0].lines[0].words.size(), 5u);
  EXPECT_EQ(replace("newwick", "new wick").size(), 1u);
  EXPECT_EQ(text(), "art, party Art état new wick.");
}

TEST_F(Replacing, LeavesNoiseAloneAndTellsThePlace) {
  page_.blocks[0].lines[0].language = "en";
  Block noise = page_.blocks[0];
  noise.kind = BlockKind::kNoise;
  page_.blocks.push_back(noise);
  const auto changes = replace("party", "crew");
  ASSERT_EQ(changes.size(), 1u);
  EXPECT_EQ(changes[0].file, "log.png");
  EXPECT_EQ(changes[0].before, "party");
  EXPECT_EQ(changes[0].after, "crew");
  EXPECT_EQ(changes[0].box.x0, page_.blocks[0].lines[0].words[1].box.x0);
  EXPECT_EQ(page_.blocks[1].lines[0].words[1].text, "party");
}

TEST_F(Replacing, CanRemoveWordsAndChangeTwoInOne) {
  EXPECT_EQ(replace("new", "").size(), 1u);
  EXPECT_EQ(text(), "art, party Art état wick.");
  ReplaceSettings settings;
  settings.whole_words = false;
  EXPECT_EQ(replace("t", "tt", settings).size(), 4u);
  EXPECT_EQ(text(), "artt, partty Artt éttatt wick.");
}

TEST_F(Replacing, SignsNeedNoWordRoundThem) {
  EXPECT_EQ(replace(",", ";").size(), 1u);
  EXPECT_EQ(text(), "art; party Art état new wick.");
  EXPECT_TRUE(replace("wick.x", "y").empty());
}

TEST_F(Replacing, UnderstandsExpressionsWithGroups) {
  ReplaceSettings settings;
  settings.expression = true;
  EXPECT_EQ(replace("(p)arty", "$1ort", settings).size(), 1u);
  EXPECT_EQ(text(), "art, port Art état new wick.");
  EXPECT_THROW(replace("(", "x", settings), SettingsError);
  EXPECT_THROW(replace("", "x"), SettingsError);
}

}  // namespace
}  // namespace burnisher::correct
