// Composed pages without end: a family sets a sheet, a camera takes it, the scanner does its
// damage. A seed gives the same page every time.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "compose/composed_page.h"
#include "compose/sheet.h"
#include "compose/typefaces.h"

namespace burnisher::compose {

struct PageMakerSettings {
  std::vector<TypefaceEntry> faces;
  bool held = false;            // of the faces, those kept out of training
  std::vector<PageText> texts;  // of which each page has one; those that no face can set are none
  bool straight = false;        // upright and flat, no bed, as after cleaning
  bool legible = false;         // no damage that a person could not read through
  double crops = -1;            // share of pages of which only a part is seen; below 0: as usual
  double least_x_height = 6.5, most_x_height = 11;  // of the main text in the scan, pixels
};

// Belongs to one thread.
class PageMaker {
 public:
  explicit PageMaker(PageMakerSettings settings);
  // `family`: one of families(); "": drawn by their shares.
  ComposedPage make(uint64_t seed, const std::string& family = "");

 private:
  PageMakerSettings settings_;
  std::map<std::string, std::unique_ptr<TypefaceSampler>> faces_;  // by script
};

}  // namespace burnisher::compose
