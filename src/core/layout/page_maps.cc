#include "layout/page_maps.h"

#include <algorithm>
#include <cmath>

#include "raster/convert.h"

namespace burnisher::layout {
namespace {

constexpr double kStep = 0.5;         // cells between samples
constexpr int kFewestTextCells = 12;  // of text, to tell which way it runs
// Look again when the text is so much larger or smaller than was thought.
constexpr double kMostOff = 1.35;
constexpr double kLongestSide = 2400;  // pixels of the network's page: A3 set in seven points
constexpr double kLeastSmall = 0.25, kMostLarge = 4;

struct Samples {
  int across = 1, down = 1;
  double dx = 0, dy = 0;
  Point first;
};

// `pitch`: pixels between samples.
Samples samples_of(const Box& box, double pitch) {
  Samples s;
  s.across = std::max(1, static_cast<int>(std::ceil(box.width() / pitch)));
  s.down = std::max(1, static_cast<int>(std::ceil(box.height() / pitch)));
  s.dx = box.width() / s.across;
  s.dy = box.height() / s.down;
  s.first = {box.x0 + s.dx / 2, box.y0 + s.dy / 2};
  return s;
}

// How high the band between baseline and x-height is, in cells: the median run of core cells across
// the text's direction, over text that runs level or upright. 0: there is too little.
double band_height_seen(const MapGrid& grid) {
  double band = 0, run_count = 0;
  for (const bool upright : {false, true}) {
    const int lanes = upright ? grid.height : grid.width;
    const int length = upright ? grid.width : grid.height;
    for (int lane = 0; lane < lanes; ++lane) {
      double run = 0;
      bool own = true;  // the text runs across this lane
      for (int k = 0; k <= length; ++k) {
        const int x = upright ? k : lane, y = upright ? lane : k;
        const double core = k < length ? grid.at(kBandMap, x, y) : 0;
        if (core > 0.3) {
          run += core;
          own = own && (grid.at(kAxisCosMap, x, y) > 0) != upright;
          continue;
        }
        if (run > 0.5 && own) {
          band += run;
          ++run_count;
        }
        run = 0;
        own = true;
      }
    }
  }
  return run_count < kFewestTextCells ? 0 : band / run_count;
}

}  // namespace

PageMaps::PageMaps(MapGrid grid, const Affine& to_cells)
    : grid_(std::make_shared<MapGrid>(std::move(grid))), to_cells_(to_cells) {}

PageMaps::PageMaps(std::shared_ptr<const MapGrid> grid, const Affine& to_cells)
    : grid_(std::move(grid)), to_cells_(to_cells) {}

double PageMaps::pixels_of_cell() const {
  return 1 / std::sqrt(
                 std::max(1e-12, std::abs(to_cells_.a * to_cells_.e - to_cells_.b * to_cells_.d)));
}

double PageMaps::at(PageMap map, Point p) const {
  const Point c = to_cells_(p) - Point{0.5, 0.5};
  const int x0 = static_cast<int>(std::floor(c.x)), y0 = static_cast<int>(std::floor(c.y));
  if (grid_->width == 0 || x0 < -1 || y0 < -1 || x0 >= grid_->width || y0 >= grid_->height)
    return 0;
  const auto cell = [&](int x, int y) {
    return grid_->at(map, std::clamp(x, 0, grid_->width - 1), std::clamp(y, 0, grid_->height - 1));
  };
  const double fx = c.x - x0, fy = c.y - y0;
  return (1 - fy) * ((1 - fx) * cell(x0, y0) + fx * cell(x0 + 1, y0)) +
         fy * ((1 - fx) * cell(x0, y0 + 1) + fx * cell(x0 + 1, y0 + 1));
}

double PageMaps::mean(PageMap map, const Box& box) const {
  const Samples s = samples_of(box, kStep * pixels_of_cell());
  double sum = 0;
  for (int j = 0; j < s.down; ++j) {
    for (int i = 0; i < s.across; ++i) sum += at(map, s.first + Point{i * s.dx, j * s.dy});
  }
  return sum / (s.across * s.down);
}

double PageMaps::most(PageMap map, const Box& box) const {
  const Samples s = samples_of(box, kStep * pixels_of_cell());
  double most = 0;
  for (int j = 0; j < s.down; ++j) {
    for (int i = 0; i < s.across; ++i)
      most = std::max(most, at(map, s.first + Point{i * s.dx, j * s.dy}));
  }
  return most;
}

Point PageMaps::axis(const Box& box) const {
  if (grid_->width == 0) return {};
  // Beside text the network says anything.
  const Samples s = samples_of(box, kStep * pixels_of_cell());
  Point seen;
  double weight = 1e-9;
  for (int j = 0; j < s.down; ++j) {
    for (int i = 0; i < s.across; ++i) {
      const Point p = s.first + Point{i * s.dx, j * s.dy};
      const double core = at(kBandMap, p);
      seen = seen + Point{at(kAxisCosMap, p), at(kAxisSinMap, p)} * core;
      weight += core;
    }
  }
  seen = seen * (1 / weight);
  // The page's own turn undone, twice.
  const double turn = -2 * std::atan2(to_cells_.d, to_cells_.a);
  return {std::cos(turn) * seen.x - std::sin(turn) * seen.y,
          std::sin(turn) * seen.x + std::cos(turn) * seen.y};
}

std::vector<double> PageMaps::column_means(PageMap map, const Box& box) const {
  const Samples s = samples_of(box, kStep * pixels_of_cell());
  std::vector<double> means;
  means.reserve(static_cast<size_t>(s.across));
  for (int i = 0; i < s.across; ++i) {
    double sum = 0;
    for (int j = 0; j < s.down; ++j) sum += at(map, s.first + Point{i * s.dx, j * s.dy});
    means.push_back(sum / s.down);
  }
  return means;
}

double PageMaps::column_peak(PageMap map, const Box& gap) const {
  const std::vector<double> means = column_means(map, gap);
  return *std::max_element(means.begin(), means.end());
}

double PageMaps::column_least(PageMap map, const Box& gap) const {
  const std::vector<double> means = column_means(map, gap);
  return *std::min_element(means.begin(), means.end());
}

double PageMaps::level_ridge(PageMap map, const Box& box) const {
  const Samples s = samples_of(box, kStep * pixels_of_cell());
  double sum = 0;
  for (int i = 0; i < s.across; ++i) {
    double peak = 0;
    for (int j = 0; j < s.down; ++j)
      peak = std::max(peak, at(map, s.first + Point{i * s.dx, j * s.dy}));
    sum += peak;
  }
  return sum / s.across;
}

PageMaps PageMaps::turned(Heading heading, Affine& back) const {
  switch (heading) {
    case Heading::kRight:
      back = {};
      break;
    case Heading::kDown:  // right becomes down
      back = {0, -1, 0, 1, 0, 0};
      break;
    case Heading::kLeft:
      back = {-1, 0, 0, 0, -1, 0};
      break;
    case Heading::kUp:
      back = {0, 1, 0, -1, 0, 0};
      break;
  }
  return PageMaps(grid_, to_cells_ * back);
}

PageMaps look_at(const PageNetwork& network, const Gray& page, double x_height) {
  const auto look = [&](double scale) {
    return PageMaps(network.read(scaled(page, scale)),
                    Affine{scale / kCellPixels, 0, 0, 0, scale / kCellPixels, 0});
  };
  const double most = kLongestSide / std::max({1, page.width(), page.height()});
  const double scale = std::min(most, kPageXHeight / std::max(1.0, x_height));
  PageMaps maps = look(scale);
  const double seen = band_height_seen(maps.grid()) * kCellPixels / kPageXHeight;
  if (seen == 0 || (seen < kMostOff && seen > 1 / kMostOff)) return maps;
  const double better = std::min(most, scale / std::clamp(seen, kLeastSmall, kMostLarge));
  return better == scale ? maps : look(better);
}

TextAxis text_axis(const PageMaps& maps) {
  const MapGrid& grid = maps.grid();
  TextAxis text;
  for (int y = 0; y < grid.height; ++y) {
    for (int x = 0; x < grid.width; ++x) {
      if (grid.at(kBandMap, x, y) < 0.5f) continue;
      ++text.cells;
      text.sideways += grid.at(kAxisCosMap, x, y) < 0;
    }
  }
  if (text.cells < kFewestTextCells) return {};
  text.sideways /= text.cells;
  return text;
}

}  // namespace burnisher::layout
