// Before and after, side by side: what cleaning does to a page, or what several values of one
// setting make of it.
#pragma once

#include <string>
#include <vector>

#include "clean/clean.h"

namespace burnisher::report {

struct Panel {
  std::string title, caption;
  Gray whole;                 // the page, small
  std::vector<Gray> details;  // of the busiest place, magnified
};

// The scan, the page, the ink, and the ink after each repair. `cleaned` was made with its steps
// kept.
std::vector<Panel> panels_of(const Scan& scan, const clean::CleanResult& cleaned);

// One page cleaned in several ways.
struct Variant {
  std::string title;
  clean::CleanResult cleaned;
};
std::vector<Panel> panels_of(const std::vector<Variant>& variants);

// Pages of panels, each with a heading.
struct Comparison {
  std::string heading;
  std::vector<Panel> panels;
};
std::string comparison_html(const std::vector<Comparison>& pages);
Colour comparison_picture(const std::vector<Comparison>& pages);

}  // namespace burnisher::report
