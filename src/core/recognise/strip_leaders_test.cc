#include "recognise/strip_leaders.h"

#include <gtest/gtest.h>

namespace burnisher::recognise {
namespace {

const StripFrame kFrame;

Gray blank_strip(int width) {
  return Gray(width, kFrame.height, kPaperLevel);
}

void ink(Gray& strip, int x0, int x1, int up, int down = 0) {
  for (int y = static_cast<int>(kFrame.baseline) - up; y < kFrame.baseline + down; ++y) {
    for (int x = x0; x < x1; ++x) strip.row(y)[x] = kInkLevel;
  }
}

// A word, a row of dots, a number.
Gray contents_line() {
  Gray strip = blank_strip(400);
  for (int i = 0; i < 5; ++i) ink(strip, 10 + 14 * i, 20 + 14 * i, 14);
  for (int i = 0; i < 20; ++i) ink(strip, 90 + 12 * i, 93 + 12 * i, 3);
  ink(strip, 350, 360, 20);
  return strip;
}

TEST(StripLeaders, ARowOfDotsIsOne) {
  const std::vector<StripLeader> leaders = leaders_in(contents_line(), kFrame);
  ASSERT_EQ(leaders.size(), 1u);
  EXPECT_EQ(leaders[0].dots, 20);
  EXPECT_EQ(leaders[0].from, 90);
  EXPECT_EQ(leaders[0].to, 93 + 12 * 19);
}

TEST(StripLeaders, AnEllipsisIsNone) {
  Gray strip = blank_strip(200);
  ink(strip, 10, 20, 14);
  for (int i = 0; i < 3; ++i) ink(strip, 40 + 12 * i, 43 + 12 * i, 3);
  EXPECT_TRUE(leaders_in(strip, kFrame).empty());
}

TEST(StripLeaders, GrainBetweenTwoWordsIsNone) {
  const auto between_words = [](uint8_t level) {
    Gray strip = blank_strip(120);
    ink(strip, 10, 20, 14);
    ink(strip, 90, 100, 14);
    for (int i = 0; i < 6; ++i) {
      uint8_t* row = strip.row(static_cast<int>(kFrame.baseline) - 1);
      row[40 + 6 * i] = row[41 + 6 * i] = level;
    }
    return leaders_in(strip, kFrame);
  };
  EXPECT_TRUE(between_words(kPaperLevel + 37).empty());
  EXPECT_EQ(between_words(kInkLevel).size(), 1u);
}

TEST(StripLeaders, LettersOverDotsAreRead) {
  Gray strip = contents_line();
  for (int x = 90; x < 330; x += 16) ink(strip, x, x + 9, 14);
  EXPECT_TRUE(leaders_in(strip, kFrame).empty());
}

TEST(StripLeaders, TakenOutTheyLeavePaper) {
  Gray strip = contents_line();
  take_out(leaders_in(strip, kFrame), strip);
  EXPECT_TRUE(leaders_in(strip, kFrame).empty());
  EXPECT_EQ(strip.row(static_cast<int>(kFrame.baseline) - 1)[91], kPaperLevel);
  EXPECT_EQ(strip.row(static_cast<int>(kFrame.baseline) - 1)[355], kInkLevel);
}

TEST(StripLeaders, TheyComeBackAsAWordBetweenTheirNeighbours) {
  std::vector<ReadCharacter> read(2);
  read[0].character = U'a';
  read[0].peak_frame = 3;
  read[1].character = U'7';
  read[1].peak_frame = 88;
  const std::vector<ReadCharacter> all = with_leaders(read, {{90, 321, 5}});
  std::u32string text;
  for (const ReadCharacter& c : all) text.push_back(c.character);
  EXPECT_EQ(text, U"a ..... 7");
}

}  // namespace
}  // namespace burnisher::recognise
