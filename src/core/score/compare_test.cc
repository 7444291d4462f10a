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
