// The bare paper behind the print: how bright it is from place to place, and making it even.
#pragma once

#include "raster/image.h"

namespace burnisher::clean {

// Brightness of the paper on a grid of cells, each `cell` pixels wide and high; its knots lie in
// the cells' centres.
struct Paper {
  int cell = 16;
  FloatImage light;    // 0-255
  FloatImage bright;   // 80 % quantile of every cell, as it is: paper where any shows
  FloatImage darkest;  // 3 % quantile of every cell, as it is: ink where there is any
  double grain = 0;    // standard deviation of the bare paper, share of its brightness
  double level = 0;    // of the page as a whole: its 60 % quantile
  float darkness = 0;  // how much darker than paper its ink mostly is, as a share; 0: hardly any
};

// A high quantile in every cell; cells full of ink or picture are filled from around them, then all
// is smoothed (after the closing of Gatos, Pratikakis and Perantonis 2006). `text_height`: pixels,
// sizes the cells; 0: about 20 pixels is assumed.
Paper paper_of(const Gray& page, double text_height);

// Divides by the paper's brightness and lifts what is nearly as bright as paper to white: shadows,
// stains and weak show-through go, print keeps its contrast, pictures darker than half of the
// paper stay. Colours keep their hue.
void even_out(const Paper& paper, Gray& page);
void even_out(const Paper& paper, Colour& page);

// As even_out leaves paper, all over.
void whiten(Picture& page);

}  // namespace burnisher::clean
