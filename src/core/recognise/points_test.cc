#include "recognise/points.h"

#include <gtest/gtest.h>

#include "base/unicode.h"
#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

std::string dropped(const std::string& text, const std::string& script) {
  Word word = testing::word_with_glyphs(text);
  word.readings = {{text, 0.8}};
  Line line;
  line.script = script;
  line.words = {word};
  Page page;
  page.blocks.resize(1);
  page.blocks[0].lines = {line};
  drop_points(page);
  const Word& after = page.blocks[0].lines[0].words[0];
  EXPECT_EQ(after.glyphs.size(), decode_utf8(after.text).size());
  EXPECT_EQ(after.readings[0].text, after.text);
  return after.text;
}

TEST(Points, AreLeftOutOfHebrewAndArabicWords) {
  EXPECT_EQ(dropped("\u05E9\u05C1\u05B8\u05DC\u05D5\u05B9\u05DD", "Hebr"),
            "\u05E9\u05DC\u05D5\u05DD");
  EXPECT_EQ(dropped("\u0643\u064E\u062A\u064E\u0628\u064E", "Arab"), "\u0643\u062A\u0628");
}

TEST(Points, HamzaAndMaddaBelongToTheirLetter) {
  EXPECT_EQ(dropped("\u0623\u064E\u0645\u0631", "Arab"), "\u0623\u0645\u0631");
  EXPECT_EQ(dropped("\u0622\u0644\u0629", "Arab"), "\u0622\u0644\u0629");
}

TEST(Points, OtherWordsStay) {
  EXPECT_EQ(dropped("Lamp", "Hebr"), "Lamp");
  EXPECT_EQ(dropped("\u05E9\u05C1", "Latn"), "\u05E9\u05C1");
  EXPECT_EQ(dropped("\u064E", "Arab"), "\u064E");  // nothing would be left
}

}  // namespace
}  // namespace burnisher::recognise
