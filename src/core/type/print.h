// Words of a page as dark print on white, all about as large, and what is measured on them.
#pragma once

#include <array>
#include <optional>

#include "base/plane.h"
#include "raster/image.h"

namespace burnisher::type {

// The gray of the picture where it has any, which tells more of small print than its ink.
class Print {
 public:
  Print(const Picture& picture, const Bitonal& ink);

  int height() const { return ink_.height(); }
  bool holds(const Box& box) const;
  // `columns` x `rows` cells of `factor` x `factor` pixels from (x0, y0); white beyond the page.
  Gray reduced(int x0, int y0, int columns, int rows, int factor) const;

 private:
  int at(int x, int y) const;

  const Bitonal& ink_;
  Gray gray_;
};

// Averages over 3 x 3 pixels: strokes that are off by less than one still overlap.
Gray softened(const Gray& print);

// Darkness that two pictures of one size share, 0-1 (Dice 1945).
double overlap_of(const Gray& a, const Gray& b);

// The mean width of strokes, pixels: what is dark, by half the length of its edges.
double stroke_of(const Gray& print);

// How much thicker upright strokes are than level ones: near 1 in typewriting, about 1.3 in sans
// serifs, 1.5 and more in serifs, whatever ink and scanner did to the letters' outlines.
class StrokeContrast {
 public:
  void add(const Bitonal& ink, const Box& box);
  void add(const StrokeContrast& more);
  // Nothing when too few strokes were seen.
  std::optional<double> value() const;

 private:
  double upright_ = 0, level_ = 0;  // sums of widths over pixels
  int uprights_ = 0, levels_ = 0;   // pixels
};

// Degrees that letters lean to the right: sheared by so much, most of the dark stands in columns
// (Vinciarelli and Luettin 2001). A baseline beyond the picture counts as its edge.
double lean_of(const Gray& print, double baseline);

using Ink = std::array<uint8_t, 3>;  // sRGB

// The mean colour of the strokes' inside, of all ink in the box where they are too thin to have
// one; none for bitonal pictures and boxes without ink.
std::optional<Ink> colour_of(const Picture& picture, const Bitonal& ink, const Box& box);

}  // namespace burnisher::type
