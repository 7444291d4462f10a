#include "recognise/noise.h"

#include <gtest/gtest.h>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

// One block of one line of two words for each of these confidences.
Page page_with(const std::vector<double>& confidences) {
  Page page;
  for (double confidence : confidences) {
    Block block;
    Line line;
    Word word{"lamp", {0, 0, 9, 9}, confidence, {}, confidence};
    for (char32_t c : std::u32string(U"lamp")) word.glyphs.push_back({c, {}, confidence});
    line.words = {word, word};
    line.confidence = confidence;
    block.lines = {line};
    page.blocks.push_back(block);
  }
  return page;
}

TEST(Noise, UnreadableBlocksOfAReadablePageAreNoText) {
  Page page = page_with({0.95, 0.97, 0.3});
  set_noise_aside(page);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kText);
  EXPECT_EQ(page.blocks[2].kind, BlockKind::kNoise);
}

TEST(Noise, ABlockOfNothingButDotsIsARule) {
  Page page = page_with({0.95, 0.97, 0.99});
  for (Word& word : page.blocks[1].lines[0].words) {
    word.text = "....";
    for (Glyph& glyph : word.glyphs) glyph.character = U'.';
  }
  set_noise_aside(page);
  EXPECT_EQ(page.blocks[1].kind, BlockKind::kNoise);
  EXPECT_EQ(page.blocks[2].kind, BlockKind::kText);
}

TEST(Noise, APageThatReadsBadlyAsAWholeIsLeftAlone) {
  Page page = page_with({0.5, 0.4, 0.3});
  set_noise_aside(page);
  for (const Block& block : page.blocks) EXPECT_EQ(block.kind, BlockKind::kText);
}

TEST(Noise, ALanguageThatLikesScribbleDoesNotMakeItText) {
  Page page = page_with({0.95, 0.97, 0.3});
  // A language found a word in the scribble and is sure of it; the network was not.
  for (Word& word : page.blocks[2].lines[0].words) word.confidence = 0.95;
  set_noise_aside(page);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kText);
  EXPECT_EQ(page.blocks[2].kind, BlockKind::kNoise);
  Page grain = page_with({0.4});
  for (Word& word : grain.blocks[0].lines[0].words) word.confidence = 0.95;
  EXPECT_TRUE(set_blank_aside(grain));
}

TEST(Noise, APageWithALittleUnreadableInkIsBlank) {
  Page grain = page_with({0.5, 0.4, 0.3}), text = page_with({0.95});
  EXPECT_TRUE(set_blank_aside(grain));
  EXPECT_FALSE(grain.has_words());
  EXPECT_FALSE(set_blank_aside(text));
  Page much = page_with(std::vector<double>(20, 0.4));
  EXPECT_FALSE(set_blank_aside(much));
}

// So many lines of one word each.
Page page_of_scraps(int lines, const std::u32string& word, double confidence) {
  Page page;
  Block block;
  for (int i = 0; i < lines; ++i) {
    Line line;
    line.words = {
        {encode_utf8({word.begin(), word.end()}), {0, 0, 9, 9}, confidence, {}, confidence}};
    for (const char32_t c : word) line.words[0].glyphs.push_back({c, {}, confidence});
    line.confidence = confidence;
    block.lines.push_back(line);
  }
  page.blocks.push_back(block);
  return page;
}

TEST(Noise, LongLinesThatReadWellStandOutOfAnyGrain) {
  Page page = page_of_scraps(400, U"il,", 0.4);
  Block text;
  for (int i = 0; i < 2; ++i) {
    Line line = page_of_scraps(1, U"lighthouse", 0.9).blocks[0].lines[0];
    line.words.resize(4, line.words[0]);
    text.lines.push_back(line);
  }
  page.blocks.push_back(text);
  set_noise_aside(page);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kNoise);
  EXPECT_EQ(page.blocks[1].kind, BlockKind::kText);
  EXPECT_FALSE(set_blank_aside(page));
}

TEST(Noise, OnAPageOfSpecksScrapsAreSpecks) {
  Page page = page_of_scraps(3, U".,*", 0.9);
  page.blocks.push_back(page_of_scraps(2, U"lighthouse", 0.6).blocks[0]);
  set_scraps_aside(page);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kNoise);
  EXPECT_EQ(page.blocks[1].kind, BlockKind::kText);
}

TEST(Noise, ManyShortUnsureLinesAreGrain) {
  Page grain = page_of_scraps(60, U"il,", 0.45), labels = page_of_scraps(60, U"Oil", 0.8),
       strange = page_of_scraps(60, U"unknownscript", 0.45);
  EXPECT_TRUE(set_blank_aside(grain));
  EXPECT_FALSE(set_blank_aside(labels));   // a table of short entries
  EXPECT_FALSE(set_blank_aside(strange));  // long lines that the model can't read are text
}

TEST(Noise, WhatIsSetAsideKeepsItsWords) {
  Page page = page_with({0.95, 0.9});
  page.blocks.push_back({});
  page.blocks.back().kind = BlockKind::kPicture;
  set_all_aside(page);
  EXPECT_EQ(page.blocks[0].kind, BlockKind::kNoise);
  EXPECT_EQ(page.blocks[1].lines[0].words.size(), 2u);
  EXPECT_EQ(page.blocks[2].kind, BlockKind::kPicture);
}

TEST(Noise, APageOfDotsIsBlankHoweverSureTheyAre) {
  Page dots = page_with({0.97, 0.97});
  for (Block& block : dots.blocks) {
    for (Word& word : block.lines[0].words) {
      for (Glyph& glyph : word.glyphs) glyph.character = U'•';
    }
  }
  EXPECT_TRUE(set_blank_aside(dots));
}

}  // namespace
}  // namespace burnisher::recognise
