#include "base/plane_map.h"

#include <gtest/gtest.h>

#include <cmath>

namespace burnisher {
namespace {

// A page whose lines sag by up to ten pixels in the middle.
std::shared_ptr<const DisplacementField> sagging() {
  auto bend = std::make_shared<DisplacementField>();
  bend->step = 100;
  bend->columns = 11;
  bend->rows = 3;
  for (int row = 0; row < bend->rows; ++row) {
    for (int column = 0; column < bend->columns; ++column)
      bend->down.push_back(static_cast<float>(10 * std::sin(3.14159265 * column / 10)));
  }
  return bend;
}

TEST(PlaneMap, WithoutAnythingLeavesPointsWhereTheyAre) {
  const PlaneMap map;
  EXPECT_TRUE(map.is_identity());
  EXPECT_EQ(map({3, 4}).x, 3);
  EXPECT_EQ(map.back({3, 4}).y, 4);
  EXPECT_EQ(map.scale({3, 4}), 1);
}

TEST(PlaneMap, BendsMoveTheMiddleDown) {
  const PlaneMap map(Affine{}, sagging());
  EXPECT_FALSE(map.is_identity());
  EXPECT_NEAR(map({0, 50}).y, 50, 1e-6);
  EXPECT_NEAR(map({500, 50}).y, 60, 1e-4);
  EXPECT_NEAR(map({500, 50}).x, 500, 1e-9);
  EXPECT_NEAR(map({550, 50}).y, 50 + 10 * (1 + std::sin(3.14159265 * 0.6)) / 2, 1e-3);
}

TEST(PlaneMap, GoesBackTheWayItCame) {
  const PlaneMap map(Affine::shift(20, -7) * Affine::turn(3), sagging());
  for (const Point p : {Point{10, 20}, {480, 130}, {990, 190}, {-30, 300}}) {
    const Point back = map.back(map(p));
    EXPECT_NEAR(back.x, p.x, 0.01);
    EXPECT_NEAR(back.y, p.y, 0.01);
  }
}

TEST(PlaneMap, BeyondTheBendItsEdgeGoesOn) {
  const auto bend = sagging();
  EXPECT_NEAR(bend->at({500, -1000}), bend->at({500, 0}), 1e-6);
  EXPECT_NEAR(bend->at({500, 5000}), bend->at({500, 200}), 1e-6);
  EXPECT_NEAR(bend->largest(), 10, 1e-4);
}

TEST(PlaneMap, ShiftedIsTheMapOfAPart) {
  const PlaneMap map(Affine::turn(2), sagging());
  const PlaneMap part = shifted(map, 100, 0);
  const Point whole = map({340, 55}), same = part({240, 55});
  EXPECT_NEAR(whole.x, same.x, 1e-6);
  EXPECT_NEAR(whole.y, same.y, 0.5);
}

TEST(PlaneMap, TurningKeepsTheScale) {
  EXPECT_NEAR(PlaneMap(Affine::turn(33)).scale({9, 9}), 1, 1e-9);
  EXPECT_NEAR(PlaneMap(Affine{2, 0, 0, 0, 2, 0}).scale({9, 9}), 2, 1e-9);
}

Projective tilted() {
  return {Affine{0.97, 0.06, 12, -0.04, 1.02, 30}, 8e-5, -5e-5};
}

TEST(PlaneMap, AHomographyGoesBackTheWayItCame) {
  const PlaneMap map(tilted(), sagging());
  EXPECT_FALSE(map.is_affine());
  for (const Point p : {Point{10, 20}, {480, 130}, {990, 190}}) {
    const Point back = map.back(map(p));
    EXPECT_NEAR(back.x, p.x, 0.01);
    EXPECT_NEAR(back.y, p.y, 0.01);
  }
}

TEST(PlaneMap, HomographiesAreJoined) {
  const Projective first = tilted(), second{Affine::turn(3), -4e-5, 9e-5};
  const Projective joined = first * second;
  for (const Point p : {Point{10, 20}, {480, 730}, {990, 190}}) {
    EXPECT_NEAR(joined(p).x, first(second(p)).x, 1e-9);
    EXPECT_NEAR(joined(p).y, first(second(p)).y, 1e-9);
  }
  EXPECT_NEAR((first * first.inverse())({500, 600}).x, 500, 1e-9);
}

TEST(PlaneMap, TheScaleOfAHomographyIsThatOfThePlace) {
  const PlaneMap map(tilted());
  for (const Point p : {Point{10, 20}, {900, 700}}) {
    const Point right = map({p.x + 0.01, p.y}) - map(p), down = map({p.x, p.y + 0.01}) - map(p);
    const double area = std::fabs(right.x * down.y - right.y * down.x) / 1e-4;
    EXPECT_NEAR(map.scale(p), std::sqrt(area), 1e-4);
  }
  EXPECT_LT(map.scale({900, 0}), map.scale({0, 0}) * 0.95);
}

}  // namespace
}  // namespace burnisher
