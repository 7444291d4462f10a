// Rules, holes, broken strokes, uneven paper: what goes, and what must stay.

#include <gtest/gtest.h>

#include <cmath>

#include "clean/background.h"
#include "clean/borders.h"
#include "clean/mend.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::ink_pixels;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;

PrintedPage stores_list() {
  PrintedPage page(1600, 1200);
  page.print_column(prose(10, 50), 150, 200, 44, 80);
  return page;
}

Bitonal ink_of(const PrintedPage& page, double degrees = 0) {
  return to_bitonal(page.picture(degrees), 140);
}

TEST(RulesFound, LevelUprightAndSlightlyLeaningOnes) {
  for (const double degrees : {0.0, 0.3, -0.3}) {
    PrintedPage page = stores_list();
    page.rule(100, 1050, 1500, 1050, 3).rule(100, 100, 100, 1050, 3).rule(150, 1100, 1400, 1100, 6);
    EXPECT_EQ(rules_of(ink_of(page, degrees), 20).list.size(), 3u) << degrees;
  }
}

TEST(RulesFound, PrintIsNoRule) {
  EXPECT_TRUE(rules_of(ink_of(stores_list()), 20).list.empty());
  PrintedPage dashes(1600, 400);
  dashes.print({"Wick — lamp — oil — glass — 12 – 14", 100, 200, 44});
  EXPECT_TRUE(rules_of(ink_of(dashes), 20).list.empty());
}

TEST(RulesFound, AnUnderlineThatCrossesDescendersLeavesThem) {
  PrintedPage plain(1200, 300), underlined(1200, 300);
  for (PrintedPage* page : {&plain, &underlined}) page->print({"jumping gypsy quay", 100, 150, 60});
  underlined.rule(90, 158, 700, 158, 4);
  Bitonal ink = ink_of(underlined);
  const FoundRules found = rules_of(ink, 28);
  ASSERT_EQ(found.list.size(), 1u);
  for (int y = 0; y < ink.height(); ++y) {
    for (int x = 0; x < ink.width(); ++x) {
      if (found.pixels.ink(x, y)) ink.set_ink(x, y, false);
    }
  }
  const Bitonal letters = ink_of(plain);
  int lost = 0, left_over = 0;
  for (int y = 0; y < ink.height(); ++y) {
    for (int x = 0; x < ink.width(); ++x) {
      lost += letters.ink(x, y) && !ink.ink(x, y);
      left_over += ink.ink(x, y) && !letters.ink(x, y);
    }
  }
  EXPECT_LT(lost, 0.06 * ink_pixels(letters));  // the level tails of g and y lie in the rule
  EXPECT_LT(left_over, 0.2 * 610 * 4);
}

TEST(RulesRemoved, UnreadOnesStayInThePictureAndGoFromWhatIsRead) {
  PrintedPage page = stores_list();
  page.rule(100, 1050, 1500, 1050, 4).rule(80, 100, 80, 1100, 4);
  const Scan scan = scan_of(page.picture());
  CleanSettings settings;
  settings.rules = Rules::kUnread;
  const CleanResult unread = cleaned(scan, settings);
  EXPECT_EQ(unread.rules.size(), 2u);
  EXPECT_LT(std::get<Gray>(unread.picture).row(500)[80], 80);
  EXPECT_GT(unread.scan->row(500)[80], 200);
  EXPECT_FALSE(unread.ink.ink(800, 1050));
  settings.rules = Rules::kRemove;
  EXPECT_GT(std::get<Gray>(cleaned(scan, settings).picture).row(1050)[800], 200);
  settings.rules = Rules::kKeep;
  EXPECT_TRUE(cleaned(scan, settings).ink.ink(800, 1050));
}

TEST(Holes, PunchedOnesAreFilledAndFullStopsAreNot) {
  PrintedPage page = stores_list();
  page.disc(60, 300, 34).disc(60, 900, 34);  // 5.8 mm at 300 dpi
  const CleanResult result = cleaned(scan_of(page.picture()));
  EXPECT_EQ(result.holes, 2);
  EXPECT_GT(std::get<Gray>(result.picture).row(300)[60], 200);
  CleanSettings settings;
  settings.holes = false;
  EXPECT_LT(std::get<Gray>(cleaned(scan_of(page.picture()), settings).picture).row(300)[60], 60);
}

TEST(Holes, ALargeRoundLetterIsNone) {
  PrintedPage page = stores_list();
  page.print({"O Q", 60, 1150, 110});
  EXPECT_EQ(cleaned(scan_of(page.picture())).holes, 0);
}

// The letters with a slit of `gap` pixels through all strokes at `height`.
Bitonal slit(const PrintedPage& page, int height, int gap) {
  Bitonal ink = ink_of(page);
  for (int y = height; y < height + gap; ++y) {
    for (int x = 0; x < ink.width(); ++x) ink.set_ink(x, y, false);
  }
  return ink;
}

TEST(Mending, JoinsWhatANarrowSlitParted) {
  PrintedPage page(900, 200);
  page.print({"lamp house", 60, 130, 80, "DejaVu Sans"});
  const size_t whole = components_of(ink_of(page)).list.size();
  Bitonal ink = slit(page, 110, 2);
  ASSERT_GT(components_of(ink).list.size(), whole + 5);
  EXPECT_GT(mend(44, ink), 0);
  EXPECT_LE(components_of(ink).list.size(), whole + 1);
}

TEST(Mending, ClosesNoCountersAndJoinsNoLetters) {
  PrintedPage page(900, 200);
  page.print({"ecceco rn: i.j; \"u\"", 60, 130, 80});
  Bitonal ink = ink_of(page);
  const int before = ink_pixels(ink);
  mend(44, ink);
  EXPECT_EQ(ink_pixels(ink), before);
}

Gray shaded(const Gray& page, double strength) {
  Gray out = page.clone();
  for (int y = 0; y < out.height(); ++y) {
    for (int x = 0; x < out.width(); ++x) {
      const double light = 1 - strength * x / out.width();
      out.row(y)[x] = static_cast<uint8_t>(out.row(y)[x] * light);
    }
  }
  return out;
}

TEST(PaperSurface, FollowsTheLightAndBridgesTheInk) {
  const Paper paper = paper_of(shaded(stores_list().picture(), 0.5), 20);
  const FloatImage& light = paper.light;
  const int row = light.height() / 2;
  EXPECT_NEAR(light.row(row)[1], 255, 12);
  EXPECT_NEAR(light.row(row)[light.width() / 2], 191, 12);
  EXPECT_NEAR(light.row(row)[light.width() - 2], 128, 12);
}

TEST(EvenPaper, ShadeGoesAndPrintKeepsItsContrast) {
  Gray page = shaded(stores_list().picture(), 0.5);
  even_out(paper_of(page, 20), page);
  int dark = 0, grey = 0, paper = 0;
  for (uint8_t v : page.samples()) (v < 90 ? dark : v < 235 ? grey : paper) += 1;
  EXPECT_GT(dark, 15000);
  EXPECT_LT(grey, dark);
  EXPECT_GT(paper, 0.9 * 1600 * 1200);
}

TEST(EvenPaper, ColoursKeepTheirHue) {
  Colour page(600, 400);
  for (int y = 0; y < 400; ++y) {
    for (int x = 0; x < 600; ++x) {
      const bool red = x > 200 && x < 240 && y > 100 && y < 140;
      const uint8_t light = static_cast<uint8_t>(220 - x / 10);
      uint8_t* p = page.row(y) + 3 * x;
      p[0] = red ? 160 : light;
      p[1] = red ? 20 : light;
      p[2] = red ? 20 : static_cast<uint8_t>(light - 30);
    }
  }
  even_out(paper_of(to_gray(Picture(page.clone())), 20), page);
  const uint8_t* p = page.row(120) + 3 * 220;
  EXPECT_GT(p[0], p[1] + 100);
  const uint8_t* white = page.row(300) + 3 * 500;
  EXPECT_NEAR(white[0], white[2], 12);
  EXPECT_GT(white[2], 235);
}

}  // namespace
}  // namespace burnisher::clean
