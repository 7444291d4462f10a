#include "recognise/character_prior.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "recognise/decode.h"
#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

// One line; letters in `unsure` are read with little confidence.
Page page_with(const std::string& text, const std::string& unsure = "") {
  const auto doubtful = decode_utf8(unsure);
  Word word;
  word.text = text;
  for (char32_t c : decode_utf8(text)) {
    const bool sure = std::find(doubtful.begin(), doubtful.end(), c) == doubtful.end();
    word.glyphs.push_back({c, {}, sure ? 0.99 : 0.6});
  }
  Line line;
  line.words.push_back(word);
  Block block;
  block.lines.push_back(line);
  Page page;
  page.blocks.push_back(block);
  return page;
}

bool stranger(const std::vector<bool>& implausible, const Alphabet& alphabet, char32_t c) {
  return implausible[static_cast<size_t>(alphabet.class_of(c))];
}

TEST(Strangers, AreLettersReadOnceAndUnsurely) {
  const Alphabet alphabet("aeioftößſť ");
  const auto implausible = implausible_characters(page_with("ofťofofofo", "ť"), alphabet);
  EXPECT_TRUE(stranger(implausible, alphabet, U'ť'));
  EXPECT_TRUE(stranger(implausible, alphabet, U'ö'));  // not read at all
  EXPECT_FALSE(stranger(implausible, alphabet, U'f'));
}

TEST(Strangers, OneSureReadingOrSeveralMakeALetterAtHome) {
  const Alphabet alphabet("aeioftößſť ");
  EXPECT_FALSE(stranger(implausible_characters(page_with("ofö"), alphabet), alphabet, U'ö'));
  EXPECT_FALSE(
      stranger(implausible_characters(page_with("ſeſtſi", "ſ"), alphabet), alphabet, U'ſ'));
}

TEST(Strangers, TheNumeroSignIsOneWhereItStandsAlone) {
  const Alphabet alphabet("adeglW№ ");
  EXPECT_TRUE(stranger(implausible_characters(page_with("gale№", "№"), alphabet), alphabet, U'№'));
  EXPECT_FALSE(stranger(implausible_characters(page_with("gale№"), alphabet), alphabet, U'№'));
}

TEST(Strangers, GiveWayToTheNextLikelyCharacter) {
  const Alphabet alphabet("ftť");
  FrameScores scores;
  scores.frames = 2;
  scores.classes = 4;
  const double p[2][4] = {{0.05, 0.9, 0.03, 0.02}, {0.3, 0.02, 0.2, 0.48}};
  for (const auto& frame : p) {
    for (double v : frame) scores.log_probability.push_back(static_cast<float>(std::log(v)));
  }
  std::vector<bool> barred(4, false);
  barred[3] = true;
  const auto read = best_path(Posteriors(scores), alphabet, barred);
  ASSERT_EQ(read.size(), 2u);
  EXPECT_EQ(read[0].character, U'f');
  EXPECT_EQ(read[1].character, U't');
  EXPECT_NEAR(read[1].confidence, 0.2, 1e-6);
}

TEST(Primes, AreOfOneKindOnAPage) {
  Page page = page_with("57°19'09\"3°41'7′2\"");
  settle_primes(page);
  EXPECT_EQ(page.blocks[0].lines[0].words[0].text, "57°19'09\"3°41'7'2\"");
}

// A block for each text; apostrophes and quotation marks as sure as said.
Page page_of_blocks(const std::vector<std::string>& texts, double confidence) {
  Page page;
  for (const std::string& text : texts) {
    Word word = testing::word_with_glyphs(text);
    for (Glyph& glyph : word.glyphs) glyph.confidence = is_letter(glyph.character) ? 1 : confidence;
    Line line;
    line.words = {word};
    Block block;
    block.lines = {line};
    page.blocks.push_back(block);
  }
  return page;
}

std::vector<std::string> settled_texts(const std::vector<std::string>& texts, double confidence) {
  Page page = page_of_blocks(texts, confidence);
  settle_apostrophes(page);
  std::vector<std::string> settled;
  for (const Block& block : page.blocks) settled.push_back(block.lines[0].words[0].text);
  return settled;
}

TEST(Apostrophes, AreCurledWhereQuotationMarksAre) {
  EXPECT_EQ(settled_texts({"“don't”"}, 0.85).front(), "“don’t”");
  EXPECT_EQ(settled_texts({"day's“night’s”"}, 0.8).front(), "day’s“night’s”");
}

TEST(Apostrophes, SeenSurelyStay) {
  EXPECT_EQ(settled_texts({"don'tcan't"}, 0.99).front(), "don'tcan't");
  EXPECT_EQ(settled_texts({"don’tcan’t"}, 0.99).front(), "don’tcan’t");
}

TEST(Apostrophes, OneDoubtfulSignChangesNothing) {
  EXPECT_EQ(settled_texts({"don't"}, 0.8).front(), "don't");
}

TEST(Apostrophes, OfTypescriptsAreStraight) {
  EXPECT_EQ(settled_texts({"\"Plato’s\"\"life's\""}, 0.93).front(), "\"Plato's\"\"life's\"");
}

TEST(Apostrophes, TheOtherBlocksOfThePageSpeakToo) {
  const auto texts = settled_texts({"“one”“two”", "“three”", "don't"}, 0.85);
  EXPECT_EQ(texts[2], "don’t");
}

TEST(Apostrophes, AfterHebrewLettersAreNone) {
  EXPECT_EQ(settled_texts({"“א'”"}, 0.85).front(), "“א'”");
}

TEST(Apostrophes, MinutesOfAnAngleAreNone) {
  EXPECT_EQ(settled_texts({"“57°19'”"}, 0.85).front(), "“57°19'”");
}

TEST(LongS, BecomesTheSOfTodayOnRequest) {
  Page page = page_with("ſeaſons");
  modernise_s(page);
  EXPECT_EQ(page.blocks[0].lines[0].words[0].text, "seasons");
  EXPECT_EQ(page.blocks[0].lines[0].words[0].glyphs[0].character, U's');
}

TEST(Primes, StayWhereOnlyOneKindIs) {
  Page page = page_with("16°48′");
  settle_primes(page);
  EXPECT_EQ(page.blocks[0].lines[0].words[0].text, "16°48′");
}

}  // namespace
}  // namespace burnisher::recognise
