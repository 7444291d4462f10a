// A sheet of paper being set: paragraphs by Pango, rules and pictures by Cairo, with the truth
// about every printed line noted down. Part of the program that makes the demo scans.
#pragma once

#include <cairo.h>

#include <string>
#include <vector>

#include "raster/image.h"

namespace burnisher::demo {

enum class Align { kLeft, kCentre, kRight, kJustified };

// Everything in millimetres, from the upper left corner; type sizes in points.
struct Setting {
  double x = 20, y = 20, width = 120;
  std::string font = "Old Standard TT";
  double size = 11;
  Align align = Align::kJustified;
  double leading = 1.22;  // of the type size
  double indent = 0;
};

class Sheet {
 public:
  Sheet(double width, double height, double dpi);
  ~Sheet();
  Sheet(const Sheet&) = delete;
  Sheet& operator=(const Sheet&) = delete;

  // Sets a paragraph and returns the height it takes, in millimetres.
  double set(const std::string& text, const Setting& setting);
  // Ends a block of the truth: an empty line.
  void end_block();
  // The last `count` lines of the truth stand on one printed line: cells of a table's row.
  void join_lines(int count);
  void rule(double x0, double y0, double x1, double y1, double thickness);
  // A lighthouse on its rock, hatched like an engraving. Not text.
  void engraving(double x, double y, double width, double height);

  FloatImage ink() const;  // 0 none ... 1 full
  const std::string& truth() const { return truth_; }
  double dpi() const { return dpi_; }

 private:
  double pixels(double millimetres) const { return millimetres / 25.4 * dpi_; }

  double dpi_;
  cairo_surface_t* surface_;
  cairo_t* cr_;
  std::string truth_;
};

}  // namespace burnisher::demo
