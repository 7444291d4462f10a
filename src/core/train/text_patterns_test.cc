#include "train/text_patterns.h"

#include <gtest/gtest.h>

#include <set>

#include "base/unicode.h"

namespace burnisher::train {
namespace {

using Text = std::vector<char32_t>;

TEST(Patterns, AreFilledWithDigitsAndLetters) {
  Random random(1);
  for (int i = 0; i < 300; ++i) {
    const Text filled_in = filled("9#/A-a.x", random);
    ASSERT_EQ(filled_in.size(), 8u);
    EXPECT_TRUE(filled_in[0] >= U'1' && filled_in[0] <= U'9');
    EXPECT_TRUE(is_digit(filled_in[1]));
    EXPECT_EQ(filled_in[2], U'/');
    EXPECT_TRUE(is_upper(filled_in[3]));
    EXPECT_TRUE(is_letter(filled_in[5]) && !is_upper(filled_in[5]));
    EXPECT_EQ(filled_in[7], U'x');
  }
}

TEST(Patterns, GiveManyUnlikeFigures) {
  Random random(2);
  std::set<std::string> drawn;
  int with_digits = 0;
  for (int i = 0; i < 500; ++i) {
    const Text figure = figure_of_print(random);
    ASSERT_FALSE(figure.empty());
    with_digits += std::any_of(figure.begin(), figure.end(), is_digit);
    drawn.insert(encode_utf8(figure));
  }
  EXPECT_GT(drawn.size(), 400u);
  EXPECT_GT(with_digits, 400);
  EXPECT_FALSE(abbreviation(random).empty());
}

TEST(Printers, SetTypographicQuotesAndDashes) {
  bool english = false, continental = false;
  for (uint64_t seed = 0; seed < 40; ++seed) {
    Random random(seed);
    Text line = decode_utf8("\"Oil,\" he said -- 'or wick'");
    make_typographic(line, random);
    const std::string set = encode_utf8(line);
    EXPECT_EQ(set.find('"'), std::string::npos);
    EXPECT_EQ(set.find("--"), std::string::npos);
    EXPECT_NE(set.find("‘or wick’"), std::string::npos) << set;
    english = english || set.rfind("“Oil,”", 0) == 0;
    continental = continental || set.rfind("„Oil,“", 0) == 0;
  }
  EXPECT_TRUE(english);
  EXPECT_TRUE(continental);
}

TEST(Printers, KeepTheRoundSAtTheEndsOfWords) {
  Text line = decode_utf8("his lost steps");
  use_long_s(line);
  EXPECT_EQ(encode_utf8(line), "his loſt ſteps");
}

TEST(Printers, CapitalsSpareLettersWithoutOne) {
  Text line = decode_utf8("große ſache ж");
  capitalise(line);
  EXPECT_EQ(encode_utf8(line), "GROßE ſACHE Ж");
  Text words = decode_utf8("the ever lit ж");
  capitalise_words(words);
  EXPECT_EQ(encode_utf8(words), "The Ever Lit Ж");
}

}  // namespace
}  // namespace burnisher::train
