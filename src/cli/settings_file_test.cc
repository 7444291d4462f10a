#include "cli/settings_file.h"

#include <gtest/gtest.h>

#include "base/error.h"

namespace burnisher::cli {
namespace {

TEST(SettingsFiles, AreLinesOfKeysAndValues) {
  const auto settings =
      settings_in("recipe", "# a comment\nlang = \"en,de\"  # two\n\n crop=sheet\r\n");
  ASSERT_EQ(settings.size(), 2u);
  EXPECT_EQ(settings[0].key, "lang");
  EXPECT_EQ(settings[0].value, "en,de");
  EXPECT_EQ(settings[0].line, 2);
  EXPECT_EQ(settings[1].key, "crop");
  EXPECT_EQ(settings[1].value, "sheet");
  EXPECT_EQ(settings_in("recipe", "title = \"Log # 7\"")[0].value, "Log # 7");
}

TEST(SettingsFiles, MayHaveSectionsWhereThereAreSeveralOfAKind) {
  const auto sections = sections_in("flows", "[letters]\nin = a\n[ bills ]\nin = b\nto = pdf\n");
  ASSERT_EQ(sections.size(), 2u);
  EXPECT_EQ(sections[0].name, "letters");
  EXPECT_EQ(sections[1].name, "bills");
  EXPECT_EQ(sections[1].line, 3);
  EXPECT_EQ(sections[1].settings.size(), 2u);
  EXPECT_TRUE(sections_in("flows", "").empty());
}

TEST(SettingsFiles, SayWhereTheyMakeNoSense) {
  const struct {
    const char *text, *said;
    bool sections;
  } cases[] = {{"lang = en\nnonsense\n", "recipe, line 2: \"nonsense\" is no setting", false},
               {"[a]\nlang = en\n", "recipe, line 1: there are no sections here", false},
               {"in = a\n[b]\n", "recipe, line 1: settings stand below a [name]", true}};
  for (const auto& c : cases) try {
      if (c.sections)
        sections_in("recipe", c.text);
      else
        settings_in("recipe", c.text);
      ADD_FAILURE() << c.text;
    } catch (const SettingsError& error) {
      EXPECT_NE(std::string(error.what()).find(c.said), std::string::npos) << error.what();
    }
}

}  // namespace
}  // namespace burnisher::cli
