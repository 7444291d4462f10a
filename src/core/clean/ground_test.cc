// Sheets that lie crookedly on a dark bed.
#include "clean/ground.h"

#include <gtest/gtest.h>

#include <cmath>

#include "clean/spread.h"
#include "raster/convert.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;

constexpr int kBed = 22;
constexpr double kTurn = 4.5;  // degrees counter-clockwise
const double kSine = std::sin(kTurn * 3.14159265358979 / 180),
             kCosine = std::cos(kTurn * 3.14159265358979 / 180);

// A sheet with a line at its very top and one at its foot, turned on the bed. `tear`: how far its
// edges stray, pixels.
Gray crooked_sheet(double tear) {
  PrintedPage page(1400, 1700);
  page.print({"The Lightkeeper", 420, 160, 60});
  page.print_column(prose(20, 50), 200, 330, 40, 56);
  page.print({"[ 104 ]", 640, 1600, 40});
  Gray scan = page.picture(kTurn);
  for (int y = 0; y < scan.height(); ++y) {
    for (int x = 0; x < scan.width(); ++x) {
      // where that pixel is on the sheet, which is turned about its middle
      const double dx = x - 700, dy = y - 850;
      const double u = kCosine * dx - kSine * dy, v = kSine * dx + kCosine * dy;
      const double stray = tear * std::sin((u + v) / 37.0);
      if (std::fabs(u) > 640 + stray || std::fabs(v) > 790 + stray) scan.row(y)[x] = kBed;
    }
  }
  return scan;
}

int dark_pixels(const Gray& picture) {
  int dark = 0;
  for (const uint8_t v : picture.samples()) dark += v < 60;
  return dark;
}

// Ink above and below the column of prose.
std::pair<int, int> ink_at_the_ends(const CleanResult& page) {
  int head = 0, foot = 0;
  const Affine way = page.page.geometry.to_scan.plane().affine;
  for (int y = 0; y < page.ink.height(); ++y) {
    for (int x = 0; x < page.ink.width(); ++x) {
      if (!page.ink.ink(x, y)) continue;
      const Point p = way({double(x), double(y)}) - Point{700, 850};
      const double v = kSine * p.x + kCosine * p.y;
      head += v < -650;
      foot += v > 700;
    }
  }
  return {head, foot};
}

TEST(CrookedSheets, LoseNoLineByTheCropping) {
  for (const double tear : {0.0, 7.0}) {
    const CleanResult page = cleaned(scan_of(crooked_sheet(tear)));
    const auto [head, foot] = ink_at_the_ends(page);
    EXPECT_GT(head, 1500) << tear;
    EXPECT_GT(foot, 300) << tear;
    EXPECT_TRUE(page.cropped);
    EXPECT_NEAR(page.page.width, 1280, 40) << tear;
    EXPECT_NEAR(page.page.height, 1580, 40) << tear;
    EXPECT_NEAR(page.skew, kTurn, 0.1);
  }
}

TEST(CrookedSheets, TakeNoneOfTheBedAlong) {
  const Gray scan = crooked_sheet(7);
  const CleanResult page = cleaned(scan_of(scan.clone()));
  const Gray& picture = std::get<Gray>(page.picture);
  // Letters are a sixteenth of a page at most; the bed was an eighth of the scan.
  EXPECT_LT(dark_pixels(picture), 0.06 * picture.width() * picture.height());
  for (int x = 0; x < picture.width(); x += 5) EXPECT_GT(picture.row(1)[x], 150) << x;
}

TEST(CrookedSheets, KeepTheirColourWhereTheBedWas) {
  const Gray gray = crooked_sheet(0);
  Colour scan(gray.width(), gray.height());
  for (size_t i = 0; i < gray.samples().size(); ++i) {
    const int v = gray.samples()[i];
    scan.samples()[3 * i] = static_cast<uint8_t>(v);
    scan.samples()[3 * i + 1] = static_cast<uint8_t>(v * 230 / 255);
    scan.samples()[3 * i + 2] = static_cast<uint8_t>(v * 190 / 255);
  }
  const Reduced small(gray, 1);
  Picture picture = std::move(scan);
  paint_ground(dark_ground(sheet_outline(small.picture()), small.picture()), small, picture);
  const uint8_t* corner = std::get<Colour>(picture).row(4) + 3 * 4;
  EXPECT_NEAR(corner[0], 255, 3);
  EXPECT_NEAR(corner[1], 230, 3);
  EXPECT_NEAR(corner[2], 190, 3);
}

TEST(CrookedSheets, APictureAtTheEdgeIsNoBed) {
  Gray scan = crooked_sheet(0);
  const Reduced dark(scan, 1);
  EXPECT_EQ(dark_ground(sheet_outline(dark.picture()), dark.picture()).edges(), 4);
  // Beyond the upper edge it is as light as dark: a photograph.
  for (int y = 0; y < 400; ++y) {
    for (int x = 0; x < scan.width(); ++x) {
      uint8_t& v = scan.row(y)[x];
      if (v == kBed && (x / 40 + y / 8) % 3 == 0) v = 230;
    }
  }
  const Reduced small(scan, 1);
  EXPECT_FALSE(dark_ground(sheet_outline(small.picture()), small.picture()).top.has_value());
}

// Columns of figures in a box, wider than high, with a broad gap in the middle.
TEST(Folds, AreNoneBetweenTheColumnsOfATable) {
  PrintedPage page(2000, 1400);
  for (int column = 0; column < 6; ++column) {
    for (int row = 0; row < 18; ++row)
      page.print({"104.8", 200 + 300.0 * column, 250 + 56.0 * row, 40});
  }
  const auto pages = clean(scan_of(page.picture()), {});
  EXPECT_EQ(pages.size(), 1u);
}

TEST(Folds, AreNoneUnderARuleThatGoesOverThem) {
  const auto parts = [](bool ruled) {
    PrintedPage page(2800, 1700);
    page.print_column(prose(24, 44), 150, 250, 40, 56);
    page.print_column(prose(24, 44), 1560, 250, 40, 56);
    if (ruled) page.rule(150, 180, 2500, 180, 4);
    return clean(scan_of(page.picture()), {}).size();
  };
  EXPECT_EQ(parts(false), 2u);
  EXPECT_EQ(parts(true), 1u);
}

}  // namespace
}  // namespace burnisher::clean
