#include "export/paragraphs.h"

#include <gtest/gtest.h>

#include "testing/read_page.h"

namespace burnisher {
namespace {

using testing::line_at;
using testing::page_of;

TEST(Paragraphs, SentencesEndWithTheirMarksAlsoInsideQuotes) {
  for (const char* text : {"It rained.", "Who goes?", "Stop!", "He said “no.”", "(see sheet 9.)",
                           "as follows:", "wind; "}) {
    std::string trimmed = text;
    while (trimmed.back() == ' ') trimmed.pop_back();
    EXPECT_TRUE(exporting::ends_sentence(trimmed)) << text;
  }
  for (const char* text : {"", "the lamp", "half-", "oil, gallons,", "“lamp”", ")"})
    EXPECT_FALSE(exporting::ends_sentence(text)) << text;
}

TEST(Paragraphs, MarkersOfListsAreTold) {
  struct Case {
    const char *text, *marker;
    size_t at;
  };
  for (const Case& c : std::vector<Case>{{"• oil", "-", 4},
                                         {"- wicks", "-", 2},
                                         {"– coal", "-", 4},
                                         {"3. Trim the lamp", "3.", 3},
                                         {"12) Wind the clock", "12)", 4},
                                         {"(a) at dusk", "(a)", 4},
                                         {"b) at dawn", "b)", 3},
                                         {"1904. The year", "", 0},
                                         {"-5 degrees", "", 0},
                                         {"A. Rask", "", 0},
                                         {"-", "", 0},
                                         {"", "", 0}}) {
    const auto [marker, at] = exporting::marker_of(c.text);
    EXPECT_EQ(marker, c.marker) << c.text;
    EXPECT_EQ(at, c.at) << c.text;
  }
}

TEST(Paragraphs, SmallLettersGoOn) {
  EXPECT_TRUE(exporting::begins_small("lamp"));
  EXPECT_TRUE(exporting::begins_small("öl"));
  EXPECT_FALSE(exporting::begins_small("Lamp"));
  EXPECT_FALSE(exporting::begins_small("Öl"));
  EXPECT_FALSE(exporting::begins_small("4 lamps"));
  EXPECT_FALSE(exporting::begins_small(""));
}

Block at(double x, double y, const std::vector<std::string>& words) {
  return page_of({line_at(words, x, y)}).blocks[0];
}

TEST(Paragraphs, AColumnIsAsWideAsItsWidestBlockAndEndsAtItsNeighbour) {
  const Block narrow = at(50, 100, {"Lit"}), wide = at(50, 200, {"Relief", "delayed", "again"});
  EXPECT_EQ(exporting::column_right(narrow, {narrow, wide}), wide.lines[0].box.x1);
  const Block other = at(300, 400, {"Calm", "and", "clear", "weather"});  // another left edge
  EXPECT_EQ(exporting::column_right(narrow, {narrow, other}), narrow.lines[0].box.x1);
  const Block beside = at(150, 100, {"Bar."});
  EXPECT_EQ(exporting::column_right(narrow, {narrow, wide, beside}), beside.lines[0].box.x0);
}

TEST(Paragraphs, ALineBreaksOnPurposeWhenTheNextWordHadRoom) {
  const Line address = line_at({"Miss", "Tennick"}, 50, 100),
             next = line_at({"Schoolhouse"}, 50, 150);
  EXPECT_TRUE(exporting::breaks_on_purpose(address, next, 50, 800));
  EXPECT_FALSE(exporting::breaks_on_purpose(address, next, 50, 400));
  EXPECT_FALSE(exporting::breaks_on_purpose(address, Line(), 50, 800));
}

TEST(Paragraphs, WhitePartsBlocksBelowEachOther) {
  const Block upper = at(50, 100, {"for", "the", "year"});
  const Line& last = upper.lines[0];
  EXPECT_FALSE(exporting::parted_by_white(last, at(50, 150, {"with"}), {}));
  EXPECT_TRUE(exporting::parted_by_white(last, at(50, 300, {"with"}), {}));
  EXPECT_FALSE(exporting::parted_by_white(last, at(600, 300, {"with"}), {}));  // another column
  Block rule;
  rule.kind = BlockKind::kSeparator;
  rule.outline = Box{40, 180, 400, 184}.corners();
  EXPECT_FALSE(exporting::parted_by_white(last, at(50, 300, {"with"}), {rule}));
  rule.kind = BlockKind::kNoise;
  EXPECT_TRUE(exporting::parted_by_white(last, at(50, 300, {"with"}), {rule}));
}

}  // namespace
}  // namespace burnisher
