#include "recognise/look_alikes.h"

#include <gtest/gtest.h>

#include "base/unicode.h"
#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

std::string settled(const std::string& text, const std::string& script) {
  Line line;
  line.script = script;
  line.words = {testing::word_with_glyphs(text)};
  settle_look_alikes(line);
  return line.words[0].text;
}

TEST(LookAlikes, GoWithTheOtherLettersOfTheirWord) {
  EXPECT_EQ(settled("Cосед", "Cyrl"), "Сосед");  // a Latin C before Cyrillic letters
  EXPECT_EQ(settled("Lаmр", "Cyrl"), "Lamp");    // Cyrillic а and р in a Latin word
  EXPECT_EQ(settled("Aθήνα", "Grek"), "Αθήνα");
  EXPECT_EQ(settled("№5а", "Cyrl"), "№5а");
}

TEST(LookAlikes, AloneTheyGoWithTheLine) {
  EXPECT_EQ(settled("c", "Cyrl"), "с");
  EXPECT_EQ(settled("А", "Latn"), "A");
  EXPECT_EQ(settled("oсa", "Cyrl"), "оса");
}

TEST(LookAlikes, WordsOfOneScriptStay) {
  EXPECT_EQ(settled("COP", "Cyrl"), "COP");
  EXPECT_EQ(settled("СОР", "Latn"), "СОР");
  EXPECT_EQ(settled("1873", "Cyrl"), "1873");
}

}  // namespace
}  // namespace burnisher::recognise
