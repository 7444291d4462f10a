// A page with something of everything: for round trips through files.
#pragma once

#include "page/page.h"

namespace burnisher::testing {

inline Page sample_page() {
  Page page;
  page.file = "log.png";
  page.number = 3;
  page.width = 1000;
  page.height = 1400;
  page.dpi = 200;
  page.geometry = {Affine::shift(10, -20) * Affine::turn(2), 990, 1390};
  Block heading;
  heading.kind = BlockKind::kHeading;
  heading.outline = Box{90, 90, 600, 140}.corners();
  Line line;
  line.baseline = {{100, 130}, {300, 131}, {590, 130}};
  line.x_height = 18.25;
  line.box = {100, 100, 590, 138};
  line.confidence = 0.93;
  Word first{"Keeper’s", {100, 100, 300, 138}, 0.91, {}},
      second{"<log>", {320, 104, 590, 136}, 0.5, {}};
  first.glyphs.push_back({U'K', {100, 100, 120, 130}, 0.99});
  second.readings = {{"<1og>", 0.6}, {"<log>", 0.4}};
  second.error_probability = 0.25;
  second.reasons = kUnsure | kOdd;
  second.corrected = CorrectedBy::kRepair;
  second.before = "<1;o}g>";
  second.small_capitals = true;
  line.language = "en";
  page.file = "box 3; page:2.tif";
  line.words = {first, second};
  heading.lines.push_back(line);
  Block picture;
  picture.kind = BlockKind::kPicture;
  picture.outline = Box{100, 300, 800, 900}.corners();
  page.blocks = {heading, picture};
  return page;
}

}  // namespace burnisher::testing
