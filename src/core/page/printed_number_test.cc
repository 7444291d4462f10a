#include "page/printed_number.h"

#include <gtest/gtest.h>

#include "testing/word_pages.h"

namespace burnisher {
namespace {

Page page_with(const std::string& text, BlockKind kind) {
  std::vector<Word> words;
  std::istringstream parts(text);
  for (std::string part; parts >> part;) words.push_back(testing::word_of(part));
  Page page = testing::page_of_lines({testing::line_of(words)});
  page.blocks[0].kind = kind;
  return page;
}

TEST(PageNumbers, AreReadInAllTheirForms) {
  const struct {
    const char* text;
    int value;
    bool roman;
  } cases[] = {{"12", 12, false},  {"- 3 -", 3, false}, {"[xii]", 12, true},
               {"p. 7", 7, false}, {"XIV", 14, true},   {"Seite 40", 40, false}};
  for (const auto& c : cases) {
    const auto number = number_in_text(c.text);
    ASSERT_TRUE(number.has_value()) << c.text;
    EXPECT_EQ(number->value, c.value) << c.text;
    EXPECT_EQ(number->roman, c.roman) << c.text;
  }
  for (const char* none : {"1887 was wet", "iiii", "", "mild", "12 13"})
    EXPECT_FALSE(number_in_text(none).has_value()) << none;
}

TEST(PageNumbers, MayStandAtEitherEndOfARunningHead) {
  const Page page = page_with("42 Skerrow Light Board", BlockKind::kRunningHead);
  ASSERT_TRUE(printed_number(page).has_value());
  EXPECT_EQ(printed_number(page)->value, 42);
}

TEST(PageNumbers, StandInTheirOwnBlockBeforeAnyHead) {
  Page page = page_with("Log 17", BlockKind::kRunningHead);
  page.blocks.push_back(page_with("- xiv -", BlockKind::kPageNumber).blocks[0]);
  EXPECT_EQ(text_of(printed_number(page)), "xiv");
  page.blocks.pop_back();
  EXPECT_EQ(text_of(printed_number(page)), "17");
  EXPECT_EQ(text_of(printed_number(page_with("Log of 1904", BlockKind::kText))), "");
  EXPECT_EQ(text_of(printed_number(page_with("17", BlockKind::kRunningHead))), "");  // a head alone
  EXPECT_EQ(text_of(std::nullopt), "");
}

}  // namespace
}  // namespace burnisher
