#include "clean/rules.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "raster/turn.h"

namespace burnisher::clean {
namespace {

constexpr double kRun = 2.5;            // text heights: shortest run that may be part of a rule
constexpr double kShortest = 5;         // text heights: shortest rule
constexpr double kThickest = 0.45;      // text heights
constexpr double kSlender = 14;         // length over thickness
constexpr double kHatchPitch = 1.3;     // text heights; rules of tables stand further apart
constexpr int kMostBeside = 3;          // itself and those of a double rule
constexpr double kPicture = 8;          // text heights
constexpr double kWidestLetters = 6;    // text heights of letters that touch
constexpr double kHighestLetter = 3.5;  // text heights; capitals of headings stay below
constexpr double kGap = 2.5;            // text heights bridged between pieces of one rule
constexpr double kCrossing = 1.7;  // runs across longer than this times the thickness are letters

// A stretch of a rule: the middle of its ink from column to column.
struct Piece {
  int x0 = 0, x1 = 0;
  double y0 = 0, y1 = 0;  // middle height at either end
  double area = 0;
  int top = 0, bottom = 0;
};

struct Rule {
  std::vector<Piece> pieces;  // left to right
  double thickness = 0;
  int x0() const { return pieces.front().x0; }
  int x1() const { return pieces.back().x1; }
};

// Long runs that touch on neighbouring rows make one piece.
std::vector<Piece> pieces_of(const std::vector<Run>& runs, double text_height) {
  std::vector<Run> longs;
  const int shortest = std::max(12, static_cast<int>(kRun * text_height));
  for (const Run& run : runs) {
    if (run.x1 - run.x0 >= shortest) longs.push_back(run);
  }
  std::vector<size_t> parent(longs.size());
  for (size_t i = 0; i < parent.size(); ++i) parent[i] = i;
  const auto root = [&](size_t i) {
    while (parent[i] != i) i = parent[i] = parent[parent[i]];
    return i;
  };
  size_t above = 0;
  for (size_t i = 0; i < longs.size(); ++i) {
    while (longs[above].y < longs[i].y - 1) ++above;
    for (size_t k = above; k < i && longs[k].y < longs[i].y; ++k) {
      if (longs[k].x0 <= longs[i].x1 && longs[i].x0 <= longs[k].x1) parent[root(k)] = root(i);
    }
  }
  std::vector<std::vector<Run>> groups(longs.size());
  for (size_t i = 0; i < longs.size(); ++i) groups[root(i)].push_back(longs[i]);
  std::vector<Piece> pieces;
  for (const auto& group : groups) {
    if (group.empty()) continue;
    Piece p{group[0].x0, group[0].x1, 0, 0, 0, group[0].y, group[0].y + 1};
    for (const Run& run : group) {
      p.x0 = std::min(p.x0, run.x0);
      p.x1 = std::max(p.x1, run.x1);
      p.top = std::min(p.top, run.y);
      p.bottom = std::max(p.bottom, run.y + 1);
      p.area += run.x1 - run.x0;
    }
    // A level line through the runs, weighted by their length.
    double sx = 0, sy = 0, sxx = 0, sxy = 0, n = 0;
    for (const Run& run : group) {
      const double w = run.x1 - run.x0, x = (run.x0 + run.x1) / 2.0, y = run.y + 0.5;
      n += w;
      sx += w * x;
      sy += w * y;
      sxx += w * (x * x + w * w / 12);
      sxy += w * x * y;
    }
    const double slope = (sxy - sx * sy / n) / std::max(1e-9, sxx - sx * sx / n);
    const double middle = sy / n - slope * sx / n;
    p.y0 = middle + slope * p.x0;
    p.y1 = middle + slope * p.x1;
    pieces.push_back(p);
  }
  return pieces;
}

// Pieces that go on one another, over gaps where the scan lost ink or the rule drifts.
std::vector<Rule> joined(std::vector<Piece> pieces, double text_height) {
  std::sort(pieces.begin(), pieces.end(),
            [](const Piece& a, const Piece& b) { return a.x0 < b.x0; });
  std::vector<Rule> rules;
  for (const Piece& p : pieces) {
    Rule* on = nullptr;
    for (Rule& rule : rules) {
      const Piece& last = rule.pieces.back();
      const double gap = p.x0 - last.x1;
      if (gap > kGap * text_height || gap < -0.5 * (last.x1 - last.x0)) continue;
      if (std::fabs(p.y0 - last.y1) > 0.2 * text_height + 0.02 * std::max(0.0, gap)) continue;
      on = &rule;
    }
    if (on == nullptr) {
      rules.emplace_back();
      on = &rules.back();
    }
    on->pieces.push_back(p);
  }
  return rules;
}

bool is_rule(Rule& rule, double text_height) {
  double area = 0, length = 0, x1 = 0;
  for (const Piece& p : rule.pieces) {
    area += p.area;
    length += p.x1 - p.x0;
    x1 = std::max<double>(x1, p.x1);
    if (p.bottom - p.top > std::max(3.0, kThickest * text_height) + 0.01 * (p.x1 - p.x0))
      return false;
  }
  const double reach = x1 - rule.x0();
  rule.thickness = area / std::max(1.0, length);
  return reach >= kShortest * text_height &&
         rule.thickness <= std::max(3.0, kThickest * text_height) &&
         reach >= kSlender * rule.thickness && length > 0.6 * reach;
}

// The run of ink in column `x` nearest to height `y`, within `reach` of it; empty: none.
struct Across {
  int top = 0, bottom = 0;
};
Across run_at(const Bitonal& ink, int x, double y, int reach, int longest) {
  const int centre = static_cast<int>(y);
  for (int away = 0; away <= reach; ++away) {
    for (const int row : {centre + away, centre - away}) {
      if (row < 0 || row >= ink.height() || !ink.ink(x, row)) continue;
      Across run{row, row + 1};
      while (run.top > 0 && ink.ink(x, run.top - 1) && row - run.top < longest) --run.top;
      while (run.bottom < ink.height() && ink.ink(x, run.bottom) && run.bottom - row < longest)
        ++run.bottom;
      return run;
    }
  }
  return {};
}

// Takes the rule's own pixels, column by column. The rule is followed where it drifts off the
// straight lines its pieces were fitted with.
void mark(const Rule& rule, const Bitonal& ink, Bitonal& pixels) {
  const double limit = kCrossing * rule.thickness + 1.5;
  const int reach = static_cast<int>(rule.thickness / 2 + 1.5);
  double drift = 0;
  for (size_t i = 0; i < rule.pieces.size(); ++i) {
    const Piece& p = rule.pieces[i];
    // On to the next piece, so that what is left in the gap goes, too.
    const bool more = i + 1 < rule.pieces.size();
    const int end = more ? std::max(p.x1, rule.pieces[i + 1].x0) : p.x1;
    for (int x = p.x0; x < end; ++x) {
      double y = p.y0 + (p.y1 - p.y0) * (x - p.x0) / std::max(1, p.x1 - p.x0);
      if (x >= p.x1)
        y = p.y1 + (rule.pieces[i + 1].y0 - p.y1) * (x - p.x1) / std::max(1, end - p.x1);
      const Across run = run_at(ink, x, y + drift, reach, static_cast<int>(2 * limit));
      if (run.bottom == run.top || run.bottom - run.top > limit) continue;
      drift += 0.2 * ((run.top + run.bottom) / 2.0 - y - drift);
      for (int k = run.top; k < run.bottom; ++k) pixels.set_ink(x, k, true);
    }
  }
}

// Where two rules cross, both runs are long: their common square goes with them.
void mark_crossings(const std::vector<Component>& rules, const Bitonal& ink, Bitonal& pixels) {
  for (const Component& a : rules) {
    if (a.width() < a.height()) continue;
    const double thick_a = static_cast<double>(a.area) / a.width();
    for (const Component& b : rules) {
      if (b.width() >= b.height()) continue;
      const double thick_b = static_cast<double>(b.area) / b.height();
      const int slack = static_cast<int>(std::max(thick_a, thick_b) / 2 + 2);
      if (b.x1 + slack < a.x0 || b.x0 - slack > a.x1 || a.y1 + slack < b.y0 || a.y0 - slack > b.y1)
        continue;
      for (int y = std::max(1, a.y0 - slack); y < std::min(ink.height() - 1, a.y1 + slack); ++y) {
        for (int x = std::max(1, b.x0 - slack); x < std::min(ink.width() - 1, b.x1 + slack); ++x)
          if (ink.ink(x, y)) pixels.set_ink(x, y, true);
      }
    }
  }
}

// Hatching and halftone of pictures: many lines closer to one another than rows of print are.
void drop_hatching(double text_height, std::vector<Rule>& rules) {
  const auto crowded = [&](const Rule& rule) {
    const double y = (rule.pieces.front().y0 + rule.pieces.back().y1) / 2;
    return std::count_if(rules.begin(), rules.end(), [&](const Rule& other) {
             const double apart =
                 std::fabs((other.pieces.front().y0 + other.pieces.back().y1) / 2 - y);
             return apart < kHatchPitch * text_height &&
                    overlap(rule.x0(), rule.x1(), other.x0(), other.x1()) >
                        0.4 * (rule.x1() - rule.x0());
           }) > kMostBeside;
  };
  std::vector<Rule> kept;
  for (const Rule& rule : rules) {
    if (!crowded(rule)) kept.push_back(rule);
  }
  rules = std::move(kept);
}

// Level rules of one picture; upright ones are found in the transposed one.
std::vector<Rule> level_rules(const std::vector<Run>& runs, double text_height) {
  std::vector<Rule> rules;
  for (Rule& rule : joined(pieces_of(runs, text_height), text_height)) {
    if (is_rule(rule, text_height)) rules.push_back(std::move(rule));
  }
  drop_hatching(text_height, rules);
  return rules;
}

Component box_of(const Rule& rule) {
  Component c{rule.x0(), rule.pieces[0].top, rule.x1(), rule.pieces[0].bottom, 0};
  for (const Piece& p : rule.pieces) {
    c.y0 = std::min(c.y0, p.top);
    c.y1 = std::max(c.y1, p.bottom);
    c.x1 = std::max(c.x1, p.x1);
    c.area += static_cast<int>(p.area);
  }
  return c;
}

void add(const Bitonal& more, Bitonal& to) {
  for (int y = 0; y < to.height(); ++y) {
    for (int i = 0; i < to.stride(); ++i) to.row(y)[i] |= more.row(y)[i];
  }
}

// Frames and strokes of pictures stay: large components that are still large when their rules are
// gone, while tables and ruled paper fall apart into letters.
void give_back_pictures(const Bitonal& ink, double text_height, FoundRules& found) {
  const Components whole = components_of(ink);
  std::vector<Component> large;
  for (const Component& c : whole.list) {
    if (std::min(c.width(), c.height()) > kPicture * text_height) large.push_back(c);
  }
  if (large.empty()) return;
  Bitonal rest = ink.clone();
  for (int y = 0; y < rest.height(); ++y) {
    for (int i = 0; i < rest.stride(); ++i)
      rest.row(y)[i] = static_cast<uint8_t>(rest.row(y)[i] & ~found.pixels.row(y)[i]);
  }
  const Components left = components_of(rest);
  for (const Component& picture : large) {
    double all = 0, big = 0;
    for (const Component& c : left.list) {
      if (!picture.box().contains(c.box().centre())) continue;
      all += c.area;
      if (c.width() > kWidestLetters * text_height || c.height() > kHighestLetter * text_height)
        big += c.area;
    }
    if (big < 0.5 * all || all < 0.3 * picture.area) continue;
    for (int y = picture.y0; y < picture.y1; ++y) {
      for (int x = picture.x0; x < picture.x1; ++x) found.pixels.set_ink(x, y, false);
    }
    found.list.erase(std::remove_if(found.list.begin(), found.list.end(),
                                    [&](const Component& c) {
                                      return picture.box().contains(c.box().centre());
                                    }),
                     found.list.end());
  }
}

}  // namespace

FoundRules rules_of(const Bitonal& ink, double text_height) {
  FoundRules found;
  found.pixels = Bitonal(ink.width(), ink.height());
  if (text_height <= 0) return found;
  for (const Rule& rule : level_rules(components_of(ink).runs, text_height)) {
    mark(rule, ink, found.pixels);
    found.list.push_back(box_of(rule));
  }
  const Bitonal sideways = transposed(ink);
  Bitonal pixels(sideways.width(), sideways.height());
  bool any = false;
  for (const Rule& rule : level_rules(components_of(sideways).runs, text_height)) {
    mark(rule, sideways, pixels);
    const Component c = box_of(rule);
    found.list.push_back({c.y0, c.x0, c.y1, c.x1, c.area});
    any = true;
  }
  if (any) add(transposed(pixels), found.pixels);
  mark_crossings(found.list, ink, found.pixels);
  if (!found.list.empty()) give_back_pictures(ink, text_height, found);
  return found;
}

}  // namespace burnisher::clean
