// Line strips: what the network sees. A strip is the picture of one line, straightened along its
// baseline, scaled so that every line has the same x-height at the same place, with paper and ink
// brought to the same values. Training lines go through the same function as lines of real pages.
#pragma once

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher::recognise {

// Where paper, ink and letters lie in a strip. Rows and heights in strip pixels.
struct StripFrame {
  int height = 48;
  double x_height = 14.4;
  double baseline = 33;  // row of the baseline: 2.3 x-heights above it, 1.0 below
};

constexpr uint8_t kPaperLevel = 30;  // strip sample of blank paper
constexpr uint8_t kInkLevel = 230;   // strip sample of solid ink

// Where a line lies on its page, in page pixels.
struct LinePlace {
  Polyline baseline;    // left to right in reading direction, at least two points
  double x_height = 0;  // height of a lower-case x
};

// The mapping between a strip and its page. The strip's x axis runs along the straight line
// through the ends of the baseline; the baseline's bends are taken out perpendicular to it.
class StripMap {
 public:
  // `before`, `after`: how far the strip reaches beyond the baseline's ends, in x-heights.
  StripMap(const LinePlace& place, const StripFrame& frame, double before, double after);

  int width() const { return width_; }
  double scale() const { return scale_; }  // page pixels in one strip pixel
  Point to_page(Point strip) const;

 private:
  StripFrame frame_;
  Point origin_, along_, down_;
  double scale_ = 1;
  double start_ = 0;
  int width_ = 0;
  Polyline bends_;  // x: distance along, y: distance below the straight line
};

// Samples the strip out of the page picture: bicubic where it is enlarged, averaged over the strip
// pixel's area where it is reduced. Beyond the picture's edge lies paper.
// White-on-black lines come out dark on light.
// `page`: the picture that `map` leads to.
Gray extract_strip(const Gray& page, const StripMap& map, const StripFrame& frame);

}  // namespace burnisher::recognise
