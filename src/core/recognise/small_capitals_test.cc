#include "recognise/small_capitals.h"

#include <gtest/gtest.h>

#include <string>

#include "base/unicode.h"
#include "recognise/model.h"

namespace burnisher::recognise {
namespace {

// A line whose letters are solid blocks: `heights` in rows above the baseline, 0 for a space.
struct BlockLine {
  BlockLine(const std::u32string& text, const std::vector<int>& heights)
      : strip(static_cast<int>(text.size()) * kAdvance + 20, frame.height, kPaperLevel) {
    for (size_t i = 0; i < text.size(); ++i) {
      const int x0 = 10 + static_cast<int>(i) * kAdvance;
      ReadCharacter c;
      c.character = text[i];
      c.peak_frame = (x0 + kAdvance / 2) / kFrameWidth;
      characters.push_back(c);
      const int base = static_cast<int>(frame.baseline);
      for (int y = base - heights[i]; y < base; ++y) {
        for (int x = x0 + 2; x < x0 + kAdvance - 2; ++x) strip.row(y)[x] = kInkLevel;
      }
    }
  }

  std::string settled() {
    settle_small_capitals(strip, frame, characters);
    std::vector<char32_t> text;
    for (const ReadCharacter& c : characters) text.push_back(c.character);
    return encode_utf8(text);
  }

  static constexpr int kAdvance = 16;
  StripFrame frame;
  Gray strip;
  std::vector<ReadCharacter> characters;
};

TEST(SmallCapitals, AfterALargeOneAreLowerCase) {
  BlockLine line(U"YORICK", {21, 16, 16, 15, 16, 16});
  EXPECT_EQ(line.settled(), "Yorick");
  EXPECT_FALSE(line.characters[0].small_capital);
  EXPECT_TRUE(line.characters[1].small_capital);
}

TEST(SmallCapitals, OfAllCapitalsStay) {
  EXPECT_EQ(BlockLine(U"YORICK", {21, 21, 20, 21, 20, 21}).settled(), "YORICK");
  EXPECT_EQ(BlockLine(U"YORICK", {16, 16, 16, 16, 16, 16}).settled(), "YORICK");
}

TEST(SmallCapitals, WordsOfNothingElseGoWithTheOthersOfTheirLine) {
  EXPECT_EQ(BlockLine(U"THERE ARE many", {21, 16, 16, 16, 16, 0, 16, 15, 16, 0, 15, 15, 15, 21})
                .settled(),
            "There are many");
  EXPECT_EQ(BlockLine(U"THERE USA", {21, 16, 16, 16, 16, 0, 21, 21, 21}).settled(), "There USA");
}

TEST(SmallCapitals, ReadAsTheLowerCaseLettersThatLookTheSameCount) {
  EXPECT_EQ(BlockLine(U"YoRICK", {21, 16, 16, 15, 16, 16}).settled(), "Yorick");
}

TEST(SmallCapitals, FewLettersMustBeClearlySmaller) {
  EXPECT_EQ(BlockLine(U"THE", {20, 17, 17}).settled(), "THE");
  EXPECT_EQ(BlockLine(U"THE", {21, 16, 16}).settled(), "The");
}

TEST(SmallCapitals, OneBlotAmongManyLettersDoesNotCount) {
  EXPECT_EQ(BlockLine(U"BIRCHMOND", {21, 16, 16, 20, 16, 16, 15, 16, 16}).settled(), "Birchmond");
  EXPECT_EQ(BlockLine(U"BIRCHMOND", {21, 16, 20, 20, 20, 16, 15, 16, 16}).settled(), "BIRCHMOND");
}

TEST(SmallCapitals, AfterARaisedInitialAreCapitals) {
  EXPECT_EQ(BlockLine(U"AUCTION", {33, 16, 16, 16, 16, 16, 16}).settled(), "AUCTION");
}

TEST(SmallCapitals, FiguresAndPointsStandAside) {
  EXPECT_EQ(BlockLine(U"MACK,", {21, 16, 16, 16, 4}).settled(), "Mack,");
  EXPECT_EQ(BlockLine(U"A4", {21, 16}).settled(), "A4");
}

}  // namespace
}  // namespace burnisher::recognise
