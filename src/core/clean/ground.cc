#include "clean/ground.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <utility>
#include <vector>

#include "clean/binarise.h"
#include "raster/convert.h"

namespace burnisher::clean {
namespace {

constexpr double kThroughout = 0.9;  // share of the ground's pixels that are dark
constexpr int kBeyond = 3;      // pixels of the reduced picture beyond an edge that are left out
constexpr double kRim = 0.012;  // of the shorter side: a torn edge is dark that far in, at most

template <typename Across>
bool dark_beyond(int along, int across, const Edge& edge, bool from_start, int bright,
                 const Across& level) {
  long dark = 0, all = 0;
  for (int i = 0; i < along; ++i) {
    const int at = static_cast<int>(std::lround(edge.across(i + 0.5)));
    const int from = from_start ? 0 : std::max(0, at + kBeyond),
              to = from_start ? std::min(across, at - kBeyond) : across;
    for (int k = from; k < to; ++k) dark += level(i, k) < bright;
    all += std::max(0, to - from);
  }
  return all == 0 || static_cast<double>(dark) >= kThroughout * static_cast<double>(all);
}

// What a pixel of each kind of picture is and becomes.
class Painter {
 public:
  Painter(const std::array<uint8_t, 3>& paper, int bright) : paper_(paper), bright_(bright) {}

  bool dark(const Gray& p, int x, int y) const { return p.row(y)[x] < bright_; }
  bool dark(const Colour& p, int x, int y) const {
    const uint8_t* c = p.row(y) + 3 * x;
    return (c[0] + 2 * c[1] + c[2]) / 4 < bright_;
  }
  bool dark(const Bitonal& p, int x, int y) const { return p.ink(x, y); }

  void paint(Gray& p, int x, int y) const { p.row(y)[x] = paper_[0]; }
  void paint(Colour& p, int x, int y) const {
    std::copy(paper_.begin(), paper_.end(), p.row(y) + 3 * x);
  }
  static void paint(Bitonal& p, int x, int y) { p.set_ink(x, y, false); }

 private:
  std::array<uint8_t, 3> paper_;
  int bright_;
};

constexpr double kPaperQuantile = 0.6;  // of the levels: paper

std::array<uint8_t, 3> paper_of(const Gray& gray) {
  const auto level = static_cast<uint8_t>(quantile_of(gray, kPaperQuantile));
  return {level, level, level};
}
std::array<uint8_t, 3> paper_of(const Bitonal&) {
  return {255, 255, 255};
}
std::array<uint8_t, 3> paper_of(const Colour& colour) {
  std::array<uint8_t, 3> paper{};
  for (size_t channel = 0; channel < 3; ++channel) {
    std::vector<uint8_t> levels;  // one pixel in a hundred
    for (size_t i = channel; i < colour.samples().size(); i += 300)
      levels.push_back(colour.samples()[i]);
    const auto at =
        levels.begin() + static_cast<long>(kPaperQuantile * static_cast<double>(levels.size() - 1));
    std::nth_element(levels.begin(), at, levels.end());
    paper[channel] = *at;
  }
  return paper;
}

// Along one side: everything up to the edge, then on while it is dark, `rim` pixels at most.
// `place(i, k)`: the pixel at `i` along the side and `k` in from it.
template <typename Pixels, typename Place>
void paint_side(const Painter& painter, int along, int across, double rim,
                const std::function<double(int)>& edge_at, const Place& place, Pixels& pixels) {
  for (int i = 0; i < along; ++i) {
    const double at = edge_at(i);
    const int surely = std::clamp(static_cast<int>(at), 0, across),
              most = std::clamp(static_cast<int>(at + rim), 0, across);
    for (int k = 0; k < most; ++k) {
      const auto [x, y] = place(i, k);
      if (k >= surely && !painter.dark(pixels, x, y)) break;
      painter.paint(pixels, x, y);
    }
  }
}

}  // namespace

SheetOutline dark_ground(const SheetOutline& outline, const Gray& small) {
  const int w = small.width(), h = small.height(), bright = otsu_threshold(small);
  const auto by_row = [&](int i, int k) { return small.row(i)[k]; };
  const auto by_column = [&](int i, int k) { return small.row(k)[i]; };
  SheetOutline dark = outline;
  if (dark.left && !dark_beyond(h, w, *dark.left, true, bright, by_row)) dark.left.reset();
  if (dark.right && !dark_beyond(h, w, *dark.right, false, bright, by_row)) dark.right.reset();
  if (dark.top && !dark_beyond(w, h, *dark.top, true, bright, by_column)) dark.top.reset();
  if (dark.bottom && !dark_beyond(w, h, *dark.bottom, false, bright, by_column))
    dark.bottom.reset();
  return dark;
}

void paint_ground(const SheetOutline& outline, const Reduced& small, Picture& picture) {
  const auto paper = std::visit([](const auto& pixels) { return paper_of(pixels); }, picture);
  const Painter painter(paper, otsu_threshold(small.picture()));
  const int w = width_of(picture), h = height_of(picture);
  const double rim = kRim * std::min(w, h);
  const auto full = [&](const Edge& edge, int i) {
    return small.to_full(edge.across(small.to_small(i + 0.5)));
  };
  std::visit(
      [&](auto& pixels) {
        using Pixel = std::pair<int, int>;
        if (outline.left)
          paint_side(
              painter, h, w, rim, [&](int i) { return full(*outline.left, i); },
              [](int i, int k) { return Pixel(k, i); }, pixels);
        if (outline.right)
          paint_side(
              painter, h, w, rim, [&](int i) { return w - full(*outline.right, i); },
              [w](int i, int k) { return Pixel(w - 1 - k, i); }, pixels);
        if (outline.top)
          paint_side(
              painter, w, h, rim, [&](int i) { return full(*outline.top, i); },
              [](int i, int k) { return Pixel(i, k); }, pixels);
        if (outline.bottom)
          paint_side(
              painter, w, h, rim, [&](int i) { return h - full(*outline.bottom, i); },
              [h](int i, int k) { return Pixel(i, h - 1 - k); }, pixels);
      },
      picture);
}

Box sheet_on_page(const SheetOutline& outline, const Reduced& small, const Projective& page_to_part,
                  int width, int height) {
  const Projective to_page = page_to_part.inverse();
  std::vector<Point> corners;
  for (const Point& c : outline.corners(small.picture().width(), small.picture().height()))
    corners.push_back(to_page(small.to_full(c)));
  const Box hull = bounds(corners);
  return {std::clamp(std::floor(hull.x0), 0.0, width - 1.0),
          std::clamp(std::floor(hull.y0), 0.0, height - 1.0),
          std::clamp(std::ceil(hull.x1), 1.0, double(width)),
          std::clamp(std::ceil(hull.y1), 1.0, double(height))};
}

}  // namespace burnisher::clean
