#include "clean/measure.h"

#include <algorithm>
#include <cmath>

#include "raster/convert.h"
#include "raster/text_scale.h"

namespace burnisher::clean {
namespace {

constexpr int kMeasureWidth = 1100;  // pixels of the shorter side; enough to measure on

// Paper less ink: the medians of what is lighter and darker than Otsu's threshold.
double contrast_of(const Gray& small) {
  const int threshold = otsu_threshold(small);
  std::vector<int> histogram(256, 0);
  for (uint8_t v : small.samples()) ++histogram[v];
  const auto middle = [&](int from, int to) {
    long total = 0, passed = 0;
    for (int v = from; v < to; ++v) total += histogram[static_cast<size_t>(v)];
    for (int v = from; v < to; ++v) {
      passed += histogram[static_cast<size_t>(v)];
      if (2 * passed >= total) return v;
    }
    return from;
  };
  return middle(threshold, 256) - middle(0, threshold);
}

// Share of cells that hold neither bare paper nor anything like print, but are dark all over or
// full of middle greys.
double picture_share_of(const Reduced& scan, const Box& full_sheet, double text_height) {
  const Gray& small = scan.picture();
  const Box sheet = scan.to_small(full_sheet);
  const int cell = std::max(8, static_cast<int>(2 * scan.to_small(text_height)));
  const double paper = quantile_of(small, 0.7);
  int cells = 0, pictured = 0;
  for (int y = static_cast<int>(sheet.y0); y + cell <= sheet.y1; y += cell) {
    for (int x = static_cast<int>(sheet.x0); x + cell <= sheet.x1; x += cell) {
      int toned = 0;
      for (int j = y; j < y + cell; ++j) {
        for (int i = x; i < x + cell; ++i) toned += small.row(j)[i] < 0.8 * paper;
      }
      ++cells;
      pictured += toned > 0.75 * cell * cell;
    }
  }
  return cells > 0 ? static_cast<double>(pictured) / cells : 0;
}

}  // namespace

double text_height_of(const std::vector<Component>& components) {
  const double height = dominant_height(components);
  return height > 0 ? height : height_of_few(components);
}

double grain_of(const Gray& page) {
  // Second differences know no slopes; the median of their cells' sizes is the bare paper's.
  constexpr int kCell = 16;
  std::vector<double> cells;
  for (int y = 1; y + kCell < page.height() - 1; y += 4 * kCell) {
    for (int x = 1; x + kCell < page.width() - 1; x += 2 * kCell) {
      int sum = 0;
      for (int j = y; j < y + kCell; j += 2) {
        const uint8_t *a = page.row(j - 1), *b = page.row(j), *c = page.row(j + 1);
        for (int i = x; i < x + kCell; ++i) {
          sum += std::abs(a[i - 1] - 2 * a[i] + a[i + 1] - 2 * (b[i - 1] - 2 * b[i] + b[i + 1]) +
                          c[i - 1] - 2 * c[i] + c[i + 1]);
        }
      }
      cells.push_back(sum / (kCell * kCell / 2.0));
    }
  }
  if (cells.empty()) return 0;
  const auto quarter = cells.begin() + static_cast<long>(cells.size() / 4);
  std::nth_element(cells.begin(), quarter, cells.end());
  return *quarter * std::sqrt(3.14159265358979 / 2) / 6;
}

Measure measure(const Gray& gray, double dpi, const MeasureSettings& settings) {
  Measure m;
  m.small = Reduced(gray, std::max(1, std::min(gray.width(), gray.height()) / kMeasureWidth));
  const Gray& small = m.small.picture();
  m.sheet = {0, 0, static_cast<double>(gray.width()), static_cast<double>(gray.height())};
  Components found = components_of(binarise(small, settings.binarise, m.small.to_small(dpi)));
  if (settings.borders) {
    m.sheet = with_letters(sheet_of(m.small), m.small, found.list, text_height_of(found.list));
    if (m.sheet.x1 > m.small.to_full(small.width() - 1.0)) m.sheet.x1 = gray.width();
    if (m.sheet.y1 > m.small.to_full(small.height() - 1.0)) m.sheet.y1 = gray.height();
  }
  const Box inner = m.small.to_small(m.sheet);
  const double least = m.small.to_small(settings.least_letter);
  found.list.erase(std::remove_if(found.list.begin(), found.list.end(),
                                  [&](const Component& c) {
                                    return c.height() < least || c.x0 < inner.x0 ||
                                           c.y0 < inner.y0 || c.x1 > inner.x1 || c.y1 > inner.y1;
                                  }),
                   found.list.end());
  m.stroke = m.small.to_full(stroke_width(found.runs));
  m.components = std::move(found.list);
  const double height = text_height_of(m.components);
  m.text_height = m.small.to_full(height);
  m.contrast = contrast_of(small);
  m.picture_share = picture_share_of(m.small, m.sheet, m.text_height);
  if (settings.spread) {
    m.fold = fold_of(small, m.components, height);
    m.fold.x = m.small.to_full(m.fold.x);
  }
  return m;
}

}  // namespace burnisher::clean
