#include "clean/background.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/multiversion.h"
#include "base/statistics.h"
#include "raster/blur.h"

namespace burnisher::clean {
namespace {

// Text heights: a cell holds paper between the letters of a line.
constexpr double kCellTextHeights = 0.9;
constexpr double kBrightShare = 0.8;   // quantile of a cell that is taken as its paper
constexpr double kDarkShare = 0.03;    // quantile that is taken as its ink
constexpr double kBrightSigma = 0.84;  // standard deviations of that quantile above the middle
constexpr double kPaperAtLeast = 0.5;  // of the page's level; darker cells are no paper
constexpr int kClosing = 1;            // cells to either side that a letter's ink is bridged over
// Level that lit paper is brought to, a little below the end of the scale.
constexpr float kWhite = 250;
// Of the way from paper to ink: from here on it is lifted, up to here it becomes white. In print as
// dark as most is that is 0.74 and 0.93 of the paper's brightness; faint print keeps its strokes.
constexpr float kNearlyPaper = 0.325f, kSurelyPaper = 0.0875f;
constexpr float kGrainReach = 2;  // standard deviations of the grain that become white in any case
constexpr double kLeastDarkness = 0.08;  // darker cells than this may hold ink
constexpr double kFewestInked = 0.003;   // share of the cells; with fewer the page is bare
constexpr float kUsualDarkness = 0.8f;   // where no ink tells

// Quantiles of one cell's grey values, from every other row.
struct CellLevels {
  float dark, middle, bright;
};

CellLevels levels_of(const Gray& page, int x0, int y0, int x1, int y1) {
  std::array<uint16_t, 256> histogram{};
  int count = 0;
  for (int y = y0; y < y1; y += 2) {
    const uint8_t* row = page.row(y);
    for (int x = x0; x < x1; ++x) ++histogram[row[x]];
    count += x1 - x0;
  }
  const int limits[3] = {static_cast<int>(kDarkShare * count), count / 2,
                         static_cast<int>(kBrightShare * count)};
  float found[3] = {255, 255, 255};
  int passed = 0, next = 0;
  for (size_t v = 0; v < 256 && next < 3; ++v) {
    passed += histogram[v];
    while (next < 3 && passed > limits[next]) found[next++] = static_cast<float>(v);
  }
  return {found[0], found[1], found[2]};
}

// The brightest within `reach` cells along rows, then columns.
FloatImage widened(const FloatImage& cells, int reach, bool brightest) {
  const auto better = [&](float a, float b) { return brightest ? std::max(a, b) : std::min(a, b); };
  FloatImage across = cells.clone(), both = cells.clone();
  for (int y = 0; y < cells.height(); ++y) {
    for (int x = 0; x < cells.width(); ++x) {
      for (int k = std::max(0, x - reach); k <= std::min(cells.width() - 1, x + reach); ++k)
        across.row(y)[x] = better(across.row(y)[x], cells.row(y)[k]);
    }
  }
  for (int y = 0; y < cells.height(); ++y) {
    for (int x = 0; x < cells.width(); ++x) {
      both.row(y)[x] = across.row(y)[x];
      for (int k = std::max(0, y - reach); k <= std::min(cells.height() - 1, y + reach); ++k)
        both.row(y)[x] = better(both.row(y)[x], across.row(k)[x]);
    }
  }
  return both;
}

// Cells below `least` take the mean of their neighbours above it, from the rims inwards.
void fill_from_around(FloatImage& cells, float least) {
  for (bool any = true; any;) {
    any = false;
    FloatImage next = cells.clone();
    bool open = false;
    for (int y = 0; y < cells.height(); ++y) {
      for (int x = 0; x < cells.width(); ++x) {
        if (cells.row(y)[x] >= least) continue;
        open = true;
        float sum = 0;
        int count = 0;
        for (int j = std::max(0, y - 1); j <= std::min(cells.height() - 1, y + 1); ++j) {
          for (int i = std::max(0, x - 1); i <= std::min(cells.width() - 1, x + 1); ++i) {
            if (cells.row(j)[i] < least) continue;
            sum += cells.row(j)[i];
            ++count;
          }
        }
        if (count == 0) continue;
        next.row(y)[x] = sum / static_cast<float>(count);
        any = true;
      }
    }
    cells = std::move(next);
    if (!open) return;
  }
}

// What a share of the paper's brightness becomes, in levels.
std::array<float, 257> tone_curve(const Paper& paper) {
  const float darkness = paper.darkness > 0 ? paper.darkness : kUsualDarkness;
  const float surely =
      1 - std::max(kSurelyPaper * darkness, kGrainReach * static_cast<float>(paper.grain));
  const float nearly = std::min(surely - 0.02f, 1 - kNearlyPaper * darkness);
  std::array<float, 257> curve{};
  for (size_t i = 0; i < curve.size(); ++i) {
    const float share = static_cast<float>(i) / 192.f;  // up to 1.33
    const float t = std::clamp((share - nearly) / (surely - nearly), 0.f, 1.f);
    const float lift = t * t * (3 - 2 * t);
    curve[i] = std::min(kWhite, share * kWhite) * (1 - lift) + kWhite * lift;
  }
  return curve;
}

// One over the paper's brightness for every pixel of row `y`.
BURNISHER_MULTIVERSION
void reciprocal_row(const Paper& paper, int y, int width, std::vector<float>& inverse) {
  const float at =
      std::clamp((static_cast<float>(y) + 0.5f) / static_cast<float>(paper.cell) - 0.5f, 0.f,
                 static_cast<float>(paper.light.height() - 1));
  const int upper = static_cast<int>(at), lower = std::min(upper + 1, paper.light.height() - 1);
  const float fy = at - static_cast<float>(upper);
  const float *a = paper.light.row(upper), *b = paper.light.row(lower);
  const int last = paper.light.width() - 1;
  inverse.resize(static_cast<size_t>(width));
  const float step = 1.f / static_cast<float>(paper.cell);
  for (int x = 0; x < width; ++x) {
    const float across = std::min(std::max((static_cast<float>(x) + 0.5f) * step - 0.5f, 0.f),
                                  static_cast<float>(last));
    const int left = static_cast<int>(across), right = std::min(left + 1, last);
    const float fx = across - static_cast<float>(left);
    const float top = a[left] + (a[right] - a[left]) * fx,
                low = b[left] + (b[right] - b[left]) * fx;
    inverse[static_cast<size_t>(x)] = 192.f / std::max(1.f, top + (low - top) * fy);
  }
}

// Of most cells that hold ink.
float darkness_of(const Paper& paper) {
  std::vector<float> inked;
  for (size_t i = 0; i < paper.light.samples().size(); ++i) {
    const float share = 1 - paper.darkest.samples()[i] / std::max(1.f, paper.light.samples()[i]);
    if (share > kLeastDarkness + 3 * paper.grain) inked.push_back(share);
  }
  if (static_cast<double>(inked.size()) <=
      kFewestInked * static_cast<double>(paper.light.samples().size()))
    return 0;
  const auto at = inked.begin() + static_cast<long>(inked.size() * 6 / 10);
  std::nth_element(inked.begin(), at, inked.end());
  return *at;
}

}  // namespace

Paper paper_of(const Gray& page, double text_height) {
  Paper paper;
  paper.cell = std::clamp(
      static_cast<int>(std::lround(kCellTextHeights * (text_height > 0 ? text_height : 20))), 8,
      64);
  const int columns = (page.width() + paper.cell - 1) / paper.cell,
            rows = (page.height() + paper.cell - 1) / paper.cell;
  FloatImage cells(columns, rows);
  paper.darkest = FloatImage(columns, rows);
  paper.bright = FloatImage(columns, rows);
  std::vector<double> grains;
  for (int r = 0; r < rows; ++r) {
    for (int c = 0; c < columns; ++c) {
      const CellLevels cell = levels_of(page, c * paper.cell, r * paper.cell,
                                        std::min(page.width(), (c + 1) * paper.cell),
                                        std::min(page.height(), (r + 1) * paper.cell));
      cells.row(r)[c] = paper.bright.row(r)[c] = cell.bright;
      paper.darkest.row(r)[c] = cell.dark;
      grains.push_back((cell.bright - cell.middle) / kBrightSigma / std::max(1.f, cell.bright));
    }
  }
  paper.grain = median(grains);
  std::vector<float> sorted(cells.samples());
  const auto middle = sorted.begin() + static_cast<long>(sorted.size() * 6 / 10);
  std::nth_element(sorted.begin(), middle, sorted.end());
  paper.level = *middle;
  paper.light = widened(widened(cells, kClosing, true), kClosing, false);
  fill_from_around(paper.light, static_cast<float>(kPaperAtLeast * paper.level));
  gaussian_blur(paper.light, 1.0);
  paper.darkness = darkness_of(paper);
  return paper;
}

void whiten(Picture& page) {
  std::visit(
      [](auto& picture) {
        using Kind = std::decay_t<decltype(picture)>;
        if constexpr (std::is_same_v<Kind, Bitonal>)
          picture = Bitonal(picture.width(), picture.height());
        else
          std::fill(picture.samples().begin(), picture.samples().end(),
                    static_cast<uint8_t>(kWhite));
      },
      page);
}

void even_out(const Paper& paper, Gray& page) {
  const std::array<float, 257> curve = tone_curve(paper);
  std::vector<float> inverse;
  for (int y = 0; y < page.height(); ++y) {
    reciprocal_row(paper, y, page.width(), inverse);
    uint8_t* row = page.row(y);
    for (int x = 0; x < page.width(); ++x) {
      const float share = std::min(256.f, row[x] * inverse[static_cast<size_t>(x)]);
      row[x] = static_cast<uint8_t>(curve[static_cast<size_t>(share)] + 0.5f);
    }
  }
}

void even_out(const Paper& paper, Colour& page) {
  const std::array<float, 257> curve = tone_curve(paper);
  std::vector<float> inverse;
  for (int y = 0; y < page.height(); ++y) {
    reciprocal_row(paper, y, page.width(), inverse);
    uint8_t* row = page.row(y);
    for (int x = 0; x < page.width(); ++x, row += 3) {
      const float light = 0.299f * row[0] + 0.587f * row[1] + 0.114f * row[2];
      const float share = std::min(256.f, light * inverse[static_cast<size_t>(x)]);
      // One factor for all channels keeps the hue; towards white all of them meet.
      const float wanted = curve[static_cast<size_t>(share)];
      const float factor = wanted / std::max(1.f, light);
      const float white = std::clamp((wanted - 0.9f * kWhite) / (0.1f * kWhite), 0.f, 1.f);
      for (int c = 0; c < 3; ++c) {
        const float v = std::min(255.f, row[c] * factor);
        row[c] = static_cast<uint8_t>(v + (wanted - v) * white + 0.5f);
      }
    }
  }
}

}  // namespace burnisher::clean
