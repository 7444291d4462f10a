#include "correct/forms.h"

#include <gtest/gtest.h>

namespace burnisher::correct {
namespace {

struct Case {
  const char* word;
  FormKind kind;
  const char* core;
};

class Forms : public ::testing::TestWithParam<Case> {};

TEST_P(Forms, AreToldApart) {
  const Form form = form_of(GetParam().word);
  EXPECT_EQ(static_cast<int>(form.kind), static_cast<int>(GetParam().kind)) << GetParam().word;
  EXPECT_EQ(form.core, GetParam().core);
  EXPECT_EQ(form.before + form.core + form.after, GetParam().word);
}

INSTANTIATE_TEST_SUITE_P(
    Words, Forms,
    ::testing::Values(
        Case{"lamp", FormKind::kWord, "lamp"}, Case{"“Lamp,”", FormKind::kWord, "Lamp"},
        Case{"(keeper’s", FormKind::kWord, "keeper’s"}, Case{"WICK", FormKind::kWord, "WICK"},
        Case{"light-house;", FormKind::kWord, "light-house"},
        Case{"McKay", FormKind::kWord, "McKay"}, Case{"Straße", FormKind::kWord, "Straße"},
        Case{"412", FormKind::kNumber, "412"}, Case{"29.97,", FormKind::kNumber, "29.97"},
        Case{"1,200", FormKind::kNumber, "1,200"}, Case{"½", FormKind::kNumber, "½"},
        Case{"14th", FormKind::kOrdinal, "14th"}, Case{"£12.", FormKind::kAmount, "£12"},
        Case{"40%", FormKind::kAmount, "40%"}, Case{"300mm", FormKind::kMeasure, "300mm"},
        Case{"45°17'32\"", FormKind::kMeasure, "45°17'32\""},
        Case{"14.11.1923", FormKind::kDate, "14.11.1923"},
        Case{"1914–18", FormKind::kDate, "1914–18"}, Case{"XIV.", FormKind::kRoman, "XIV"},
        Case{"J.", FormKind::kAbbreviation, "J"}, Case{"a.m.", FormKind::kAbbreviation, "a.m"},
        Case{"www.skerrow.example", FormKind::kAddress, "www.skerrow.example"},
        Case{"B-12", FormKind::kCode, "B-12"}, Case{"AB123", FormKind::kCode, "AB123"},
        Case{"—", FormKind::kSigns, ""}, Case{"l9O5", FormKind::kOdd, "l9O5"},
        Case{"gall0ns", FormKind::kOdd, "gall0ns"}, Case{"THe", FormKind::kOdd, "THe"},
        Case{"laMp", FormKind::kOdd, "laMp"}));

TEST(Forms, OnlyWordsOfLettersAreSpelled) {
  EXPECT_TRUE(is_spelled(FormKind::kWord));
  for (const FormKind kind : {FormKind::kNumber, FormKind::kCode, FormKind::kRoman,
                              FormKind::kAddress, FormKind::kOdd, FormKind::kSigns})
    EXPECT_FALSE(is_spelled(kind));
}

TEST(Forms, CompoundsFallIntoTheirParts) {
  EXPECT_EQ(parts_of("light-house"), (std::vector<std::string>{"light", "house"}));
  EXPECT_EQ(parts_of("lamp"), std::vector<std::string>{"lamp"});
}

}  // namespace
}  // namespace burnisher::correct
