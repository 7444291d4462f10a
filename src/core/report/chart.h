// A plain line chart as a picture.
#pragma once

#include <string>
#include <vector>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher::report {

struct ChartSeries {
  std::string name;
  std::vector<Point> points;  // in the chart's own units, by x
  bool marked = false;        // a dot on every point
};

struct Chart {
  std::string title, x_label, y_label;
  bool logarithmic = false;         // the y axis; values of 0 and below are left out then
  std::vector<ChartSeries> series;  // four are told by colour, more by broken lines, too
  bool legend_low =
      false;  // at the lower right, for curves that rise; of more than four, beside the plot
};

// `width` x `height` pixels.
Colour chart_picture(const Chart& chart, int width = 1000, int height = 620);

}  // namespace burnisher::report
