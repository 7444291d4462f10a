#include "recognise/square_lines.h"

#include <gtest/gtest.h>

#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

// Characters of a line whose squares have this side, standing on `baseline` (pixels): bars that
// fill 0.93 of the square, 0.08 of it below the baseline.
void print(Gray& page, double side, double baseline, int count) {
  for (int i = 0; i < count; ++i) {
    const int x0 = static_cast<int>(40 + i * side), x1 = static_cast<int>(x0 + 0.9 * side);
    const int y1 = static_cast<int>(baseline + 0.08 * side),
              y0 = static_cast<int>(y1 - 0.93 * side);
    for (int y = y0; y < y1; ++y)
      for (int x = x0; x < x1; ++x)
        if ((x - x0) % 8 < 3 || y - y0 < 3 || y1 - y < 4) page.row(y)[x] = 20;
  }
}

LinePlace place(double baseline, double x_height, int count, double side) {
  return {{{40, baseline}, {40 + count * side, baseline}}, x_height};
}

TEST(SquareLines, TakeTheirSizeFromTheirInk) {
  Gray page(1000, 400, 240);
  print(page, 40, 120, 20);
  print(page, 40, 200, 20);
  print(page, 40, 280, 2);
  // As layout has them: the feet for a baseline, and heights that are off by a third.
  const auto placed = placed_in_squares(
      page, {place(123, 25, 20, 40), place(203, 25, 20, 40), place(283, 25, 2, 40)});
  for (size_t i = 0; i < placed.size(); ++i) {
    EXPECT_NEAR(placed[i].x_height, 20, 1) << i;
    EXPECT_NEAR(placed[i].baseline.front().y, 120 + 80 * static_cast<double>(i), 1.5) << i;
    EXPECT_NEAR(placed[i].baseline.back().y, 120 + 80 * static_cast<double>(i), 1.5) << i;
  }
}

TEST(SquareLines, GoByTheUsualRatioWhereNoneTells) {
  const Gray page(300, 200, 240);
  const auto placed = placed_in_squares(page, {place(100, 20, 2, 32)});
  ASSERT_EQ(placed.size(), 1u);
  EXPECT_NEAR(placed[0].x_height, 16, 0.01);
  EXPECT_TRUE(placed_in_squares(page, {}).empty());
}

std::vector<ReadCharacter> read_at(const std::u32string& text, const std::vector<int>& peaks,
                                   const std::vector<double>& sure) {
  std::vector<ReadCharacter> characters;
  for (size_t i = 0; i < text.size(); ++i) {
    ReadCharacter c;
    c.character = text[i];
    c.peak_frame = peaks[i];
    c.confidence = sure[i];
    characters.push_back(c);
  }
  return characters;
}

std::string text_of(const std::vector<ReadCharacter>& characters) {
  std::vector<char32_t> text;
  for (const ReadCharacter& c : characters) text.push_back(c.character);
  return encode_utf8(text);
}

const StripFrame kSquares{48, 18, 37};  // a square is nine frames wide

TEST(SquareLines, HoldOneCharacterInASquare) {
  EXPECT_EQ(text_of(as_squares(read_at(U"未末木", {4, 6, 13}, {0.5, 0.6, 0.9}), kSquares)), "末木");
  EXPECT_EQ(text_of(as_squares(read_at(U"未末木", {4, 6, 13}, {0.7, 0.6, 0.9}), kSquares)), "未木");
  // Letters and figures are narrower.
  EXPECT_EQ(text_of(as_squares(read_at(U"ill1", {4, 6, 8, 11}, {1, 1, 1, 1}), kSquares)), "ill1");
}

TEST(SquareLines, HaveNoBlanksBesideTheirSigns) {
  const auto read = [](const std::u32string& text) {
    std::vector<int> peaks;
    for (size_t i = 0; i < text.size(); ++i) peaks.push_back(static_cast<int>(9 * i));
    return text_of(as_squares(read_at(text, peaks, std::vector<double>(text.size(), 1)), kSquares));
  };
  EXPECT_EQ(read(U"灯。 風"), "灯。風");
  EXPECT_EQ(read(U"灯 「風"), "灯「風");
  EXPECT_EQ(read(U"第一章 灯"), "第一章 灯");  // two squares apart
  EXPECT_EQ(text_of(as_squares(read_at(U"ぬか 漬", {4, 13, 17, 22}, {1, 1, 1, 1}), kSquares)),
            "ぬか漬");
  EXPECT_EQ(read(U"灯 Lit 4"), "灯 Lit 4");
}

}  // namespace
}  // namespace burnisher::recognise
