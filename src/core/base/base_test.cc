#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>

#include "base/base64.h"
#include "base/clock.h"
#include "base/edit_distance.h"
#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/parallel.h"
#include "base/pattern.h"
#include "base/plane.h"
#include "base/process.h"
#include "base/random.h"
#include "base/statistics.h"
#include "base/unicode.h"
#include "testing/printed_page.h"

namespace burnisher {
namespace {

std::string text_of(const std::string& path) {
  const auto bytes = read_file(path);
  return std::string(bytes.begin(), bytes.end());
}

TEST(Pattern, MatchesAllOfATextAndGivesItsGroups) {
  const Pattern size("([0-9]+)(px|mm)?");
  EXPECT_TRUE(size.matches("12mm"));
  EXPECT_FALSE(size.matches("12mm wide"));
  EXPECT_EQ(size.groups("12mm"), (std::vector<std::string>{"12mm", "12", "mm"}));
  EXPECT_EQ(size.groups("12"), (std::vector<std::string>{"12", "12", ""}));
  EXPECT_TRUE(size.groups("mm").empty());
  EXPECT_TRUE(Pattern("seite", Pattern::Case::kIgnored).matches("SEITE"));
  EXPECT_TRUE(Pattern("[½¼]").matches("½"));  // characters, not bytes
  EXPECT_FALSE(Pattern("[½¼]").matches("\xC2"));
  EXPECT_THROW(Pattern("(oil"), std::logic_error);
}

TEST(Pattern, TextsOfAnyLengthDoNoHarm) {
  const std::string digits(400000, '1');
  EXPECT_NO_THROW(Pattern("[-+±]?[0-9]+([.,][0-9]+)*[.,]?").matches(digits + "x"));
  EXPECT_NO_THROW(Pattern("(a|b)*c").matches(std::string(400000, 'a')));
}

TEST(Files, SizesAreSaidAsPeopleSayThem) {
  EXPECT_EQ(bytes_text(0), "0 bytes");
  EXPECT_EQ(bytes_text(999), "999 bytes");
  EXPECT_EQ(bytes_text(1499), "1 KB");
  EXPECT_EQ(bytes_text(83600), "84 KB");
  EXPECT_EQ(bytes_text(1720000), "1.7 MB");
}

TEST(Files, WhatIsWrittenCanBeRead) {
  testing::TemporaryFolder folder;
  write_file(folder.file("a.txt"), "Skerrow");
  EXPECT_EQ(text_of(folder.file("a.txt")), "Skerrow");
}

TEST(Files, AnExistingFileIsLeftAloneUnlessOverwritingIsAsked) {
  testing::TemporaryFolder folder;
  write_file(folder.file("a.txt"), "first");
  EXPECT_THROW(write_file(folder.file("a.txt"), "second", false), OutputError);
  EXPECT_EQ(text_of(folder.file("a.txt")), "first");
  write_file(folder.file("a.txt"), "third", true);
  EXPECT_EQ(text_of(folder.file("a.txt")), "third");
}

TEST(Files, AFileThatIsNotKeptLeavesNothingBehind) {
  testing::TemporaryFolder folder;
  write_file(folder.file("a.txt"), "before");
  {
    PendingFile pending(folder.file("a.txt"), true);
    pending.write("half of");
  }
  EXPECT_EQ(text_of(folder.file("a.txt")), "before");
  EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1);
}

TEST(Files, ANameTakenMeanwhileIsNotOverwritten) {
  testing::TemporaryFolder folder;
  PendingFile pending(folder.file("a.txt"), false);
  pending.write("late");
  write_file(folder.file("a.txt"), "early");
  EXPECT_THROW(pending.keep(), OutputError);
  EXPECT_EQ(text_of(folder.file("a.txt")), "early");
}

TEST(PendingFile, MemoryTakesWhatAFileWould) {
  std::string bytes = "before";
  {
    PendingFile pending(Sink("a.txt", bytes));
    pending.write("one ");
    pending.write("two");
    EXPECT_EQ(bytes, "before");
    pending.keep();
  }
  EXPECT_EQ(bytes, "one two");
  { PendingFile given_up(Sink("b.txt", bytes)); }
  EXPECT_EQ(bytes, "one two");
}

TEST(PendingFile, ANameTakenMeanwhileIsLeftAlone) {
  burnisher::testing::TemporaryFolder folder;
  PendingFile pending(folder.file("a.txt"), false);
  pending.write("mine");
  write_file(folder.file("a.txt"), std::string_view("theirs"));
  EXPECT_THROW(pending.keep(), OutputError);
  EXPECT_EQ(text_of(folder.file("a.txt")), "theirs");
  EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1);
}

TEST(Process, GivesOutputMessagesAndExitCode) {
  const ProcessResult result = run_process({"sh", "-c", "echo out; echo err >&2; exit 3"}, 1000);
  EXPECT_EQ(std::string(result.output.begin(), result.output.end()), "out\n");
  EXPECT_EQ(result.messages, "err\n");
  EXPECT_EQ(result.exit_code, 3);
  EXPECT_THROW(run_process({"no-such-program-anywhere"}, 1000), InputError);
  EXPECT_THROW(run_process({"sh", "-c", "yes"}, 100000), InputError);
}

TEST(Numbers, TakesWhatCanOnlyBeANumber) {
  EXPECT_EQ(number_in(" 1.5 "), 1.5);
  EXPECT_EQ(number_in("+3"), 3);
  EXPECT_EQ(integer_in("42"), 42);
  for (const char* none : {"", " ", "1,5", "1.5x", "nan", "inf", "0x10", "1 2"})
    EXPECT_FALSE(number_in(none).has_value()) << none;
  EXPECT_FALSE(integer_in("1.5").has_value());
  EXPECT_FALSE(integer_in("99999999999").has_value());
}

TEST(SoundUtf8, ReplacesWhatMarkupCannotHold) {
  EXPECT_EQ(sound_utf8("a\xff\x01\tz"), "a\xEF\xBF\xBD\xEF\xBF\xBD\tz");
  EXPECT_EQ(sound_utf8("Lübeck — log"), "Lübeck — log");
}

TEST(Files, MissingFilesAndFoldersAreNamed) {
  testing::TemporaryFolder folder;
  try {
    read_file(folder.file("gone.txt"));
    FAIL();
  } catch (const InputError& error) {
    EXPECT_NE(std::string(error.what()).find("gone.txt"), std::string::npos);
  }
  EXPECT_THROW(read_file(folder.path()), InputError);
  EXPECT_THROW(write_file(folder.file("no/such/folder.txt"), "x"), OutputError);
}

TEST(Unicode, RoundTripAndBrokenBytes) {
  const std::string text = "Ŝkerrow — 5 °C 𝔄";
  EXPECT_EQ(encode_utf8(decode_utf8(text)), text);
  EXPECT_EQ(decode_utf8("a\xff"
                        "b"),
            (std::vector<char32_t>{U'a', 0xFFFD, U'b'}));
}

TEST(Unicode, ComposesAccents) {
  EXPECT_EQ(to_nfc("e\u0301"), "é");
}

TEST(Unicode, KnowsLettersAndCase) {
  EXPECT_TRUE(is_letter(U'ß'));
  EXPECT_FALSE(is_letter(U'5'));
  EXPECT_TRUE(is_digit(U'5'));
  EXPECT_EQ(to_upper(U'é'), U'É');
  EXPECT_EQ(to_lower(U'Š'), U'š');
}

TEST(Unicode, OldEncodingsHaveTheirTables) {
  const auto latin2 = table_of_encoding("ISO8859-2");
  ASSERT_EQ(latin2.size(), 256u);
  EXPECT_EQ(latin2['a'], U'a');
  EXPECT_EQ(latin2[0xEC], U'ě');
  EXPECT_EQ(table_of_encoding("ISO8859-13")[0xFE], U'ž');
  EXPECT_EQ(table_of_encoding("KOI8-R")[0xC1], U'а');
  EXPECT_TRUE(table_of_encoding("no such thing").empty());
}

TEST(Base64, IsThatOfTheStandard) {
  const auto coded = [](const std::string& text) { return base64({text.begin(), text.end()}); };
  EXPECT_EQ(coded(""), "");
  EXPECT_EQ(coded("f"), "Zg==");
  EXPECT_EQ(coded("fo"), "Zm8=");
  EXPECT_EQ(coded("foo"), "Zm9v");
  EXPECT_EQ(coded("foobar"), "Zm9vYmFy");
  EXPECT_EQ(base64({0xFF, 0xFE, 0xFD}), "//79");
}

TEST(EditDistance, CountsTheFewestChanges) {
  const auto distance = [](const std::string& a, const std::string& b) {
    return edit_distance(std::vector<char>(a.begin(), a.end()),
                         std::vector<char>(b.begin(), b.end()));
  };
  EXPECT_EQ(distance("", ""), 0);
  EXPECT_EQ(distance("lamp", "lamp"), 0);
  EXPECT_EQ(distance("lamp", "lump"), 1);
  EXPECT_EQ(distance("lamp", ""), 4);
  EXPECT_EQ(distance("kitten", "sitting"), 3);
}

TEST(Plane, AffineMapsAndTheirInversesCancel) {
  const Affine map = Affine::shift(12, -7) * Affine::turn(3.5);
  const Point p{123.4, 56.7}, back = map.inverse()(map(p));
  EXPECT_NEAR(back.x, p.x, 1e-9);
  EXPECT_NEAR(back.y, p.y, 1e-9);
}

TEST(Plane, TurningIsCounterClockwiseAsSeen) {
  const Point p = Affine::turn(90)({1, 0});
  EXPECT_NEAR(p.x, 0, 1e-12);
  EXPECT_NEAR(p.y, -1, 1e-12);  // up, because y runs down
}

TEST(Plane, UnitedBoxesHoldBothAndIgnoreEmptyOnes) {
  const Box both = united({0, 0, 2, 2}, {5, 1, 6, 9});
  EXPECT_EQ(both.x1, 6);
  EXPECT_EQ(both.y1, 9);
  EXPECT_EQ(united({}, {5, 1, 6, 9}).x0, 5);
}

TEST(Plane, HeightAlongALine) {
  const Polyline line = {{0, 10}, {10, 20}, {20, 10}};
  EXPECT_EQ(height_at(line, -5), 10);
  EXPECT_EQ(height_at(line, 5), 15);
  EXPECT_EQ(height_at(line, 10), 20);
  EXPECT_EQ(height_at(line, 99), 10);
}

TEST(Statistics, MedianOfAny) {
  EXPECT_EQ(median(std::vector<int>{}), 0);
  EXPECT_EQ(median(std::vector<int>{7}), 7);
  EXPECT_EQ(median(std::vector<double>{5, 1, 3}), 3);
  EXPECT_EQ(median(std::vector<int>{4, 1, 3, 2}), 3);
}

TEST(Parallel, EveryItemOnceAndErrorsReachTheCaller) {
  std::vector<int> seen(500, 0);
  parallel_each(500, [&](int i) { ++seen[static_cast<size_t>(i)]; });
  for (int count : seen) EXPECT_EQ(count, 1);
  EXPECT_THROW(parallel_each(50,
                             [](int i) {
                               if (i == 31) throw InputError("item 31");
                             }),
               InputError);
  int inside = 0;
  with_threads(1, [&] { parallel_each(10, [&](int) { ++inside; }); });  // one thread: no race
  EXPECT_EQ(inside, 10);
}

TEST(Random, IsTheSameEverywhere) {
  Random random(1);
  EXPECT_EQ(random.next(), 10451216379200822465ull);
  double sum = 0, squares = 0;
  for (int i = 0; i < 20000; ++i) {
    const double v = random.normal();
    sum += v;
    squares += v * v;
  }
  EXPECT_NEAR(sum / 20000, 0, 0.03);
  EXPECT_NEAR(squares / 20000, 1, 0.05);
  for (int i = 0; i < 1000; ++i) EXPECT_LT(random.index(7), 7);
}

TEST(Statistics, TheWeightedMedianCountsEachValueAsOftenAsItWeighs) {
  EXPECT_EQ(weighted_median({}), 0);
  EXPECT_EQ(weighted_median({{3, 1}, {1, 1}, {2, 1}}), 2);
  EXPECT_EQ(weighted_median({{3, 5}, {1, 1}, {2, 1}}), 3);
  EXPECT_EQ(weighted_median({{7, 0}, {1, 2}}), 1);
}

TEST(Clock, TellsUtcInAFormThatSorts) {
  const std::string first = utc_now(), second = utc_now();
  EXPECT_TRUE(
      Pattern("20[0-9]{2}-[01][0-9]-[0-3][0-9]T[0-2][0-9]:[0-5][0-9]:[0-6][0-9]\\.[0-9]{3}Z")
          .matches(first))
      << first;
  EXPECT_LE(first, second);
}

TEST(Unicode, StringsOfCharactersGoBothWays) {
  for (const char* text : {"", "lamp", "Ærø ß", "लैम्प", "𝔸\u00AD-"})
    EXPECT_EQ(utf8_of(utf32_of(text)), text);
  EXPECT_EQ(utf32_of("a\xff"
                     "b"),
            U"a\uFFFDb");
}

TEST(Unicode, HyphensPartWordsAtLineEnds) {
  for (const char* parted : {"light-", "light\u00AD", "light\u2010", "Licht\u2E17", "ligh\u00AC"})
    EXPECT_TRUE(ends_with_hyphen(utf32_of(parted))) << parted;
  for (const char* whole : {"light", "-", "a-", "12-", "--", "light -", "well-known", ""})
    EXPECT_FALSE(ends_with_hyphen(utf32_of(whole))) << whole;
}

}  // namespace
}  // namespace burnisher
