#include "score/ink_score.h"

#include <gtest/gtest.h>

namespace burnisher::score {
namespace {

Bitonal drawn(const std::vector<std::string>& rows, int zoom = 1) {
  Bitonal ink(static_cast<int>(rows[0].size()) * zoom, static_cast<int>(rows.size()) * zoom);
  for (int y = 0; y < ink.height(); ++y)
    for (int x = 0; x < ink.width(); ++x)
      ink.set_ink(x, y, rows[static_cast<size_t>(y / zoom)][static_cast<size_t>(x / zoom)] == '#');
  return ink;
}

const std::vector<std::string> kTwo = {"..........", ".###..###.", ".#.#..#.#.", ".###..###.",
                                       ".........."};

TEST(InkScore, ThePrintedInkItselfIsPerfect) {
  const Bitonal ink = drawn(kTwo, 4);
  const InkScore score = score_ink(ink, ink, 4);
  EXPECT_EQ(score.f_measure(), 1);
  EXPECT_EQ(score.pseudo_f_measure(), 1);
  EXPECT_EQ(score.drd(), 0);
  EXPECT_EQ(score.letters, 2);
  EXPECT_EQ(score.breaks + score.merges + score.lost + score.strewn, 0);
}

TEST(InkScore, BrokenJoinedLostAndStrewnLettersAreCounted) {
  const Bitonal printed = drawn(kTwo, 4);
  const Bitonal broken =
      drawn({"..........", ".#.#..###.", ".#.#..#.#.", ".#.#..###.", ".........."}, 4);
  EXPECT_EQ(score_ink(broken, printed, 4).breaks, 1);
  const Bitonal joined =
      drawn({"..........", ".########.", ".#.#..#.#.", ".###..###.", ".........."}, 4);
  EXPECT_EQ(score_ink(joined, printed, 4).merges, 1);
  EXPECT_EQ(score_ink(joined, printed, 4).per_thousand(1), 500);
  const Bitonal lost =
      drawn({"#.........", ".###......", ".#.#......", ".###......", "........##"}, 4);
  const InkScore score = score_ink(lost, printed, 4);
  EXPECT_EQ(score.lost, 1);
  EXPECT_EQ(score.strewn, 1);  // the first dot touches a letter, corner to corner
}

TEST(InkScore, AHairlineCountsMoreByItsSkeletonThanByItsPixels) {
  const Bitonal printed = drawn({"............", ".####..####.", ".####..####.", ".##########.",
                                 ".####..####.", ".####..####.", "............"},
                                2);
  const Bitonal without = drawn({"............", ".####..####.", ".####..####.", ".####..####.",
                                 ".####..####.", ".####..####.", "............"},
                                2);
  const InkScore score = score_ink(without, printed, 4);
  EXPECT_LT(score.pseudo_f_measure(), score.f_measure());
  EXPECT_GT(score.drd(), 0);
  InkScore twice = score;
  twice.add(score);
  EXPECT_EQ(twice.letters, 2 * score.letters);
  EXPECT_NEAR(twice.f_measure(), score.f_measure(), 1e-12);
  EXPECT_NEAR(twice.drd(), score.drd(), 1e-12);
}

TEST(Thinned, LeavesOnePixelAndKeepsWhatHangsTogether) {
  const Bitonal bar = drawn({"........", ".######.", ".######.", ".######.", "........"}, 3);
  const Bitonal thin = thinned(bar);
  int most = 0, all = 0;
  for (int x = 0; x < thin.width(); ++x) {
    int column = 0;
    for (int y = 0; y < thin.height(); ++y) column += thin.ink(x, y);
    most = std::max(most, column);
    all += column;
  }
  EXPECT_LE(most, 2);
  EXPECT_GT(all, 6);
  EXPECT_LT(all, 25);
}

}  // namespace
}  // namespace burnisher::score
