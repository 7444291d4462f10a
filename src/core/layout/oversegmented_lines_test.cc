#include "layout/oversegmented_lines.h"

#include <gtest/gtest.h>

#include <string>

namespace burnisher::layout {
namespace {

constexpr double kHeight = 20;  // of the letters

// A line with a letter for every character but spaces, on the row with that number.
LetterLine piece(const std::string& text, int x, int row, int height = 20) {
  LetterLine line;
  const int y = 100 + 32 * row;
  for (size_t i = 0; i < text.size(); ++i) {
    if (text[i] == ' ') continue;
    const int at = x + 20 * static_cast<int>(i);
    line.letters.push_back({at, y, at + 16, y + height, 200});
  }
  line.box = {double(line.letters.front().x0), double(y), double(line.letters.back().x1),
              double(y + height)};
  return line;
}

LetterLine full_line(int row, int x = 100) {
  return piece("all the width of it is text here", x, row);  // from x to x + 636
}

std::vector<LetterLine> joined(std::vector<LetterLine> lines,
                               const std::vector<Component>& rules = {}) {
  join_oversegmented(rules, kHeight, lines);
  return lines;
}

TEST(TornLines, OfAJustifiedColumnBecomeOne) {
  const auto lines = joined({full_line(0), piece("Rental", 100, 1), piece("fees", 400, 1),
                             piece("are", 680, 1), full_line(2)});
  ASSERT_EQ(lines.size(), 3u);
  EXPECT_EQ(lines[1].letters.size(), 13u);
  EXPECT_EQ(lines[1].box.x0, 100);
  EXPECT_EQ(lines[1].box.x1, 736);
}

TEST(TornLines, OfSmallPrintBesideLargeAreWords) {
  // "Family nam" ends at 296; a word's space is 18 pixels at most.
  EXPECT_EQ(joined({piece("Family nam", 100, 0), piece("e", 312, 0)}).size(), 1u);
  EXPECT_EQ(joined({piece("Family nam", 100, 0), piece("of", 330, 0)}).size(), 2u);
  EXPECT_EQ(joined({piece("Family nam", 100, 0), piece("e", 312, 0, 34)}).size(), 2u);
  const std::vector<Component> rules = {{302, 60, 305, 400, 1020}};
  EXPECT_EQ(joined({piece("Family nam", 100, 0), piece("e", 312, 0)}, rules).size(), 2u);
}

TEST(TornLines, MayBeTheFirstOrTheLastOfTheirColumn) {
  EXPECT_EQ(joined({piece("Your", 160, 0), piece("choice of", 560, 0), full_line(1)}).size(), 2u);
  EXPECT_EQ(joined({full_line(0), piece("car,", 100, 1), piece("covering", 580, 1)}).size(), 2u);
}

TEST(TornLines, ColumnsBelowAHeadingStayApart) {
  std::vector<LetterLine> lines = {full_line(0)};
  for (int row = 1; row < 5; ++row) {
    lines.push_back(piece("left column", 100, row));
    lines.push_back(piece("the right one", 480, row));
  }
  EXPECT_EQ(joined(lines).size(), 9u);
}

TEST(TornLines, PiecesThatEndShortOfTheColumnStay) {
  EXPECT_EQ(joined({full_line(0), piece("Date", 100, 1), piece("Signature", 400, 1)}).size(), 3u);
}

TEST(TornLines, ARuleBetweenThemPartsThem) {
  const std::vector<Component> rules = {{500, 60, 503, 400, 1020}};
  EXPECT_EQ(joined({full_line(0), piece("car,", 100, 1), piece("covering", 580, 1)}, rules).size(),
            3u);
}

TEST(TornLines, OfAnotherSizeStay) {
  EXPECT_EQ(joined({full_line(0), piece("car,", 100, 1, 30), piece("covering", 580, 1, 30)}).size(),
            3u);
}

TEST(TornLines, LinesOfTheNextColumnAreNoPieces) {
  // Two columns: what stands level at the right goes on beyond this column's edge.
  const auto lines =
      joined({full_line(0), full_line(0, 800), piece("the end.", 100, 1), full_line(1, 800)});
  EXPECT_EQ(lines.size(), 4u);
}

LetterLine led_line(const std::string& text, int row) {
  LetterLine line = piece(text, 100, row);
  line.has_leader = true;
  return line;
}

TEST(TornLines, OfContentsTakeTheNumbersThatTheirLeadersLeadTo) {
  std::vector<LetterLine> lines;
  for (int row = 0; row < 4; ++row) lines.push_back(led_line("The Lamp Room           12", row));
  lines.push_back(piece("Fog signals", 100, 5));
  lines.push_back(piece("17", 580, 5));  // ends where the others do
  lines.push_back(piece("Stores", 100, 6));
  lines.push_back(piece("9", 300, 6));   // does not
  lines.push_back(piece("31", 580, 8));  // stands alone
  std::vector<LetterLine> joined = lines;
  join_leader_lines({}, kHeight, joined);
  ASSERT_EQ(joined.size(), lines.size() - 1);
  EXPECT_EQ(joined[4].letters.size(), 12u);
  EXPECT_TRUE(joined[4].has_leader);
  std::vector<LetterLine> ruled = lines;  // a gutter, as a person set it
  join_leader_lines({{450, 0, 451, 900, 900}}, kHeight, ruled);
  EXPECT_EQ(ruled.size(), lines.size());
  // Numbers of sections before them.
  std::vector<LetterLine> numbered = {piece("2.1", 20, 0), piece("IV", 20, 5),
                                      piece("The keeper wrote", -300, 2)};
  numbered.insert(numbered.end(), lines.begin(), lines.end());
  join_leader_lines({}, kHeight, numbered);
  ASSERT_EQ(numbered.size(), 9u);
  EXPECT_EQ(numbered[0].letters.size(), 16u);  // 2.1 The Lamp Room 12
  EXPECT_EQ(numbered[1].letters.size(), 14u);  // IV Fog signals 17
  // Without leaders, or with few, nothing tells contents from a table.
  lines.erase(lines.begin());
  const size_t before = lines.size();
  join_leader_lines({}, kHeight, lines);
  EXPECT_EQ(lines.size(), before);
}

}  // namespace
}  // namespace burnisher::layout
