#include "recognise/arabic_letters.h"

#include <gtest/gtest.h>

#include "base/unicode.h"
#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

std::string as(const std::string& language, const std::string& text) {
  return encode_utf8(in_letters_of(language, decode_utf8(text)));
}

TEST(ArabicLetters, AreThoseOfTheLanguage) {
  const std::string arabic = "\u0643\u062A\u0627\u0628\u064A";   // kaf, yeh
  const std::string persian = "\u06A9\u062A\u0627\u0628\u06CC";  // keheh, Farsi yeh
  EXPECT_EQ(as("fa", arabic), persian);
  EXPECT_EQ(as("fa-AF", arabic), persian);
  EXPECT_EQ(as("ur", arabic), persian);
  EXPECT_EQ(as("fa", persian), persian);
  // Without dots at the end, an Arabic yeh is another letter.
  EXPECT_EQ(as("ar", persian), "\u0643\u062A\u0627\u0628\u0649");
  EXPECT_EQ(as("ar", arabic), arabic);
}

TEST(ArabicLetters, AYehInsideAWordHasItsDots) {
  EXPECT_EQ(as("ar", "\u0628\u06CC\u062A"), "\u0628\u064A\u062A");
  // A vowel sign between, and hamza, which joins to nothing.
  EXPECT_EQ(as("ar", "\u0628\u06CC\u064E\u062A"), "\u0628\u064A\u064E\u062A");
  EXPECT_EQ(as("ar", "\u0628\u06CC\u0621"), "\u0628\u0649\u0621");
}

TEST(ArabicLetters, DigitsOfOneFormGoWithTheLanguage) {
  EXPECT_EQ(as("fa", "\u0661\u0662\u0663"), "\u06F1\u06F2\u06F3");
  EXPECT_EQ(as("ar", "\u06F1\u06F8\u06F9\u06F0"), "\u0661\u0668\u0669\u0660");
  // 4, 5 and 6 are printed apart, and stay as they are.
  EXPECT_EQ(as("ar", "\u06F4\u06F5\u06F6"), "\u06F4\u06F5\u06F6");
  EXPECT_EQ(as("fa", "\u0664"), "\u0664");
  EXPECT_EQ(as("ar", "1895"), "1895");
}

Line line_of(const std::string& text, const std::string& language) {
  Line line;
  line.script = "Arab";
  line.language = language;
  Word word = testing::word_with_glyphs(text);
  word.readings = {{text, 0.7}};
  line.words = {word};
  return line;
}

TEST(ArabicLetters, WordsGlyphsAndOtherReadingsAgree) {
  Line line = line_of("\u0643\u06CC", "fa");
  settle_arabic_letters(line);
  const Word& word = line.words[0];
  EXPECT_EQ(word.text, "\u06A9\u06CC");
  ASSERT_EQ(word.glyphs.size(), 2u);
  EXPECT_EQ(word.glyphs[0].character, char32_t{0x6A9});
  EXPECT_EQ(word.readings[0].text, word.text);
}

TEST(ArabicLetters, ALineOfNoKnownLanguageGoesByItsOwnLetters) {
  Line persian = line_of("\u067E\u064A\u0643", "");  // peh is Persian
  settle_arabic_letters(persian);
  EXPECT_EQ(persian.words[0].text, "\u067E\u06CC\u06A9");
  Line arabic = line_of("\u0628\u06CC\u062A", "");
  settle_arabic_letters(arabic);
  EXPECT_EQ(arabic.words[0].text, "\u0628\u064A\u062A");
}

}  // namespace
}  // namespace burnisher::recognise
