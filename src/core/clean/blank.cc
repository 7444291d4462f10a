#include "clean/blank.h"

#include <algorithm>
#include <vector>

#include "raster/components.h"

namespace burnisher::clean {
namespace {

constexpr int kFewestLetters = 6;  // a page with fewer is blank

// Components of letter size with another beside them, along rows or, on sideways pages, along
// columns: specks hardly ever stand in rows.
int letters_on(const Bitonal& ink, double text_height) {
  std::vector<Component> sized;
  for (const Component& c : components_of(ink).list) {
    const double longer = std::max(c.width(), c.height()),
                 shorter = std::min(c.width(), c.height());
    if (longer > 0.5 * text_height && shorter > 0.15 * text_height && shorter < 4 * text_height &&
        longer < 25 * text_height) {
      sized.push_back(c);
    }
  }
  const auto beside = [&](const Component& a, const Component& b) {
    const double x_gap = std::max(a.x0, b.x0) - std::min(a.x1, b.x1),
                 y_gap = std::max(a.y0, b.y0) - std::min(a.y1, b.y1);
    const double lower = std::min(a.height(), b.height()), slimmer = std::min(a.width(), b.width());
    const bool row = x_gap < 1.2 * text_height && -y_gap > 0.6 * lower &&
                     std::max(a.height(), b.height()) < 2.5 * lower;
    const bool column = y_gap < 1.2 * text_height && -x_gap > 0.6 * slimmer &&
                        std::max(a.width(), b.width()) < 2.5 * slimmer;
    return row || column;
  };
  std::sort(sized.begin(), sized.end(),
            [](const Component& a, const Component& b) { return a.x0 < b.x0; });
  int letters = 0;
  for (size_t i = 0; i < sized.size() && letters < kFewestLetters; ++i) {
    if (sized[i].width() > 4 * sized[i].height()) letters += 2;  // letters that touch
    for (size_t k = i + 1; k < sized.size() && sized[k].x0 < sized[i].x1 + 1.2 * text_height; ++k) {
      if (!beside(sized[i], sized[k])) continue;
      ++letters;
      break;
    }
  }
  return letters;
}

}  // namespace

bool is_blank(const Bitonal& ink, double text_height) {
  return text_height <= 0 || letters_on(ink, text_height) < kFewestLetters;
}

}  // namespace burnisher::clean
