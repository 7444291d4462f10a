#include "clean/sheet_outline.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "clean/binarise.h"
#include "clean/letter_rows.h"

namespace burnisher::clean {
namespace {

constexpr double kRun = 0.025;      // of the side across: so long it must stay bright
constexpr double kMostGaps = 0.1;   // of that run may be dark: specks, print near the edge
constexpr double kNear = 0.007;     // of the side across; places this near to the line lie on it,
constexpr double kNearest = 0.004;  // and those this near place it
constexpr int kSamples = 48;        // places that pairs are made of
constexpr double kSteepest = 0.45;  // slope of an edge: 24 degrees
constexpr double kOnLine = 0.6;     // share of the places that must lie on the line
constexpr double kSeen = 0.5;       // share of the picture's side that must see an edge
constexpr double kDarker = 0.75;    // of the sheet's level, the ground's at most
constexpr int kBeside = 6;          // pixels from the edge where sheet and ground are compared
constexpr double kCompared = 0.2;   // share of the places where they are, at least
constexpr double kTouching = 2;     // pixels: an edge so near to the picture's is the picture's

struct Place {
  double along, across;
};

Edge through(const Place& a, const Place& b) {
  const double slope = (b.across - a.across) / (b.along - a.along);
  return {a.across - slope * a.along, slope};
}

int on_line(const std::vector<Place>& places, const Edge& edge, double near) {
  int count = 0;
  for (const Place& p : places) count += std::fabs(p.across - edge.across(p.along)) < near;
  return count;
}

Edge least_squares(const std::vector<Place>& places, const Edge& about, double near) {
  double n = 0, x = 0, y = 0, xx = 0, xy = 0;
  for (const Place& p : places) {
    if (std::fabs(p.across - about.across(p.along)) >= near) continue;
    n += 1, x += p.along, y += p.across;
    xx += p.along * p.along, xy += p.along * p.across;
  }
  const double spread = n * xx - x * x;
  if (spread <= 0) return about;
  const double slope = (n * xy - x * y) / spread;
  return {(y - slope * x) / n, slope};
}

// `level(i, k)`: the picture at `i` along the edge and `k` in from the side.
template <typename Level>
std::optional<Edge> edge_of(int along, int across, int bright, const Level& level) {
  const int run = std::max(6, static_cast<int>(kRun * across));
  std::vector<Place> places;
  for (int i = 0; i < along; ++i) {
    int lit = 0;  // among the last `run`
    for (int k = 0; k < across * 2 / 3; ++k) {
      lit += level(i, k) >= bright;
      if (k >= run) lit -= level(i, k - run) >= bright;
      if (k + 1 < run || lit < (1 - kMostGaps) * run) continue;
      int first = k + 1 - run;
      while (first < k && level(i, first) < bright) ++first;
      places.push_back({i + 0.5, static_cast<double>(first)});
      break;
    }
  }
  if (static_cast<double>(places.size()) < kSeen * along) return std::nullopt;
  // Most pages fill their picture: that is soon told.
  const auto touching = std::count_if(places.begin(), places.end(),
                                      [](const Place& p) { return p.across < kTouching; });
  if (static_cast<double>(touching) > (1 - kOnLine) * static_cast<double>(places.size()))
    return std::nullopt;
  const double near = std::max(1.5, kNear * across);
  Edge best;
  int most = 0;
  const size_t samples = std::min<size_t>(kSamples, places.size());
  for (size_t i = 0; i < samples; ++i) {
    for (size_t k = i + 1; k < samples; ++k) {
      const Edge edge =
          through(places[i * places.size() / samples], places[k * places.size() / samples]);
      if (std::fabs(edge.slope) > kSteepest) continue;
      const int count = on_line(places, edge, near);
      if (count > most) most = count, best = edge;
    }
  }
  if (most < kOnLine * static_cast<double>(places.size())) return std::nullopt;
  for (int round = 0; round < 2; ++round)
    best = least_squares(places, best, std::max(1.5, kNearest * across));
  // Along what is seen of it the edge must part light from dark.
  double inside = 0, outside = 0;
  int beside = 0;
  for (const Place& p : places) {
    const double at = best.across(p.along);
    if (std::fabs(p.across - at) >= near) continue;
    if (at < kBeside) continue;  // a crooked sheet leaves the picture there
    const int in = static_cast<int>(at) + kBeside, out = static_cast<int>(at) - kBeside;
    inside += level(static_cast<int>(p.along), std::min(across - 1, in));
    outside += level(static_cast<int>(p.along), out);
    ++beside;
  }
  if (beside < kCompared * static_cast<double>(places.size()) || outside > kDarker * inside)
    return std::nullopt;
  return best;
}

// Counted from the far side: `side` pixels across.
std::optional<Edge> mirrored(const std::optional<Edge>& edge, double side) {
  if (!edge) return edge;
  return Edge{side - edge->at_zero, -edge->slope};
}

// Where edges that run along y and along x meet.
Point meeting(const Edge& upright, const Edge& level) {
  const double x =
      (upright.at_zero + upright.slope * level.at_zero) / (1 - upright.slope * level.slope);
  return {x, level.across(x)};
}

}  // namespace

std::array<Point, 4> SheetOutline::corners(double width, double height) const {
  const Edge l = left.value_or(Edge{}), r = right.value_or(Edge{width, 0}),
             t = top.value_or(Edge{}), b = bottom.value_or(Edge{height, 0});
  return {meeting(l, t), meeting(r, t), meeting(r, b), meeting(l, b)};
}

bool SheetOutline::inside(Point p) const {
  return !(left && p.x < left->across(p.y)) && !(right && p.x > right->across(p.y)) &&
         !(top && p.y < top->across(p.x)) && !(bottom && p.y > bottom->across(p.x));
}

SheetOutline with_all_letters(SheetOutline outline, const std::vector<Component>& components,
                              double text_height) {
  if (outline.edges() == 0 || text_height <= 0) return outline;
  const std::vector<LetterRow> rows = letter_rows(components, text_height);
  for (auto edge :
       {&SheetOutline::left, &SheetOutline::right, &SheetOutline::top, &SheetOutline::bottom}) {
    SheetOutline alone;
    alone.*edge = outline.*edge;
    int beyond = 0;
    for (size_t i = 0; i < components.size(); ++i) {
      beyond += (rows[i].across_size >= kSureRow || rows[i].down_size >= kSureRow) &&
                !alone.inside(components[i].box().centre());
    }
    if (beyond >= kSureRow) (outline.*edge).reset();
  }
  return outline;
}

SheetOutline sheet_outline(const Gray& small) {
  const int w = small.width(), h = small.height(), bright = otsu_threshold(small);
  SheetOutline outline;
  outline.left = edge_of(h, w, bright, [&](int i, int k) { return small.row(i)[k]; });
  outline.right =
      mirrored(edge_of(h, w, bright, [&](int i, int k) { return small.row(i)[w - 1 - k]; }), w);
  outline.top = edge_of(w, h, bright, [&](int i, int k) { return small.row(k)[i]; });
  outline.bottom =
      mirrored(edge_of(w, h, bright, [&](int i, int k) { return small.row(h - 1 - k)[i]; }), h);
  return outline;
}

}  // namespace burnisher::clean
