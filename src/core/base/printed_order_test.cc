#include "base/printed_order.h"

#include <gtest/gtest.h>

#include "base/unicode.h"

namespace burnisher {
namespace {

std::string printed(const std::string& text, bool right_to_left) {
  std::vector<char32_t> seen;
  for (const PrintedCharacter& c : printed_order(decode_utf8(text), right_to_left))
    seen.push_back(c.character);
  return encode_utf8(seen);
}

TEST(PrintedOrder, OfALineFromRightToLeftIsReversed) {
  EXPECT_EQ(printed("אבג דה", true), "הד גבא");
  EXPECT_EQ(printed("(אב)", true), "(בא)");
}

TEST(PrintedOrder, FiguresAndLatinWordsKeepTheirOwn) {
  EXPECT_EQ(printed("שנת 1873 בים", true), "םיב 1873 תנש");
  EXPECT_EQ(printed("ספר Skerrow Light כאן", true), "ןאכ Skerrow Light רפס");
  EXPECT_EQ(printed("عام ١٨٧٣", true), "١٨٧٣ ماع");
}

TEST(PrintedOrder, MarksFollowTheirLetter) {
  // Shin with shin dot and qamats, then lamed.
  EXPECT_EQ(printed("ש\u05C1\u05B8ל", true), "לש\u05C1\u05B8");
}

TEST(PrintedOrder, TheSignIStandsBeforeItsConsonants) {
  EXPECT_EQ(printed("हिन्दी", false), "िहन्दी");
  EXPECT_EQ(printed("शक्ति", false), "शिक्त");
  EXPECT_EQ(printed("पि", false), "िप");
}

TEST(LogicalOrder, UndoesThePrintedOrder) {
  const struct {
    const char* text;
    bool right_to_left;
  } cases[] = {
      {"The keeper of the light", false},
      {"אבג דה (ו) זח.", true},
      {"שנת 1873, עמ' 12-14", true},
      {"מחיר 12.50 ₪ בלבד", true},
      {"ספר Skerrow Light Board 1873 כאן", true},
      {"في عام ١٨٧٣ كتب الحارس", true},
      {"بتاريخ 12/05/1873 في Skerrow", true},
      {"في الصفحات 12-14 من الكتاب", true},
      {"ش\u0651\u064E 3.5 كم", true},
      {"ש\u05C1\u05B8ל\u05D5\u05B9ם", true},
      {"15% מהספר", true},
      {"A page of Hebrew: שלום עולם, and on", false},
      {"हिन्दी में लिखित शक्ति क़िला", false},
      {"वर्ष १८७३ की चिट्ठी", false},
  };
  for (const auto& c : cases) {
    const std::vector<char32_t> text = decode_utf8(c.text);
    std::vector<char32_t> seen;
    std::vector<size_t> origin;
    for (const PrintedCharacter& p : printed_order(text, c.right_to_left)) {
      seen.push_back(p.character);
      origin.push_back(p.source);
    }
    std::vector<size_t> sources;
    EXPECT_EQ(encode_utf8(logical_order(seen, c.right_to_left, &sources)), c.text);
    ASSERT_EQ(sources.size(), text.size());
    for (size_t i = 0; i < sources.size(); ++i) EXPECT_EQ(origin[sources[i]], i) << c.text;
  }
}

TEST(DirectionRuns, AreGivenFromTheLeft) {
  const auto runs = direction_runs(decode_utf8("אב 12 גד"), true);
  ASSERT_EQ(runs.size(), 3u);
  EXPECT_TRUE(runs[0].right_to_left);
  EXPECT_EQ(runs[1].from, 3u);
  EXPECT_EQ(runs[1].count, 2u);
  EXPECT_FALSE(runs[1].right_to_left);
  EXPECT_EQ(runs[2].from, 0u);
}

}  // namespace
}  // namespace burnisher
