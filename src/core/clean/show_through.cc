#include "clean/show_through.h"

#include <algorithm>
#include <array>
#include <vector>

#include "raster/components.h"

namespace burnisher::clean {
namespace {

constexpr double kInkQuantile = 0.3;  // of the levels under the ink: its core, not its edges
constexpr float kPaler = 0.3f;        // of the way from ink to paper
constexpr float kDarkShare = 0.2f;    // of a stroke that may be darker: where it meets print
constexpr double kApartMm = 0.3;      // from the ink: its soft edges stay
constexpr float kBare = 0.93f;        // of the paper's brightness: cells that show paper
constexpr float kNoInk = 60;          // level of ink where there is too little to tell
constexpr long kFewestInk = 200;      // pixels that tell how dark ink is
constexpr float kWhite = 250;         // as even_out leaves paper
constexpr float kNotWhite = 244;      // below: no longer paper

float light_at(const Gray& page, int x, int y) {
  return page.row(y)[x];
}
float light_at(const Colour& page, int x, int y) {
  const uint8_t* p = page.row(y) + 3 * x;
  return 0.299f * p[0] + 0.587f * p[1] + 0.114f * p[2];
}

// kNoInk where none tells.
template <typename Dense>
float ink_level(const Dense& page, const Bitonal& ink) {
  std::array<long, 256> histogram{};
  long count = 0;
  for (int y = 0; y < page.height(); ++y) {
    const uint8_t* bits = ink.row(y);
    for (int x = 0; x < page.width(); ++x) {
      if (bits[x >> 3] == 0) {
        x |= 7;
        continue;
      }
      if (!ink.ink(x, y)) continue;
      ++histogram[static_cast<size_t>(light_at(page, x, y))];
      ++count;
    }
  }
  if (count < kFewestInk) return kNoInk;
  long passed = 0;
  for (size_t v = 0; v < histogram.size(); ++v) {
    passed += histogram[v];
    if (static_cast<double>(passed) >= kInkQuantile * static_cast<double>(count))
      return static_cast<float>(v);
  }
  return kNoInk;
}

// Which columns of row `y` have ink within `reach` rows and columns.
void near_ink(const Bitonal& ink, int y, int reach, std::vector<uint8_t>& near) {
  near.assign(static_cast<size_t>(ink.width()), 0);
  for (int j = std::max(0, y - reach); j <= std::min(ink.height() - 1, y + reach); ++j) {
    const uint8_t* bits = ink.row(j);
    for (int x = 0; x < ink.width(); ++x) {
      if (bits[x >> 3] == 0) {
        x |= 7;
        continue;
      }
      if (!ink.ink(x, j)) continue;
      const int from = std::max(0, x - reach), to = std::min(ink.width() - 1, x + reach);
      std::fill(near.begin() + from, near.begin() + to + 1, uint8_t{1});
    }
  }
}

// Cells with paper to be seen in most cells round them: where lines of both sides cross, one cell
// may be full of print.
std::vector<uint8_t> bare_cells(const Paper& paper) {
  const int columns = paper.light.width(), rows = paper.light.height();
  std::vector<uint8_t> bare(static_cast<size_t>(columns) * static_cast<size_t>(rows), 0);
  for (int r = 0; r < rows; ++r) {
    for (int c = 0; c < columns; ++c) {
      int showing = 0, cells = 0;
      for (int j = std::max(0, r - 2); j <= std::min(rows - 1, r + 2); ++j) {
        for (int i = std::max(0, c - 2); i <= std::min(columns - 1, c + 2); ++i) {
          showing += paper.bright.row(j)[i] >= kBare * paper.light.row(j)[i];
          ++cells;
        }
      }
      bare[static_cast<size_t>(r * columns + c)] = 2 * showing > cells;
    }
  }
  return bare;
}

// Pixels that are neither paper nor near to ink, where paper shows.
template <typename Dense>
Bitonal strays_of(const Paper& paper, const Bitonal& ink, double dpi, const Dense& page) {
  const std::vector<uint8_t> bare = bare_cells(paper);
  const int reach = std::max(1, static_cast<int>(kApartMm / 25.4 * dpi + 0.5));
  Bitonal strays(page.width(), page.height());
  std::vector<uint8_t> near;
  for (int y = 0; y < page.height(); ++y) {
    near_ink(ink, y, reach, near);
    const uint8_t* cells = bare.data() + static_cast<size_t>(y / paper.cell) *
                                             static_cast<size_t>(paper.light.width());
    for (int x = 0; x < page.width(); ++x) {
      if (near[static_cast<size_t>(x)] || !cells[x / paper.cell]) continue;
      if (light_at(page, x, y) < kNotWhite) strays.set_ink(x, y, true);
    }
  }
  return strays;
}

template <typename Dense>
void lift(const Paper& paper, const Bitonal& ink, double dpi, Dense& page) {
  const float level = ink_level(page, ink), paler = level + kPaler * (kWhite - level);
  const Components found = components_of(strays_of(paper, ink, dpi, page));
  std::vector<int> dark(found.list.size(), 0);
  for (const Run& run : found.runs) {
    for (int x = run.x0; x < run.x1; ++x)
      dark[static_cast<size_t>(run.component)] += light_at(page, x, run.y) < paler;
  }
  for (const Run& run : found.runs) {
    const auto component = static_cast<size_t>(run.component);
    if (dark[component] > kDarkShare * found.list[component].area) continue;
    uint8_t* row = page.row(run.y);
    std::fill(row + Dense::channels * run.x0, row + Dense::channels * run.x1,
              static_cast<uint8_t>(kWhite));
  }
}

}  // namespace

void lift_show_through(const Paper& paper, const Bitonal& ink, double dpi, Gray& page) {
  lift(paper, ink, dpi, page);
}

void lift_show_through(const Paper& paper, const Bitonal& ink, double dpi, Colour& page) {
  lift(paper, ink, dpi, page);
}

}  // namespace burnisher::clean
