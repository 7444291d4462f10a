#include "recognise/ideograph_language.h"

#include <gtest/gtest.h>

namespace burnisher::recognise {
namespace {

TEST(IdeographLanguage, IsToldFromTheCharacters) {
  EXPECT_EQ(language_of_ideographs({"灯台の灯は午後四時に", "点された。"}), "ja");
  EXPECT_EQ(language_of_ideographs({"灯塔的灯在下午四点点亮，", "风从西南来。"}), "zh-Hans");
  EXPECT_EQ(language_of_ideographs({"燈塔的燈在下午四點點亮，", "風從西南來。"}), "zh-Hant");
  EXPECT_EQ(language_of_ideographs({"灯塔的灯在下午四点点亮，风从西南来，カメラ",
                                    "灯塔的灯在下午点亮，雨"
                                    "从东北来，灯塔守护人写道"}),
            "zh-Hans");
}

TEST(IdeographLanguage, IsNotMadeUp) {
  EXPECT_EQ(language_of_ideographs({"Lit 4.21 pm", ""}), "");
  EXPECT_EQ(language_of_ideographs({"一二三"}), "");  // in both
  EXPECT_EQ(language_of_ideographs({}), "");
}

}  // namespace
}  // namespace burnisher::recognise
