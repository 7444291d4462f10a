#include "recognise/foreign_words.h"

#include <gtest/gtest.h>

#include "base/unicode.h"
#include "testing/word_pages.h"

namespace burnisher::recognise {
namespace {

Word word(const std::string& text, double x0, double x1) {
  return testing::word_with_glyphs(text, {x0, 0, x1, 20}, 0.9);
}

Line line(const std::string& script, const std::vector<Word>& words) {
  Line l;
  l.script = script;
  l.words = words;
  return l;
}

double by(double gain, const std::vector<Word>&, const std::vector<Word>&) {
  return gain;
}

// Words of the other script gain, others lose.
double cyrillic_gains(const std::vector<Word>&, const std::vector<Word>& others) {
  return script_of(decode_utf8(others[0].text)[0]) == "Cyrl" ? 0.5 : -0.5;
}

TEST(ForeignWords, TakeThePlaceOfWhatStoodThere) {
  Line own = line("Latn", {word("reads", 0, 50), word("Byer", 60, 110), word("and", 120, 150)});
  const Line other =
      line("Cyrl", {word("reads", 1, 50), word("Буфет", 61, 111), word("and", 121, 150)});
  EXPECT_TRUE(take_words(other, cyrillic_gains, own));
  EXPECT_EQ(own.text(), "reads Буфет and");
}

TEST(ForeignWords, TwoWordsMayStandForOne) {
  Line own = line("Latn", {word("coeapartotion", 0, 130), word("here", 140, 180)});
  const Line other =
      line("Cyrl", {word("совсем", 0, 60), word("другое", 70, 130), word("here", 140, 180)});
  EXPECT_TRUE(take_words(other, cyrillic_gains, own));
  EXPECT_EQ(own.text(), "совсем другое here");
}

TEST(ForeignWords, WithoutGainTheLineStays) {
  Line own = line("Latn", {word("Byer", 0, 50)});
  const Line other = line("Cyrl", {word("Буфет", 0, 50)});
  const auto none = [](const auto& a, const auto& b) { return by(0.01, a, b); };
  EXPECT_FALSE(take_words(other, none, own));
  EXPECT_EQ(own.text(), "Byer");
}

TEST(ForeignWords, OnlyWordsOfTheOtherScriptAreTaken) {
  Line own = line("Latn", {word("1905", 0, 40), word("rnill", 50, 90)});
  const Line other = line("Cyrl", {word("1906", 0, 40), word("mill", 50, 90)});
  const auto much = [](const auto& a, const auto& b) { return by(2, a, b); };
  EXPECT_FALSE(take_words(other, much, own));
  EXPECT_EQ(own.text(), "1905 rnill");
}

TEST(ForeignWords, OfFewLettersDontProveThatThereAreAny) {
  Line own = line("Latn", {word("Bo", 0, 20), word("then", 30, 70)});
  const Line other = line("Cyrl", {word("во", 0, 20), word("then", 30, 70)});
  EXPECT_FALSE(take_words(other, cyrillic_gains, own));
}

TEST(ForeignWords, ARunFromTheRightIsReadFromThere) {
  Line own = line("Latn", {word("the", 0, 30), word("nnw", 40, 80), word("D7y7", 90, 130),
                           word("press", 140, 180)});
  // As the other reader gives them: the line in logical order, from the right.
  const Line other = line("Hebr", {word("שלום", 90, 130), word("עולם", 40, 80)});
  const auto much = [](const auto& a, const auto& b) { return by(2, a, b); };
  EXPECT_TRUE(take_words(other, much, own));
  EXPECT_EQ(own.text(), "the שלום עולם press");
}

// ---- which scripts words seem to be in ----

LineReading reading_of(const std::vector<std::pair<char32_t, double>>& characters) {
  LineReading reading;
  for (size_t i = 0; i < characters.size(); ++i) {
    ReadCharacter c;
    c.character = characters[i].first;
    c.confidence = characters[i].second;
    c.first_frame = c.last_frame = c.peak_frame = static_cast<int>(i);
    reading.characters.push_back(c);
  }
  reading.script_frames.assign(characters.size() * 3, -1.f);
  return reading;
}

TEST(ForeignScripts, AreThoseOfTheFramesOfUnclearWords) {
  LineReading reading = reading_of(
      {{'a', 1}, {'n', 1}, {' ', 1}, {'B', 0.6}, {'y', 0.5}, {' ', 1}, {'i', 0.5}, {'s', 1}});
  for (size_t f = 0; f < 8; ++f) reading.script_frames[3 * f] = -0.1f;  // Latin everywhere
  EXPECT_TRUE(foreign_scripts(reading, 3, {0}).empty());
  for (const size_t f : {3, 4}) reading.script_frames[3 * f + 2] = 0.f;  // but there
  EXPECT_EQ(foreign_scripts(reading, 3, {0}), (std::vector<size_t>{2}));
  EXPECT_TRUE(foreign_scripts(reading, 3, {0, 2}).empty());
}

TEST(ForeignScripts, ClearWordsAreWhatTheySeem) {
  LineReading reading = reading_of({{'B', 0.99}, {'y', 0.98}});
  for (const size_t f : {0, 1}) reading.script_frames[3 * f + 1] = 0.f;
  EXPECT_TRUE(foreign_scripts(reading, 3, {0}).empty());
}

}  // namespace
}  // namespace burnisher::recognise
