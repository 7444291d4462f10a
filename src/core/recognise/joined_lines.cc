#include "recognise/joined_lines.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "base/statistics.h"

namespace burnisher::recognise {
namespace {

// What is looked at: the line at a size as good as any, with room for what is wrong with its place.
const StripFrame kWide{80, 14.4, 48};
constexpr uint8_t kInk = (kPaperLevel + kInkLevel) / 2;
// Of the x-height that layout analysis found.
constexpr double kOffMost = 1.1;       // that the baseline may lie off
constexpr double kTiltMost = 1.4;      // that one end may lie higher than the other
constexpr double kBendsLeast = 0.6;    // smaller bends of its baseline are noise
constexpr double kUprightLeast = 0.8;  // strokes that stand on the baseline
constexpr double kFootMost = 0.35;     // from the baseline to the foot of such a stroke
constexpr double kOneSize = 0.15;      // sizes this near are the same
constexpr double kFoundAlike = 0.4;    // and these, as layout analysis found them
constexpr double kRule = 0.95;         // of a row, in ink: more is no stroke of letters
constexpr double kMargin = 0.6;        // beyond the line's ends, where rules go on
constexpr double kSingle = 9;          // lines no longer than that: a word or two, a cell
constexpr double kLeastStroke = 0.1;   // of a line's length, that its joining stroke covers
constexpr size_t kFewestUprights = 2;
constexpr size_t kLeastWidth = 3;  // x-heights of line, to see a baseline in

// A line as found: straight through the middle of its points, or bent.
struct Found {
  Point middle;
  double slope = 0, length = 0;
  bool bent = false;
};

Found found_at(const LinePlace& place) {
  Found found;
  for (const Point& p : place.baseline) found.middle = found.middle + p;
  found.middle = found.middle * (1.0 / static_cast<double>(place.baseline.size()));
  double xx = 0, xy = 0;
  for (const Point& p : place.baseline) {
    xx += (p.x - found.middle.x) * (p.x - found.middle.x);
    xy += (p.x - found.middle.x) * (p.y - found.middle.y);
  }
  found.slope = xx > 0 ? xy / xx : 0;
  found.length = std::abs(place.baseline.back().x - place.baseline.front().x);
  for (const Point& p : place.baseline) {
    const double off = found.middle.y + found.slope * (p.x - found.middle.x) - p.y;
    found.bent = found.bent || std::abs(off) > kBendsLeast * place.x_height;
  }
  return found;
}

// Of all lines, the longer one the surer.
double common_slope(const std::vector<Found>& lines) {
  std::vector<std::pair<double, double>> slopes;
  for (const Found& line : lines) slopes.push_back({line.slope, line.length});
  return weighted_median(slopes);
}

// Lines of one page run alike; single ones are tilted by the tails of their letters.
Polyline straightened(const LinePlace& place, const Found& found, double slope) {
  const Point first = place.baseline.front(), last = place.baseline.back();
  const bool level = std::abs(last.x - first.x) > std::abs(last.y - first.y);
  if (found.bent || !level) return place.baseline;
  return {{first.x, found.middle.y + slope * (first.x - found.middle.x)},
          {last.x, found.middle.y + slope * (last.x - found.middle.x)}};
}

struct Stroke {
  double row = 0;   // of its middle, where the strip begins
  double tilt = 0;  // rows that it falls from there to the strip's end
  double thick = 0;
  double share = 0;  // of the line's length that it covers
};

class Ink {
 public:
  explicit Ink(const Gray& strip) : strip_(strip) {}
  int width() const { return strip_.width(); }
  int height() const { return strip_.height(); }
  bool at(int x, int y) const { return y >= 0 && y < height() && strip_.row(y)[x] > kInk; }

  // How much ink each row has when the strip is sheared by `tilt`; none where it runs all along,
  // margins and all: that is a rule.
  std::vector<int> profile(double tilt) const {
    std::vector<int> rows(static_cast<size_t>(height()), 0);
    for (int x = 0; x < width(); ++x) {
      const int down = static_cast<int>(std::lround(tilt * x / std::max(1, width() - 1)));
      for (int y = 0; y < height(); ++y) rows[static_cast<size_t>(y)] += at(x, y + down);
    }
    for (int& row : rows) row = row > kRule * width() ? 0 : row;
    return rows;
  }

 private:
  const Gray& strip_;
};

// Two rows together, so that a thin stroke between two rows counts as one.
Stroke joining_stroke(const Ink& ink, bool single) {
  Stroke best;
  int most = 0;
  const double room = kOffMost * kWide.x_height,
               tilt_room = single ? 0 : kTiltMost * kWide.x_height;
  for (double tilt = -tilt_room; tilt <= tilt_room; tilt += 1) {
    const std::vector<int> rows = ink.profile(tilt);
    for (int y = 1; y < ink.height(); ++y) {
      if (std::abs(y - 0.5 + tilt / 2 - kWide.baseline) > room) continue;
      const int two = rows[static_cast<size_t>(y)] + rows[static_cast<size_t>(y) - 1];
      if (two <= most) continue;
      most = two;
      best = {y - 0.5, tilt, 0, most / (2.0 * ink.width())};
    }
  }
  // Down to where the ink is half as much.
  const std::vector<int> rows = ink.profile(best.tilt);
  int foot = static_cast<int>(best.row);
  while (foot + 1 < ink.height() && 4 * rows[static_cast<size_t>(foot) + 1] > most) ++foot;
  best.thick = 2 * (foot + 0.5 - best.row);
  return best;
}

// Heights of the strokes that go straight up from the baseline, each once.
std::vector<double> uprights(const Ink& ink, const Stroke& stroke) {
  std::vector<double> heights;
  double tallest = 0;
  int bare = 0;
  for (int x = 0; x < ink.width(); ++x) {
    const double base =
        stroke.row + stroke.thick / 2 + stroke.tilt * x / std::max(1, ink.width() - 1);
    int foot = static_cast<int>(std::lround(base));
    const int highest = foot - static_cast<int>(kFootMost * kWide.x_height);
    while (foot > highest && !ink.at(x, foot)) --foot;
    int top = foot;
    while (top >= 0 && ink.at(x, top)) --top;
    const double height = base - top - 0.5;
    const bool stands = foot > highest && height > kUprightLeast * kWide.x_height;
    if (stands) {
      tallest = std::max(tallest, height);
      bare = 0;
    } else if (tallest > 0 && ++bare > 1) {
      heights.push_back(tallest);
      tallest = 0;
    }
  }
  if (tallest > 0) heights.push_back(tallest);
  return heights;
}

struct Measured {
  LinePlace place;
  std::optional<double> x_height;  // by its uprights
  bool single = false;
};

bool is_single(const LinePlace& place) {
  const Point run = place.baseline.back() - place.baseline.front();
  return std::hypot(run.x, run.y) < kSingle * place.x_height;
}

Measured measured(const Gray& page, const LinePlace& found, const Polyline& baseline) {
  LinePlace place = found;
  place.baseline = baseline;
  const StripMap map(place, kWide, kMargin, kMargin);
  if (map.width() < static_cast<int>(kLeastWidth * kWide.x_height))
    return {found, std::nullopt, is_single(found)};
  const Gray strip = extract_strip(page, map, kWide);
  const Ink ink(strip);
  // One word's tail draws its stroke down: single ones run as the page's lines do.
  const Stroke stroke = joining_stroke(ink, is_single(found));
  if (stroke.share < kLeastStroke) return {found, std::nullopt, is_single(found)};
  const double beyond = kMargin * kWide.x_height / ink.width();  // of the strip, at either end
  const double start = stroke.row + stroke.thick / 2 - kWide.baseline;
  const double left = start + stroke.tilt * beyond, right = start + stroke.tilt * (1 - beyond);
  // Moved as far as the stroke lies off, at each point in proportion.
  const Point first = place.baseline.front(), along = place.baseline.back() - first;
  const double length = std::max(1e-6, std::hypot(along.x, along.y));
  const Point down = Point{-along.y, along.x} * (map.scale() / length);
  for (Point& p : place.baseline) {
    const Point d = p - first;
    const double share = (d.x * along.x + d.y * along.y) / (length * length);
    p = p + down * (left + (right - left) * share);
  }
  const std::vector<double> heights = uprights(ink, stroke);
  if (heights.size() < kFewestUprights) return {place, std::nullopt, is_single(found)};
  return {place, kOfAlif * median(heights) * map.scale(), is_single(found)};
}

}  // namespace

std::vector<LinePlace> placed_on_joining_stroke(const Gray& page,
                                                const std::vector<LinePlace>& places) {
  std::vector<Measured> all;
  std::vector<Found> found;
  for (const LinePlace& place : places) found.push_back(found_at(place));
  const double slope = common_slope(found);
  for (size_t i = 0; i < places.size(); ++i)
    all.push_back(measured(page, places[i], straightened(places[i], found[i], slope)));
  std::vector<LinePlace> result;
  for (const Measured& line : all) {
    result.push_back(line.place);
    // One that has no uprights of its own takes the size of those that were found as large.
    const double own = line.x_height.value_or(0);
    std::vector<double> alike;
    for (size_t k = 0; k < all.size(); ++k) {
      if (!all[k].x_height) continue;
      const double ratio =
          own > 0 ? *all[k].x_height / own : places[k].x_height / line.place.x_height;
      if (std::abs(ratio - 1) < (own > 0 && !line.single ? kOneSize : kFoundAlike))
        alike.push_back(*all[k].x_height);
    }
    if (!alike.empty()) result.back().x_height = median(alike);
  }
  return result;
}

}  // namespace burnisher::recognise
