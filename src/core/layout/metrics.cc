#include "layout/metrics.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr double kUsualAscender = 1.45;  // capital or ascender height in x-heights
constexpr double kLeastAscender = 1.22, kMostAscender = 1.8;
constexpr double kKnotDistance = 9;     // x-heights between the knots of a baseline
constexpr double kKnotReach = 11;       // x-heights around a knot that say where it lies
constexpr double kLongestStroke = 2.5;  // medians
constexpr double kLeastSeen = 0.3;      // of the baseline map's 0-1
constexpr double kFootOff = 0.9;        // cells of the maps between a foot and the baseline seen
constexpr size_t kBendable = 14;        // letters from which on a line's bend can be told

double centre(const Component& c) {
  return (c.x0 + c.x1) / 2.0;
}

struct Slope {
  double at0 = 0, slope = 0;
  double operator()(double x) const { return at0 + slope * x; }
};

// The letters whose feet stand where the network sees the baseline: halves of broken letters and
// scraps do not. All of them where it sees none, or too few stand there.
std::vector<Component> standing(const LetterLine& line, const PageMaps& maps) {
  if (maps.empty()) return line.letters;
  const double cell = maps.pixels_of_cell();
  std::vector<Component> on;
  for (const Component& c : line.letters) {
    double sum = 0, weight = 0;
    for (double y = line.box.y0; y < line.box.y1 + cell; y += cell / 4) {
      const double seen = std::max(0.0, maps.at(kBaselineMap, {centre(c), y}) - kLeastSeen);
      sum += seen * y;
      weight += seen;
    }
    if (weight <= 0 || std::fabs(sum / weight - c.y1) < kFootOff * cell) on.push_back(c);
  }
  return 2 * on.size() >= line.letters.size() ? line.letters : on.size() >= 2 ? on : line.letters;
}

// Straight line through most of the letters' lower edges: median of pairwise slopes (Theil 1950,
// Sen 1968), pairs taken half a line apart.
Slope straight_fit(const std::vector<Component>& letters) {
  Slope fit;
  const size_t n = letters.size(), half = n / 2;
  std::vector<double> slopes;
  for (size_t i = 0; i + half < n && half > 0; ++i) {
    const Component &a = letters[i], &b = letters[i + half];
    if (centre(b) - centre(a) > 2.0 * std::max(a.height(), b.height())) {
      slopes.push_back((b.y1 - a.y1) / (centre(b) - centre(a)));
    }
  }
  if (slopes.size() >= 3) fit.slope = median(slopes);
  std::vector<double> offsets;
  for (const Component& c : letters) offsets.push_back(c.y1 - fit.slope * centre(c));
  fit.at0 = median(offsets);
  return fit;
}

// Knots along the line, each the median of the lower edges around it.
Polyline bent_baseline(const LetterLine& line, const Slope& straight, double size) {
  const double x0 = line.box.x0, x1 = line.box.x1;
  if (line.letters.size() < kBendable) return {{x0, straight(x0)}, {x1, straight(x1)}};
  const int knots = std::max(2, static_cast<int>((x1 - x0) / (kKnotDistance * size)) + 1);
  std::vector<double> offsets;
  for (int k = 0; k < knots; ++k) {
    const double x = x0 + (x1 - x0) * k / (knots - 1);
    std::vector<double> near;
    for (const Component& c : line.letters) {
      const double off = c.y1 - straight(centre(c));
      if (std::fabs(centre(c) - x) < kKnotReach * size && std::fabs(off) < 0.8 * size)
        near.push_back(off);
    }
    offsets.push_back(near.size() >= 5 ? median(near) : (offsets.empty() ? 0.0 : offsets.back()));
  }
  Polyline baseline;
  for (int k = 0; k < knots; ++k) {
    const auto at = [&](int i) {
      return offsets[static_cast<size_t>(std::clamp(i, 0, knots - 1))];
    };
    const double x = x0 + (x1 - x0) * k / (knots - 1);
    baseline.push_back({x, straight(x) + (at(k - 1) + 2 * at(k) + at(k + 1)) / 4});
  }
  return baseline;
}

// What a line's letters say about its size.
struct Heights {
  double low = 0, high = 0;  // medians of the lower and of the upper group; equal when there is one
  bool two_groups = false;
  size_t count = 0;
};

Heights heights_of(const LetterLine& line) {
  std::vector<double> tops;
  for (const Component& c : line.letters) {
    const double h = height_at(line.baseline, centre(c)) - c.y0;
    if (h > 0.3 * c.height()) tops.push_back(h);
  }
  Heights heights;
  heights.count = tops.size();
  if (tops.empty()) return heights;
  std::sort(tops.begin(), tops.end());
  // The widest relative step between neighbours in the middle part parts the groups.
  const size_t n = tops.size();
  double widest = 0;
  size_t cut = 0;
  for (size_t i = std::max<size_t>(1, n / 8);
       i + std::max<size_t>(1, n / 20) <= n - (n > 1 ? 0 : 1) && i < n; ++i) {
    const std::vector<double> low(tops.begin(), tops.begin() + static_cast<long>(i));
    const std::vector<double> high(tops.begin() + static_cast<long>(i), tops.end());
    const double of_low = median(low), of_high = median(high), ratio = of_high / of_low;
    // Tight groups far apart score best: distance of the medians over the spread inside.
    double spread = 0;
    for (double t : low) spread += std::fabs(t - of_low);
    for (double t : high) spread += std::min(std::fabs(t - of_high), 0.3 * of_high);
    const double score = (of_high - of_low) / (spread / static_cast<double>(n) + 0.02 * of_high);
    if (ratio > kLeastAscender && ratio < kMostAscender && score > widest) {
      widest = score;
      cut = i;
    }
  }
  if (cut > 0 && widest > 3 && n >= 4) {
    heights.two_groups = true;
    heights.low = median(std::vector<double>(tops.begin(), tops.begin() + static_cast<long>(cut)));
    heights.high = median(std::vector<double>(tops.begin() + static_cast<long>(cut), tops.end()));
  } else {
    heights.low = heights.high = median(tops);
  }
  return heights;
}

// The page's own main x-height and ascender ratio, from lines that show both.
struct PageSizes {
  double x_height = 0, ascender = kUsualAscender;
};

PageSizes page_sizes(const std::vector<Heights>& all) {
  std::vector<double> lows, ratios;
  for (const Heights& h : all) {
    if (!h.two_groups || h.count < 8) continue;
    for (size_t i = 0; i < h.count; i += 4) {  // long lines count for more
      lows.push_back(h.low);
      ratios.push_back(h.high / h.low);
    }
  }
  PageSizes sizes;
  if (!lows.empty()) {
    sizes.x_height = median(lows);
    sizes.ascender = median(ratios);
  }
  return sizes;
}

double close_to(double a, double b) {
  return std::fabs(std::log(a / b));
}

// The mean length of the runs of ink in a line's box, without bars and serifs: those that are much
// longer than the middle one.
double stroke_in(const std::vector<Run>& runs, const Box& box) {
  const auto above = [](const Run& r, double y) { return r.y < y; };
  const auto first = std::lower_bound(runs.begin(), runs.end(), box.y0, above);
  const auto last = std::lower_bound(first, runs.end(), box.y1, above);
  std::vector<int> lengths;
  for (auto r = first; r != last; ++r) {
    if (r->x0 >= box.x0 && r->x1 <= box.x1) lengths.push_back(r->x1 - r->x0);
  }
  if (lengths.empty()) return 0;
  const double longest = kLongestStroke * median(lengths);
  double sum = 0, count = 0;
  for (int length : lengths) {
    if (length > longest) continue;
    sum += length;
    ++count;
  }
  return sum / count;
}

}  // namespace

void measure_lines(const Components& found, const PageMaps& maps, double text_height,
                   const std::vector<LetterLine*>& lines) {
  std::vector<Heights> all;
  for (LetterLine* line : lines) {
    line->baseline = bent_baseline(*line, straight_fit(standing(*line, maps)), text_height);
    line->stroke = stroke_in(found.runs, line->box);
    all.push_back(heights_of(*line));
  }
  const PageSizes page = page_sizes(all);
  for (size_t i = 0; i < lines.size(); ++i) {
    const Heights& h = all[i];
    LetterLine& line = *lines[i];
    line.size_sure = h.two_groups && h.count >= 8;
    line.x_height = h.two_groups ? h.low : h.high / page.ascender;
    if (page.x_height <= 0) continue;
    // One size class for the page's main text: lines near it take the page's measure.
    const bool body = h.two_groups && close_to(h.low, page.x_height) < 0.14;
    const bool body_capitals =
        !h.two_groups && close_to(h.high / page.ascender, page.x_height) < 0.14;
    const bool body_small = !h.two_groups && close_to(h.high, page.x_height) < 0.12;
    if (body) line.x_height = h.count >= 25 ? (h.low + page.x_height) / 2 : page.x_height;
    if (body_capitals || body_small) line.x_height = page.x_height;
    line.size_sure = line.size_sure || body_capitals;
  }
}

}  // namespace burnisher::layout
