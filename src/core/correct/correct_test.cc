#include "correct/correct.h"

#include <gtest/gtest.h>

#include <cmath>

#include "base/error.h"
#include "correct/changes.h"
#include "correct/suggestions.h"
#include "pagefile/page_xml.h"
#include "testing/small_dictionary.h"

namespace burnisher::correct {
namespace {

using testing::line_of;
using testing::page_of_lines;
using testing::plain_confusion_model;
using testing::SmallDictionary;
using testing::word_of;

class Correct : public ::testing::Test {
 protected:
  CorrectReport run(Page& page, Repair repair = Repair::kSafe) {
    CorrectSettings settings;
    settings.repair = repair;
    return correct({&page}, *lexicon_, confusions_, settings);
  }
  static const Word& word(const Page& page, size_t line, size_t word) {
    return page.blocks[0].lines[line].words[word];
  }

  SmallDictionary dictionary_;
  std::unique_ptr<Lexicon> lexicon_ = dictionary_.open();
  ConfusionModel confusions_ = plain_confusion_model();
};

// "larnp" was read, but "lamp" was seen, too.
Word misread_lamp() {
  return word_of("larnp", 0.6, {{"larnp", 0.55}, {"lamp", 0.4}, {"lainp", 0.05}});
}

TEST_F(Correct, TellsUnsureUnknownAndOddApart) {
  Page page = page_of_lines({line_of({word_of("the"), word_of("lit", 0.05), word_of("qzxv"),
                                      word_of("l9O5"), word_of("412"), word_of("XIV")})});
  const CorrectReport report = run(page);
  EXPECT_EQ(report.words, 6);
  EXPECT_EQ(word(page, 0, 0).reasons, 0u);
  EXPECT_EQ(word(page, 0, 1).reasons, static_cast<unsigned>(kUnsure));
  EXPECT_EQ(word(page, 0, 2).reasons, static_cast<unsigned>(kUnknown));
  EXPECT_EQ(word(page, 0, 3).reasons, static_cast<unsigned>(kOdd));
  EXPECT_EQ(word(page, 0, 4).reasons, 0u);
  EXPECT_EQ(word(page, 0, 5).reasons, 0u);
  EXPECT_EQ(report.suspects, 3);
}

TEST_F(Correct, MendsWhatWasSeenAndIsKnown) {
  Page page = page_of_lines({line_of({word_of("the"), misread_lamp(), word_of("was")})});
  const CorrectReport report = run(page);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the lamp was");
  EXPECT_EQ(word(page, 0, 1).corrected, CorrectedBy::kRepair);
  EXPECT_EQ(word(page, 0, 1).before, "larnp");
  EXPECT_EQ(word(page, 0, 1).reasons, 0u);
  ASSERT_EQ(report.changes.size(), 1u);
  EXPECT_NE(changes_table(report.changes).find("larnp\tlamp"), std::string::npos);
}

TEST_F(Correct, ChangesNothingWhenDoneTwiceAndTakesRepairsBack) {
  Page page = page_of_lines({line_of({word_of("the"), misread_lamp(), word_of("qzxv")})});
  run(page);
  const std::string once = write_page_xml(page, "a.png");
  Page again = read_page_xml(once, "a.xml").page;
  EXPECT_TRUE(run(again).changes.empty());
  EXPECT_EQ(write_page_xml(again, "a.png"), once);
  run(again, Repair::kOff);
  EXPECT_EQ(again.blocks[0].lines[0].text(), "the larnp qzxv");
}

TEST_F(Correct, NeverTouchesFiguresCodesOrNamesOfTheDocument) {
  Page page = page_of_lines({line_of({word_of("4l2", 0.5, {{"4l2", 0.5}, {"lit", 0.5}}),
                                      word_of("B-12", 0.5, {{"B-12", 0.5}, {"oil", 0.5}}),
                                      word_of("Larnp", 0.5, {{"Larnp", 0.5}, {"Lamp", 0.5}})}),
                             line_of({word_of("Larnp"), word_of("the"), word_of("Larnp")}, 150)});
  EXPECT_TRUE(run(page).changes.empty());
}

TEST_F(Correct, LeavesTwoEquallyGoodWordsToAPerson) {
  Page page = page_of_lines(
      {line_of({word_of("comc", 0.5, {{"comc", 0.4}, {"come", 0.3}, {"comb", 0.3}})})});
  EXPECT_TRUE(run(page).changes.empty());
  EXPECT_NE(word(page, 0, 0).reasons, 0u);
}

TEST_F(Correct, AddsASpaceThatWasMissedAndTakesItBack) {
  Page page = page_of_lines(
      {line_of({word_of("thelamp", 0.5, {{"thelamp", 0.5}, {"the lamp", 0.45}}), word_of("lit")})});
  run(page);
  ASSERT_EQ(page.blocks[0].lines[0].words.size(), 3u);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the lamp lit");
  EXPECT_LT(word(page, 0, 0).box.x1, word(page, 0, 1).box.x0);
  run(page, Repair::kOff);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "thelamp lit");
}

TEST_F(Correct, LooksHalvesOfAPartedWordUpTogether) {
  Page page = page_of_lines({line_of({word_of("the"), word_of("kee-")}),
                             line_of({word_of("pers"), word_of("qzx-")}, 150),
                             line_of({word_of("vv")}, 200)});
  run(page);
  EXPECT_EQ(word(page, 0, 1).reasons, 0u);
  EXPECT_EQ(word(page, 1, 0).reasons, 0u);
  EXPECT_NE(word(page, 1, 1).reasons, 0u);
  EXPECT_NE(word(page, 2, 0).reasons, 0u);
}

TEST_F(Correct, WhatTheDocumentSaysOftenIsAWordOfIt) {
  Page page =
      page_of_lines({line_of({word_of("Skerrow"), word_of("Skerrow"), word_of("Skerrow")})});
  run(page);
  EXPECT_EQ(word(page, 0, 0).reasons, 0u);
  Page once = page_of_lines({line_of({word_of("Skerrow")})});
  run(once);
  EXPECT_NE(word(once, 0, 0).reasons, 0u);
}

TEST_F(Correct, LeavesWhatAPersonSettled) {
  Page page = page_of_lines({line_of({word_of("qzxv")})});
  page.blocks[0].lines[0].words[0].corrected = CorrectedBy::kPerson;
  EXPECT_EQ(run(page).suspects, 0);
}

TEST_F(Correct, WithoutADictionaryOnlyCertaintyCounts) {
  Page page = page_of_lines({line_of({word_of("qzxv"), word_of("lamp", 0.05)}, 100, "yy")});
  const CorrectReport report = run(page);
  EXPECT_EQ(word(page, 0, 0).reasons, 0u);
  EXPECT_EQ(word(page, 0, 1).reasons, static_cast<unsigned>(kUnsure));
  EXPECT_EQ(report.without_dictionary, std::vector<std::string>{"yy"});
}

TEST_F(Correct, LeadersAndNoiseAreNoSuspects) {
  Page page = page_of_lines({line_of({word_of("oil.........", 0.05)})});
  Block noise = page.blocks[0];
  noise.kind = BlockKind::kNoise;
  noise.lines = {line_of({word_of("qzxv")})};
  page.blocks.push_back(noise);
  EXPECT_EQ(run(page).suspects, 0);
}

TEST_F(Correct, SuggestsTheRightWordFirst) {
  Page page = page_of_lines({line_of({misread_lamp(), word_of("modem", 0.3), word_of("1it")})});
  run(page, Repair::kOff);
  const auto suspects = suspects_of({&page}, *lexicon_, confusions_, {}, 4);
  ASSERT_EQ(suspects.size(), 3u);
  EXPECT_EQ(suspects[0].suggestions.at(0), "lamp");
  EXPECT_EQ(suspects[1].suggestions.at(0), "modern");
  EXPECT_EQ(suspects[2].suggestions.at(0), "lit");
  for (const Suspect& s : suspects) EXPECT_LE(s.suggestions.size(), 4u);
}

TEST_F(Correct, WithRepairAllTheLikeliestWordIsTaken) {
  Page page = page_of_lines({line_of({word_of("the"), word_of("modem", 0.3), word_of("was")})});
  EXPECT_TRUE(run(page).changes.empty());  // it was not seen, only guessed
  const CorrectReport report = run(page, Repair::kAll);
  ASSERT_EQ(report.changes.size(), 0u);  // nothing speaks against what was read
  Page doubtful = page_of_lines({line_of(
      {word_of("the"), word_of("larnp", 0.3, {{"larnp", 0.45}, {"lamp", 0.35}, {"lamps", 0.2}})})});
  EXPECT_TRUE(run(doubtful).changes.empty());  // two words are about as likely
  ASSERT_EQ(run(doubtful, Repair::kAll).changes.size(), 1u);
  EXPECT_EQ(word(doubtful, 0, 1).text, "lamp");
}

TEST_F(Correct, FiguresInAWordBecomeTheLettersTheyLookLike) {
  Page page = page_of_lines({line_of(
      {word_of("0il,"), word_of("1it"), word_of("c0mb"), word_of("wa5"), word_of("the")})});
  const CorrectReport report = run(page);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "Oil, lit comb was the");
  ASSERT_EQ(report.changes.size(), 4u);
  EXPECT_NE(report.changes[0].reason.find("letters like them"), std::string::npos);
}

TEST_F(Correct, FiguresThatAreNoneOfAWordsLettersStay) {
  for (const char* code : {"l9O5", "B-12", "F7", "3rd", "412", "1amq", "h0u5e7"}) {
    Page page = page_of_lines({line_of({word_of("the"), word_of(code)})});
    EXPECT_TRUE(run(page).changes.empty()) << code;
  }
  Page off = page_of_lines({line_of({word_of("0il"), word_of("c0mb")})});
  EXPECT_TRUE(run(off, Repair::kOff).changes.empty());
}

TEST_F(Correct, ACapitalIBeforeSmallLettersMayBeAnL) {
  Page page = page_of_lines({line_of({word_of("the"), word_of("Ib,"), word_of("Ibs"),
                                      word_of("Iamp"), word_of("Ivo"), word_of("IXth")})});
  EXPECT_EQ(run(page).changes.size(), 3u);
  EXPECT_EQ(page.blocks[0].lines[0].text(), "the lb, lbs lamp Ivo IXth");
}

TEST_F(Correct, NamesNeedMoreEvidenceThanOtherWords) {
  const auto lit = [](const std::string& text, const std::string& other) {
    return word_of(text, 0.6, {{text, 0.6}, {other, 0.1}});
  };
  Page name = page_of_lines({line_of({word_of("the"), lit("Larnp", "Lamp")})});
  EXPECT_TRUE(run(name).changes.empty());
  Page small = page_of_lines({line_of({word_of("the"), lit("larnp", "lamp")})});
  EXPECT_EQ(run(small).changes.size(), 1u);
  Page first = page_of_lines({line_of({lit("Larnp", "Lamp"), word_of("was")})});
  EXPECT_EQ(run(first).changes.size(), 1u);  // at the beginning a capital means nothing
}

TEST_F(Correct, PunctuationAndEndingsAreLeftAlone) {
  Page page =
      page_of_lines({line_of({word_of("larnp", 0.5, {{"larnp", 0.5}, {"lamp.", 0.5}}),
                              word_of("keeperzz", 0.5, {{"keeperzz", 0.5}, {"keeper", 0.5}})})});
  EXPECT_TRUE(run(page).changes.empty());
}

TEST_F(Correct, TheLimitDecidesHowManySuspectsThereAre) {
  int before = 1000;
  for (const double limit : {0.01, 0.3, 0.9, 0.9999}) {
    Page page = page_of_lines({line_of({word_of("the"), word_of("lit", 0.5), word_of("qzxv"),
                                        word_of("l9O5"), word_of("oil", 0.2)})});
    CorrectSettings settings;
    settings.limit = limit;
    const int suspects = correct({&page}, *lexicon_, confusions_, settings).suspects;
    EXPECT_LE(suspects, before);
    before = suspects;
  }
  EXPECT_EQ(before, 0);
}

TEST_F(Correct, DoesTheSameOnManyPagesAtOnce) {
  std::vector<Page> pages;
  for (int i = 0; i < 40; ++i) {
    pages.push_back(page_of_lines({line_of({misread_lamp(), word_of("qzxv"), word_of("was")})},
                                  "p" + std::to_string(i) + ".png"));
  }
  std::vector<Page*> all;
  for (Page& page : pages) all.push_back(&page);
  const CorrectReport report = correct(all, *lexicon_, confusions_, {});
  ASSERT_EQ(report.changes.size(), 40u);
  EXPECT_EQ(report.words, 120);
  for (size_t i = 0; i < 40; ++i) EXPECT_EQ(report.changes[i].file, pages[i].file);
}

TEST(ConfusionModel, DoubtGrowsWithWhatIsWeighed) {
  ConfusionModel confusion_model;
  confusion_model.weights[0] = -2;
  confusion_model.weights[3] = 3;
  FeatureVector features{};
  features[0] = 1;
  EXPECT_NEAR(confusion_model.error_probability(features), 1 / (1 + std::exp(2.0)), 1e-9);
  features[3] = 1;
  EXPECT_NEAR(confusion_model.error_probability(features), 1 / (1 + std::exp(-1.0)), 1e-9);
}

TEST(ConfusionModel, AreWrittenAndReadBack) {
  const testing::TemporaryFolder folder;
  const std::string path = folder.file("confusion_model.json");
  ConfusionModel confusion_model = plain_confusion_model();
  confusion_model.record["lines"] = "100";
  write_file(path, write_confusion_model(confusion_model));
  const ConfusionModel back = read_confusion_model(path);
  EXPECT_EQ(back.weights, confusion_model.weights);
  EXPECT_EQ(back.confusions.at(0).read, U"rn");
  EXPECT_EQ(back.record, confusion_model.record);
  write_file(path, std::string("{\"confusions\": []}"));
  EXPECT_THROW(read_confusion_model(path), FormatError);
  write_file(path,
             std::string("{\"confusions\": [], \"weights\": [1], \"limit\": 0.5, \"record\": {}}"));
  EXPECT_THROW(read_confusion_model(path), FormatError);
}

}  // namespace
}  // namespace burnisher::correct
