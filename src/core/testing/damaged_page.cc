#include "testing/damaged_page.h"

namespace burnisher::testing {

DamagedPage damaged(const PrintedPage& page, double x_height, const train::ScanDamage& damage,
                    uint64_t seed) {
  const Gray clean = page.picture();
  Field ink(clean.width(), clean.height());
  for (size_t i = 0; i < ink.samples().size(); ++i)
    ink.samples()[i] = 1 - clean.samples()[i] / 255.f;
  Random random(seed);
  train::press(ink, x_height, damage, random);
  Field verso(ink.width(), ink.height());
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
      train::scan(ink, damage.show_through > 0 ? &verso : nullptr, x_height, damage, random);
  return result;
}

Likeness likeness(const Bitonal& found, const Bitonal& truth) {
  double both = 0, of_found = 0, of_truth = 0;
  for (size_t i = 0; i < truth.bytes().size(); ++i) {
    both += __builtin_popcount(found.bytes()[i] & truth.bytes()[i]);
    of_found += __builtin_popcount(found.bytes()[i]);
    of_truth += __builtin_popcount(truth.bytes()[i]);
  }
  return {of_found > 0 ? both / of_found : 0, of_truth > 0 ? both / of_truth : 0};
}

}  // namespace burnisher::testing
