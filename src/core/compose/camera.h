// Where a sheet comes to lie in its scan: curl at the fold, tilt and distance of a hand-held camera
// (a homography: Hartley and Zisserman 2003), skew, quarter turns, and a bed round the paper.
#pragma once

#include <array>

#include "base/random.h"
#include "compose/composed_page.h"

namespace burnisher::compose {

struct CameraSettings {
  double skew = 0;                // degrees, counter-clockwise
  int quarter_turns = 0;          // counter-clockwise
  double tilt_x = 0, tilt_y = 0;  // degrees, away from the camera
  double curl = 0;                // pixels that lines sink (or rise) at the fold
  double fold = -1;               // where the fold is, sheet pixels; below 0: no fold
  double margin = 0;              // share of the sheet's size that is seen of the bed round it
  float bed = 1;                  // 0 white ... 1 black
  Box window;                     // of the sheet, all that is seen; empty: the whole sheet
};

class Camera {
 public:
  Camera(int sheet_width, int sheet_height, const CameraSettings& settings);

  Point to_scan(Point p) const;
  Point to_sheet(Point p) const;  // exact: a curl moves points up or down only
  int width() const { return width_; }
  int height() const { return height_; }
  // The ink (0 none ... 1 full) as the camera sees it, the bed included.
  FloatImage seen(const FloatImage& sheet_ink) const;
  // Moves all truth into the frame of the scan; boxes become the bounds of what they held.
  void move(ComposedPage& page) const;

 private:
  using Homography = std::array<double, 9>;
  double sink(double x) const;

  CameraSettings settings_;
  double sheet_width_, sheet_height_;
  Homography forward_{}, backward_{};
  int width_ = 0, height_ = 0;
};

}  // namespace burnisher::compose
