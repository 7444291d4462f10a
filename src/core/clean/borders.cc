#include "clean/borders.h"

#include <algorithm>
#include <cmath>

#include "clean/letter_rows.h"
#include "raster/components.h"
#include "raster/convert.h"

namespace burnisher::clean {
namespace {

// Of the grey levels: paper covers more than a third of any sheet.
constexpr double kPaperQuantile = 0.7;
constexpr double kDark = 0.5;        // of the paper's brightness
constexpr double kDarkAlong = 0.6;   // share of an edge's length that a band must be dark along
constexpr double kThinnest = 0.004;  // of the shorter side; thinner bands are left to the ink
constexpr double kThickest = 0.3;    // of the side across
constexpr double kReach = 0.9;       // quantile of the band's thickness that is cut off
constexpr double kTilted = 0.015;    // of the side across: a band whose thickness varies by more
constexpr double kThinEnd = 0.1;     // is a sheet's that lies crookedly; this quantile is cut off
constexpr double kMargin = 0.002;    // of the shorter side, cut off beyond that

constexpr double kHoleMm[] = {3.5, 9.5};
constexpr double kFromEdgeMm = 25;  // punch holes lie nearer to the edge (ISO 838: 12 mm)

// How far dark pixels reach in from one edge, row by row (or column by column). Small bright specks
// in the dark don't end it.
template <typename At>
double band_thickness(int along, int across, const At& dark_at) {
  std::vector<int> reach;
  int dark_rows = 0;
  for (int i = 0; i < along; ++i) {
    int last = 0, bright = 0;
    for (int k = 0; k < across && bright <= 2; ++k) {
      if (dark_at(i, k)) {
        last = k + 1;
        bright = 0;
      } else {
        ++bright;
      }
    }
    if (last > 0) reach.push_back(last);
    dark_rows += last > 0;
  }
  if (dark_rows < kDarkAlong * along) return 0;
  std::sort(reach.begin(), reach.end());
  const auto thickness = [&](double quantile) {
    return reach[static_cast<size_t>(quantile * static_cast<double>(reach.size() - 1))];
  };
  const int thick = thickness(kReach), thin = thickness(kThinEnd);
  if (thick >= kThickest * across) return 0;
  return thick - thin > kTilted * across ? thin : thick;
}

}  // namespace

Box sheet_of(const Reduced& scan) {
  const Gray& small = scan.picture();
  const double limit = kDark * quantile_of(small, kPaperQuantile);
  const int w = small.width(), h = small.height();
  const auto dark = [&](int x, int y) { return small.row(y)[x] < limit; };
  const double left = band_thickness(h, w, [&](int i, int k) { return dark(k, i); });
  const double right = band_thickness(h, w, [&](int i, int k) { return dark(w - 1 - k, i); });
  const double top = band_thickness(w, h, [&](int i, int k) { return dark(i, k); });
  const double bottom = band_thickness(w, h, [&](int i, int k) { return dark(i, h - 1 - k); });
  const double least = kThinnest * std::min(w, h), margin = kMargin * std::min(w, h);
  const auto cut = [&](double band) { return band > least ? band + margin : 0.0; };
  return scan.to_full(Box{cut(left), cut(top), w - cut(right), h - cut(bottom)});
}

Box with_letters(const Box& sheet, const Reduced& scan, const std::vector<Component>& components,
                 double text_height) {
  const double w = scan.picture().width(), h = scan.picture().height();
  const Box inner = scan.to_small(sheet);
  if (text_height <= 0 || (inner.x0 <= 0 && inner.y0 <= 0 && inner.x1 >= w && inner.y1 >= h))
    return sheet;
  const std::vector<LetterRow> rows = letter_rows(components, text_height);
  Box whole = inner;
  for (size_t i = 0; i < components.size(); ++i) {
    if (rows[i].across_size < kSureRow && rows[i].down_size < kSureRow) continue;
    const Box b = components[i].box();
    if (b.x0 < inner.x0) whole.x0 = 0;
    if (b.y0 < inner.y0) whole.y0 = 0;
    if (b.x1 > inner.x1) whole.x1 = w;
    if (b.y1 > inner.y1) whole.y1 = h;
  }
  return scan.to_full(whole);
}

std::vector<Hole> holes_of(const Reduced& scan, double dpi) {
  const Gray& small = scan.picture();
  const Bitonal dark =
      to_bitonal(small, static_cast<int>(kDark * quantile_of(small, kPaperQuantile)));
  const double mm = scan.to_small(dpi / 25.4);
  std::vector<Hole> holes;
  for (const Component& c : components_of(dark).list) {
    const double across = (c.width() + c.height()) / 2.0;
    if (across < kHoleMm[0] * mm || across > kHoleMm[1] * mm) continue;
    const double round = static_cast<double>(c.area) / (0.7854 * c.width() * c.height());
    const double aspect = static_cast<double>(c.width()) / c.height();
    if (aspect < 0.8 || aspect > 1.25 || round < 0.88 || round > 1.12) continue;
    const Point centre = c.box().centre();
    const double edge =
        std::min({centre.x, centre.y, small.width() - centre.x, small.height() - centre.y});
    if (edge > kFromEdgeMm * mm) continue;
    holes.push_back({scan.to_full(centre), scan.to_full(across / 2)});
  }
  return holes;
}

}  // namespace burnisher::clean
