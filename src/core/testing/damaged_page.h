// Pages whose ink is known pixel by pixel, and the scans that damage makes of them.
#pragma once

#include "compose/degrade.h"
#include "raster/image.h"
#include "testing/printed_page.h"

namespace burnisher::testing {

struct DamagedPage {
  Bitonal truth;  // the ink as it was printed
  Gray scan;
};

// `x_height`: of the page's text, pixels.
inline DamagedPage damaged(const PrintedPage& page, double x_height,
                           const compose::ScanDamage& damage, uint64_t seed) {
  const Gray clean = page.picture();
  FloatImage ink(clean.width(), clean.height());
  for (size_t i = 0; i < ink.samples().size(); ++i)
    ink.samples()[i] = 1 - clean.samples()[i] / 255.f;
  Random random(seed);
  compose::press(ink, x_height, damage, random);
  FloatImage verso(ink.width(), ink.height());
  for (int y = 0; y < ink.height(); ++y) {
    for (int x = 0; x < ink.width(); ++x)
      verso.row(y)[x] = ink.row((y + 17) % ink.height())[ink.width() - 1 - x];
  }
  DamagedPage result;
  result.truth = Bitonal(ink.width(), ink.height());
  for (int y = 0; y < ink.height(); ++y) {
    for (int x = 0; x < ink.width(); ++x) {
      if (ink.row(y)[x] > 0.5f) result.truth.set_ink(x, y, true);
    }
  }
  result.scan =
      compose::scan(ink, damage.show_through > 0 ? &verso : nullptr, x_height, damage, random);
  return result;
}

struct Likeness {
  double precision = 0, recall = 0;
  double f_measure() const { return 2 * precision * recall / (precision + recall); }
};

// Of ink found against ink that is there, pixel by pixel.
inline Likeness likeness(const Bitonal& found, const Bitonal& truth) {
  double both = 0, of_found = 0, of_truth = 0;
  for (size_t i = 0; i < truth.bytes().size(); ++i) {
    both += __builtin_popcount(found.bytes()[i] & truth.bytes()[i]);
    of_found += __builtin_popcount(found.bytes()[i]);
    of_truth += __builtin_popcount(truth.bytes()[i]);
  }
  return {of_found > 0 ? both / of_found : 0, of_truth > 0 ? both / of_truth : 0};
}

}  // namespace burnisher::testing
