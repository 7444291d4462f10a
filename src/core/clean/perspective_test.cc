// Photographs of pages: sheets taken by a camera whose map is known.

#include "clean/perspective.h"

#include <gtest/gtest.h>

#include <cmath>

#include "clean/sheet_outline.h"
#include "compose/camera.h"
#include "testing/cleaned.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::cleaned;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::scan_of;
using compose::Camera;
using compose::CameraSettings;

constexpr double kDegree = 3.14159265358979323846 / 180;
constexpr int kWidth = 1200, kHeight = 1600;

CameraSettings tilted(double x, double y, double skew = 0) {
  CameraSettings settings;
  settings.tilt_x = x;
  settings.tilt_y = y;
  settings.skew = skew;
  settings.margin = 0.06;
  settings.bed = 0.8f;
  return settings;
}

PrintedPage printed(int lines) {
  PrintedPage page(kWidth, kHeight);
  page.print_column(prose(lines, 60), 150, 180, 34, 44);
  return page;
}

Scan photographed(const PrintedPage& page, const Camera& camera) {
  const Gray flat = page.picture();
  FloatImage ink(kWidth, kHeight);
  for (size_t i = 0; i < ink.samples().size(); ++i)
    ink.samples()[i] = 1 - static_cast<float>(flat.samples()[i]) / 255;
  const FloatImage seen = camera.seen(ink);
  Gray picture(seen.width(), seen.height());
  for (size_t i = 0; i < picture.samples().size(); ++i)
    picture.samples()[i] = static_cast<uint8_t>(235 - 210 * seen.samples()[i]);
  return scan_of(std::move(picture), 200);
}

// Degrees by which what was level or upright on the sheet stands otherwise on the page.
double largest_lean(const Camera& camera, const PlaneMap& to_scan) {
  double most = 0;
  const auto on_page = [&](double x, double y) { return to_scan.back(camera.to_scan({x, y})); };
  for (const double share : {0.1, 0.5, 0.9}) {
    const Point level =
        on_page(0.9 * kWidth, share * kHeight) - on_page(0.1 * kWidth, share * kHeight);
    const Point upright =
        on_page(share * kWidth, 0.9 * kHeight) - on_page(share * kWidth, 0.1 * kHeight);
    most = std::max({most, std::fabs(std::atan2(level.y, level.x)) / kDegree,
                     std::fabs(std::atan2(upright.x, upright.y)) / kDegree});
  }
  return most;
}

class Tilts : public ::testing::TestWithParam<CameraSettings> {};

TEST_P(Tilts, AreTakenOutAndTheGroundIsCutOff) {
  const Camera camera(kWidth, kHeight, GetParam());
  const CleanResult result = cleaned(photographed(printed(28), camera), {});
  EXPECT_GT(result.perspective, 0.7);
  EXPECT_LT(largest_lean(camera, result.page.geometry.to_scan), 0.35);
  EXPECT_TRUE(result.cropped);
  const double shape = static_cast<double>(result.page.height) / result.page.width;
  EXPECT_NEAR(shape, static_cast<double>(kHeight) / kWidth, 0.06);
}

INSTANTIATE_TEST_SUITE_P(Cameras, Tilts,
                         ::testing::Values(tilted(10, 0), tilted(0, -10), tilted(8, 7, 3),
                                           tilted(-12, 9, -5), tilted(15, 15), tilted(3, -4, 8)));

}  // namespace
}  // namespace burnisher::clean
