#include "layout/gutters.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace burnisher::layout {
namespace {

// In text heights.
constexpr double kCell = 1.0 / 3;
constexpr double kNarrowest = 1.3;
constexpr double kShortest = 11;  // about four lines
constexpr double kLeading = 0.4;
constexpr double kWordGap = 2.0;  // white up to this wide lies inside a line
constexpr double kNarrowestColumn = 11;
constexpr double kLeastFill = 0.55;  // of a column's width is covered by its lines, on average

// Which cells hold text, one byte a cell.
class Occupancy {
 public:
  Occupancy(const std::vector<Box>& pieces, double cell, int width, int height)
      : columns_(static_cast<int>(width / cell) + 2),
        rows_(static_cast<int>(height / cell) + 2),
        cells_(static_cast<size_t>(columns_) * static_cast<size_t>(rows_), 0) {
    for (const Box& c : pieces) {
      for (int r = std::max(0, static_cast<int>(c.y0 / cell));
           r <= std::min(rows_ - 1, static_cast<int>((c.y1 - 1) / cell)); ++r) {
        for (int k = std::max(0, static_cast<int>(c.x0 / cell));
             k <= std::min(columns_ - 1, static_cast<int>((c.x1 - 1) / cell)); ++k)
          at(r, k) = 1;
      }
    }
  }

  int columns() const { return columns_; }
  int rows() const { return rows_; }
  uint8_t& at(int row, int column) {
    return cells_[static_cast<size_t>(row) * static_cast<size_t>(columns_) +
                  static_cast<size_t>(column)];
  }
  uint8_t at(int row, int column) const {
    return cells_[static_cast<size_t>(row) * static_cast<size_t>(columns_) +
                  static_cast<size_t>(column)];
  }

  bool empty(int row, int first, int last) const {
    for (int k = first; k < last; ++k) {
      if (at(row, k)) return false;
    }
    return true;
  }

 private:
  int columns_, rows_;
  std::vector<uint8_t> cells_;
};

struct CellBand {
  int column0, column1, row0, row1;  // half-open
};

// Upright empty bands of the least width, each as tall as it can be, then as wide as it can be.
std::vector<CellBand> empty_bands(const Occupancy& page, int least_width, int least_height) {
  std::vector<CellBand> bands;
  for (int k = 0; k + least_width <= page.columns(); ++k) {
    int start = 0;
    for (int r = 0; r <= page.rows(); ++r) {
      const bool free = r < page.rows() && page.empty(r, k, k + least_width);
      if (free) continue;
      if (r - start >= least_height) bands.push_back({k, k + least_width, start, r});
      start = r + 1;
    }
  }
  return bands;
}

// Neighbouring bands that see the same white join into one; the tallest common part counts.
std::vector<CellBand> joined(std::vector<CellBand> bands) {
  std::vector<CellBand> result;
  for (const CellBand& b : bands) {
    bool taken = false;
    for (CellBand& r : result) {
      const int top = std::max(r.row0, b.row0), bottom = std::min(r.row1, b.row1);
      const int shorter = std::min(r.row1 - r.row0, b.row1 - b.row0);
      if (b.column0 <= r.column1 && b.column1 >= r.column0 && bottom - top > 0.7 * shorter) {
        // Keep the taller one's rows and both widths where they agree.
        if (b.row1 - b.row0 > r.row1 - r.row0) {
          r.row0 = b.row0;
          r.row1 = b.row1;
          r.column0 = b.column0;
          r.column1 = b.column1;
        } else if (b.row1 - b.row0 == r.row1 - r.row0) {
          r.column1 = std::max(r.column1, b.column1);
        }
        taken = true;
        break;
      }
    }
    if (!taken) result.push_back(b);
  }
  return result;
}

struct Side {
  double width = 0;  // cells, of the widest line beside the band
  double fill = 0;   // mean share of that width that the lines cover
  int rows = 0;      // rows with text
};

// The column of text beside the band, up to the next wide white.
Side side_of(const Occupancy& page, const CellBand& band, int direction, int word_gap) {
  std::vector<int> extents, covered;
  Side side;
  for (int r = band.row0; r < band.row1; ++r) {
    const int edge = direction < 0 ? band.column0 - 1 : band.column1;
    int reach = 0, ink = 0, white = 0;
    for (int step = 0;; ++step) {
      const int k = edge + direction * step;
      if (k < 0 || k >= page.columns()) break;
      if (page.at(r, k)) {
        ink += 1 + (white <= word_gap ? white : 0);
        white = 0;
        reach = step + 1;
      } else if (++white > 2 * word_gap && reach > 0) {
        break;
      }
    }
    if (ink > 0) {
      extents.push_back(reach);
      covered.push_back(std::min(ink, reach));
    }
  }
  if (extents.empty()) return side;
  side.rows = static_cast<int>(extents.size());
  std::vector<int> sorted(extents);
  std::sort(sorted.begin(), sorted.end());
  side.width = sorted[sorted.size() * 3 / 4];
  double sum = 0;
  for (int c : covered) sum += std::min<double>(c, side.width);
  side.fill = side.width > 0 ? sum / (side.width * static_cast<double>(covered.size())) : 0;
  return side;
}

}  // namespace

std::vector<Box> gutters_of(const std::vector<Box>& pieces, double text_height, int width,
                            int height) {
  if (text_height <= 0) return {};
  const double cell = kCell * text_height;
  const auto cells = [](double heights) { return static_cast<int>(std::ceil(heights / kCell)); };
  // Pieces reach halfway to the lines above and below, so that a column is solid.
  std::vector<Box> solid;
  for (const Box& b : pieces) {
    const double grow = kLeading * text_height;
    solid.push_back({b.x0, b.y0 - grow, b.x1, b.y1 + grow});
  }
  const Occupancy page(solid, cell, width, height);
  auto bands = joined(empty_bands(page, cells(kNarrowest), cells(kShortest)));
  std::vector<Box> gutters;
  for (CellBand& band : bands) {
    const Side left = side_of(page, band, -1, cells(kWordGap)),
               right = side_of(page, band, 1, cells(kWordGap));
    const bool columns = std::min(left.width, right.width) >= kNarrowestColumn / kCell;
    const bool full = std::min(left.fill, right.fill) >= kLeastFill;
    // Both sides hold text over much of the band; beside a lone line stands no column.
    const int tall = std::min(left.rows, right.rows);
    if (columns && full && tall * kCell >= 0.8 * kShortest) {
      gutters.push_back(
          {band.column0 * cell, band.row0 * cell, band.column1 * cell, band.row1 * cell});
    }
  }
  return gutters;
}

std::vector<Box> cut_at_rules(const std::vector<Box>& gutters,
                              const std::vector<Component>& rules) {
  std::vector<Box> cut = gutters;
  for (const Component& rule : rules) {
    // A grid of rules is far larger across than its ink is thick.
    const double thickness = static_cast<double>(rule.area) / (rule.width() + rule.height());
    const bool grid = std::min(rule.width(), rule.height()) > 4 * thickness;
    if (rule.width() < 8 * rule.height() && !grid) continue;
    for (size_t i = 0; i < cut.size(); ++i) {
      const double centre = (cut[i].x0 + cut[i].x1) / 2;
      if (centre <= rule.x0 || centre >= rule.x1 || rule.y1 <= cut[i].y0 || rule.y0 >= cut[i].y1)
        continue;
      Box lower = cut[i];
      lower.y0 = rule.y1;
      cut[i].y1 = rule.y0;
      if (!lower.empty()) cut.push_back(lower);
    }
  }
  cut.erase(std::remove_if(cut.begin(), cut.end(), [](const Box& b) { return b.empty(); }),
            cut.end());
  return cut;
}

}  // namespace burnisher::layout
