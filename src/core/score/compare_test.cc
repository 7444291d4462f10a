#include "score/compare.h"

#include <gtest/gtest.h>

namespace burnisher::score {
namespace {

TEST(Compare, EqualButForWhiteSpace) {
  const Comparison c = compare("The lamp\n\nburns. ", "The  lamp burns.");
  EXPECT_EQ(c.character_errors, 0);
  EXPECT_EQ(c.word_errors, 0);
  EXPECT_EQ(c.order_free(), 1);
}

TEST(Compare, SaysWhatWasReadAsWhat) {
  const Comparison c = compare("larnp oil 4l2", "lamp oil 412");
  EXPECT_EQ(c.character_errors, 3);  // m: r and n for one letter; 1: l
  EXPECT_EQ(c.confusions.at({U'1', U'l'}), 1);
  EXPECT_EQ(c.classes.at(CharacterClass::kDigit).characters, 3);
  EXPECT_EQ(c.classes.at(CharacterClass::kDigit).errors, 1);
  EXPECT_EQ(c.word_errors, 2);
}

TEST(Aligned, PairsEveryCharacterOfBothInOrder) {
  const auto pairs = aligned("larnp  oil", "lamp oil");
  std::u32string read, truth;
  for (const Confusion& pair : pairs) {
    if (pair.read != 0) read += pair.read;
    if (pair.truth != 0) truth += pair.truth;
  }
  EXPECT_EQ(read, U"larnp oil");  // white space is one space
  EXPECT_EQ(truth, U"lamp oil");
  int errors = 0;
  for (const Confusion& pair : pairs) errors += pair.read != pair.truth;
  EXPECT_EQ(errors, 2);
}

TEST(Aligned, TakesLettersApartFromTheirAccentsAsOne) {
  const auto pairs = aligned("caf\u0065\u0301", "café");
  ASSERT_EQ(pairs.size(), 4u);
  EXPECT_EQ(pairs[3].read, U'é');
  EXPECT_EQ(pairs[3].truth, U'é');
}

TEST(Aligned, OfNothingIsEverythingMissing) {
  EXPECT_TRUE(aligned("", "").empty());
  const auto missing = aligned("", "oil");
  ASSERT_EQ(missing.size(), 3u);
  EXPECT_EQ(missing[0].read, char32_t{0});
  EXPECT_EQ(aligned("oil", "").size(), 3u);
}

TEST(Aligned, LongTextsTakeLittleMemory) {
  std::string truth, read;
  for (int i = 0; i < 3000; ++i) {
    truth += "lamp ";
    read += i % 100 == 50 ? "lanp " : "lamp ";
  }
  int errors = 0;
  for (const Confusion& pair : aligned(read, truth)) errors += pair.read != pair.truth;
  EXPECT_EQ(errors, 30);
}

TEST(Compare, OmissionsAndInsertionsAreConfusionsWithNothing) {
  const Comparison c = compare("oil.", "oils");
  EXPECT_EQ(c.character_errors, 1);
  EXPECT_EQ(compare("oi", "oil").confusions.at({U'l', 0}), 1);
  EXPECT_EQ(compare("ooil", "oil").confusions.at({0, U'o'}), 1);
}

TEST(Compare, OrderIsCountedApart) {
  const Comparison c = compare("right column left column", "left column right column");
  EXPECT_GT(c.cer(), 0.2);
  EXPECT_EQ(c.order_free(), 1);
}

TEST(Compare, EmptySidesAreNoDivisionByZero) {
  EXPECT_EQ(compare("", "").cer(), 0);
  EXPECT_EQ(compare("", "oil").cer(), 1);
  EXPECT_EQ(compare("oil", "").cer(), 1);
}

// The alignment in linear space costs no more than the distance.
TEST(Compare, TheAlignmentIsACheapestOne) {
  const struct {
    const char *read, *truth;
    int errors;
  } cases[] = {{"kitten", "sitting", 3},
               {"Saturday", "Sunday", 3},
               {"abcabc", "bca", 3},
               {"gumbo", "gambol", 2}};
  for (const auto& c : cases)
    EXPECT_EQ(compare(c.read, c.truth).character_errors, c.errors) << c.read;
}

}  // namespace
}  // namespace burnisher::score
