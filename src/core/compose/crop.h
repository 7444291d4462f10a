// Part of a sheet, as people have it who need one paragraph now: a crop, a screenshot, a photograph
// whose text runs to the picture's edges or off them, often with shade towards one of them.
#pragma once

#include <vector>

#include "base/random.h"
#include "compose/composed_page.h"

namespace burnisher::compose {

// A window on the page's sheet, whose text is of `x_height`: round a word, a line or a paragraph,
// or anywhere; its sides may cut letters. In the frame of `page`. Empty where nothing is set.
Box draw_window(const ComposedPage& page, double x_height, Random& random);

// Keeps what can be seen in the scan: of words that run off its sides the letters inside (counted
// by their share of the word's length), of lines the part inside; lines of which the band between
// baseline and x-height is cut along their length go, as nobody would read them.
void keep_visible(ComposedPage& page);

// Darkness towards one or two sides, shares of full ink at the edge of the picture.
struct Shade {
  double left = 0, right = 0, top = 0, bottom = 0;
  double reach = 0.3;  // of the picture's size: where e^-1 of it is left
  double fold = 0;     // breadth of a black strip along the darkest side, pixels
};

Shade draw_shade(Random& random);
void add_shade(const Shade& shade, FloatImage& seen);

}  // namespace burnisher::compose
