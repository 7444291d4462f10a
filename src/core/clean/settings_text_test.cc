#include "clean/settings_text.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher::clean {
namespace {

TEST(SettingsText, ComesBackAsItWas) {
  CleanSettings settings;
  settings.turn = 270;
  settings.invert = settings.split = false;
  settings.tone.gamma = 0.7;
  settings.tone.median = true;
  settings.crop = Crop::kText;
  settings.margin_mm = 8.25;
  settings.binarise.method = BinariseMethod::kLocal;
  settings.despeckle.size_mm = 0.4;
  settings.rules = Rules::kRemove;
  settings.mend = true;
  const auto text = as_text(settings);
  EXPECT_EQ(as_text(from_text(text)), text);
  const CleanSettings back = from_text(text);
  EXPECT_EQ(back.turn, 270);
  EXPECT_EQ(back.tone.gamma, 0.7);
  EXPECT_EQ(back.crop, Crop::kText);
  EXPECT_EQ(back.rules, Rules::kRemove);
  EXPECT_EQ(back.despeckle.size_mm, 0.4);
}

TEST(SettingsText, UsualSettingsAreNotToldButForTheTurn) {
  EXPECT_EQ(as_text({}), (std::vector<std::pair<std::string, std::string>>{{"turn", "0"}}));
}

TEST(SettingsText, WhatIsNoneIsRefused) {
  for (const auto& [key, value] : std::vector<std::pair<std::string, std::string>>{
           {"turns", "90"}, {"turn", "x"}, {"mend", "1"}, {"crop", "3"}, {"rules", "-1"}})
    EXPECT_THROW(from_text({{key, value}}), FormatError) << key;
}

}  // namespace
}  // namespace burnisher::clean
