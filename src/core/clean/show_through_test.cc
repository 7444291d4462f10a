// Print of the other side, as `even` takes it out of the picture.

#include <gtest/gtest.h>

#include "clean/background.h"
#include "raster/blur.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;

Gray printed(double first_line, double size) {
  PrintedPage page(1000, 700);
  page.print_column(prose(8, 44), 80, first_line, size, 1.8 * size);
  return page.picture();
}

// `strength`: of the other side's print, mirrored and blurred; 0: none shows.
Gray scan_with(const Gray& front, float strength) {
  const Gray back = printed(130, 36);
  FloatImage verso(back.width(), back.height());
  for (int y = 0; y < back.height(); ++y) {
    for (int x = 0; x < back.width(); ++x)
      verso.row(y)[x] = static_cast<float>(255 - back.row(y)[back.width() - 1 - x]) / 255;
  }
  gaussian_blur(verso, 2.2);
  Gray scan(front.width(), front.height());
  for (int y = 0; y < scan.height(); ++y) {
    for (int x = 0; x < scan.width(); ++x) {
      const float light = 20 + 0.8f * static_cast<float>(front.row(y)[x]);
      scan.row(y)[x] = static_cast<uint8_t>(light * (1 - strength * verso.row(y)[x]) +
                                            static_cast<float>((x * 7 + y * 13) % 5));
    }
  }
  return scan;
}

CleanResult evened(Gray scan) {
  CleanSettings settings;
  settings.even = true;
  return cleaned(scan_of(std::move(scan), 200), settings);
}

int darker_than(const Gray& picture, int level) {
  return static_cast<int>(std::count_if(picture.samples().begin(), picture.samples().end(),
                                        [&](uint8_t v) { return v < level; }));
}

class ShowThrough : public ::testing::TestWithParam<float> {};

TEST_P(ShowThrough, GoesAndThePrintStays) {
  const Gray front = printed(90, 36);
  const CleanResult with = evened(scan_with(front, GetParam())),
                    without = evened(scan_with(front, 0));
  const auto &left = std::get<Gray>(with.picture), &right = std::get<Gray>(without.picture);
  EXPECT_NEAR(darker_than(left, 150), darker_than(right, 150), 0.04 * darker_than(right, 150));
  // Soft rests may stay at the print's edges only.
  EXPECT_LT(darker_than(left, 235) - darker_than(right, 235), 0.25 * darker_than(right, 235));
}

INSTANTIATE_TEST_SUITE_P(Strengths, ShowThrough, ::testing::Values(0.2f, 0.35f, 0.5f));

TEST(EvenPaper, LeavesFaintPrintWhole) {
  const Gray front = printed(90, 36);
  Gray faint = front.clone();
  for (uint8_t& v : faint.samples()) v = static_cast<uint8_t>(225 - (255 - v) * 60 / 255);
  const CleanResult result = evened(std::move(faint));
  const auto& picture = std::get<Gray>(result.picture);
  // As many pixels lie beyond half of the way to the ink as did on the white page.
  EXPECT_NEAR(darker_than(picture, 250 - 34), darker_than(front, 128),
              0.2 * darker_than(front, 128));
}

TEST(EvenPaper, LeavesPicturesWithTheirLights) {
  Gray page = printed(90, 30);
  for (int y = 450; y < 650; ++y) {
    for (int x = 300; x < 700; ++x)
      page.row(y)[x] = static_cast<uint8_t>(x / 40 % 3 == 0 ? 100 : 40);
  }
  const CleanResult result = evened(scan_with(page, 0));
  const auto& picture = std::get<Gray>(result.picture);
  EXPECT_LT(picture.row(550)[500], 160);  // a light stripe
  EXPECT_LT(picture.row(550)[540], 90);
}

TEST(Whiten, EmptiesAnyPicture) {
  CleanResult result = evened(scan_with(printed(90, 36), 0));
  whiten(result);
  EXPECT_EQ(darker_than(std::get<Gray>(result.picture), 250), 0);
  EXPECT_EQ(burnisher::testing::ink_pixels(result.ink), 0);
}

}  // namespace
}  // namespace burnisher::clean
