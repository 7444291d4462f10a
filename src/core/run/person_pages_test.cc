#include "run/person_pages.h"

#include <gtest/gtest.h>

namespace burnisher::run {
namespace {

Line line_at(double y, const std::vector<std::string>& words) {
  Line line;
  line.baseline = {{100, y}, {500, y}};
  line.box = {100, y - 20, 500, y + 5};
  line.x_height = 15;
  double x = 100;
  for (const std::string& text : words) {
    Word word{text, {x, y - 20, x + 50, y + 5}, 0.9, {}};
    word.network_confidence = 0.8;
    line.words.push_back(word);
    x += 60;
  }
  return line;
}

Page page_of(const std::vector<Line>& lines) {
  Page page;
  page.width = 800;
  page.height = 1000;
  page.blocks.resize(1);
  page.blocks[0].lines = lines;
  return page;
}

std::vector<CorrectedBy> by(const Line& line) {
  std::vector<CorrectedBy> result;
  for (const Word& word : line.words) result.push_back(word.corrected);
  return result;
}

constexpr auto kNobody = CorrectedBy::kNobody, kPerson = CorrectedBy::kPerson;

TEST(PersonsPages, WhatIsAsItWasIsNobodys) {
  const Page ours = page_of({line_at(200, {"the", "lamp", "was", "lit"})});
  Page changed = ours;
  take_persons_word(ours, changed);
  EXPECT_EQ(by(changed.blocks[0].lines[0]),
            (std::vector<CorrectedBy>{kNobody, kNobody, kNobody, kNobody}));
}

TEST(PersonsPages, AWordPutRightIsThePersons) {
  const Page ours = page_of({line_at(200, {"the", "1amp", "was", "lit"})});
  Page changed = ours;
  changed.blocks[0].lines[0].words[1].text = "lamp";
  take_persons_word(ours, changed);
  const Line& line = changed.blocks[0].lines[0];
  EXPECT_EQ(by(line), (std::vector<CorrectedBy>{kNobody, kPerson, kNobody, kNobody}));
  EXPECT_EQ(line.words[1].before, "1amp");
  EXPECT_EQ(line.words[1].confidence, 1);
}

TEST(PersonsPages, WordsPutInAndTakenOutShiftNothing) {
  const Page ours = page_of({line_at(200, {"the", "lampwas", "lit", "at", "at", "dusk"})});
  Page changed = page_of({line_at(200, {"the", "lamp", "was", "lit", "at", "dusk"})});
  take_persons_word(ours, changed);
  const Line& line = changed.blocks[0].lines[0];
  EXPECT_EQ(line.words[0].corrected, kNobody);
  EXPECT_EQ(line.words[1].corrected, kPerson);
  EXPECT_EQ(line.words[2].corrected, kPerson);
  EXPECT_EQ(line.words[5].corrected, kNobody);
}

TEST(PersonsPages, ALineThatWasMovedIsReadAgain) {
  const Page ours = page_of({line_at(200, {"the", "lamp"}), line_at(300, {"was", "lit"})});
  Page changed = page_of({line_at(200, {"the", "lamp"}), line_at(340, {"was", "lit"})});
  take_persons_word(ours, changed);
  EXPECT_EQ(changed.blocks[0].lines[0].words.size(), 2u);
  EXPECT_TRUE(changed.blocks[0].lines[1].words.empty());
}

TEST(PersonsPages, ALineTypedWhereNoneWasStays) {
  const Page ours = page_of({line_at(200, {"the", "lamp"})});
  Page changed = page_of({line_at(200, {"the", "lamp"}), line_at(400, {"J.", "Dunmore"})});
  take_persons_word(ours, changed);
  EXPECT_EQ(by(changed.blocks[0].lines[1]), (std::vector<CorrectedBy>{kPerson, kPerson}));
}

TEST(PersonsPages, ALineTypedAsAWholeCounts) {
  const Page ours = page_of({line_at(200, {"the", "1amp", "wos", "lit"})});
  Page changed = ours;
  changed.blocks[0].lines[0].said = "the lamp was lit";
  take_persons_word(ours, changed);
  const Line& line = changed.blocks[0].lines[0];
  EXPECT_EQ(line.text(), "the lamp was lit");
  EXPECT_EQ(by(line), (std::vector<CorrectedBy>{kNobody, kPerson, kPerson, kNobody}));
  EXPECT_EQ(line.words[0].network_confidence, 0.8);
}

TEST(PersonsPages, AWordChangedUnderALineThatWasNotIsTheWords) {
  const Page ours = page_of({line_at(200, {"the", "1amp"})});
  Page changed = ours;
  changed.blocks[0].lines[0].words[1].text = "lamp";
  changed.blocks[0].lines[0].said = "the 1amp";
  take_persons_word(ours, changed);
  EXPECT_EQ(changed.blocks[0].lines[0].text(), "the lamp");
}

TEST(PersonsPages, AnotherProgramsWordsGetBackWhatIsKnownOfThem) {
  const Page ours = page_of({line_at(200, {"the", "lamp"})});
  Page changed = ours;
  for (Word& word : changed.blocks[0].lines[0].words) word.network_confidence = 0;
  changed.blocks[0].lines[0].words[1].text = "lantern";
  take_persons_word(ours, changed);
  EXPECT_EQ(changed.blocks[0].lines[0].words[0].network_confidence, 0.8);
  EXPECT_EQ(changed.blocks[0].lines[0].words[1].corrected, kPerson);
}

}  // namespace
}  // namespace burnisher::run
