// Sorting of a page's components by what they can be: letters, marks, rules, pictures.
#pragma once

#include <vector>

#include "layout/page_maps.h"
#include "raster/components.h"

namespace burnisher::layout {

struct Sorted {
  std::vector<Component> letters;   // letters, digits, and several of them touching
  std::vector<Component> marks;     // dots, commas, hyphens, dashes, accents
  std::vector<Component> rules;     // long thin lines
  std::vector<Component> pictures;  // of pictures and drawings
  std::vector<Component> others;    // stamps, handwriting, what lies off the sheet, blots
};

// Shape says what is a rule; the network, what is no print. `text_height`: see dominant_height; all
// limits are multiples of it.
Sorted sort_components(const std::vector<Component>& components, const PageMaps& maps,
                       double text_height);

// Scraps that the taking out of upright rules has left on their track are no letters.
void drop_rule_bits(const std::vector<Component>& rules, double text_height, Sorted& sorted);

}  // namespace burnisher::layout
