#include "layout/lines.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

#include "base/statistics.h"
#include "layout/leaders.h"

namespace burnisher::layout {
namespace {

constexpr double kMarkGap = 3;      // text heights between a line's end and its next mark
constexpr double kMarkOff = 0.35;   // text heights between its foot and the line's
constexpr double kLeaderOff = 0.6;  // the same of a leader's first dot, or from dot to dot
constexpr double kDottedWhite = 2;  // text heights of dots between label and entry, at least
constexpr double kNearer = 0.02;    // what a pixel beside counts against one above
constexpr double kLeaderGap = 20;   // text heights between a line's end and its leader
constexpr size_t kMemory = 7;       // letters at the end of a line that say where it runs
constexpr double kMostJoined = 6;   // line heights between pieces that may be one line
constexpr double kLeastOverlap = 0.45;
// Of broken-off feet: the share of their width that lies under their line, their height and how far
// off they may be, in heights of its band.
constexpr double kWithin = 0.8, kFeet = 0.8, kRoundFeet = 0.25;
constexpr double kLaidOver = 0.3;    // of the smaller band
constexpr double kMostUnlike = 3.2;  // ratio of heights of neighbouring letters
// Small print among large.
constexpr double kSmallestLetter = 0.15;  // text heights
constexpr size_t kFewestSmall = 4;        // letters
constexpr double kCloseTogether = 1;      // letter heights of white
constexpr double kRoundBand = 0.2;        // of a line's height: where its own marks are
// White between letters, in letter heights.
constexpr double kLeastGutter = 0.35;  // narrower: within a word
constexpr double kSpace = 1.3;         // up to which it is rather a space
constexpr double kWide = 4;            // from which it is rather none
constexpr double kDoubt = 0.15;        // on the scale of the maps
constexpr double kRatherSpace = 0.3;   // the same where the white is as wide as a space
constexpr double kTallest = 2;         // text heights: lines that reach further are few
constexpr size_t kTidyEvery = 2000;    // components
constexpr double kWidest = 60;         // leaders reach across a page

// A line that still grows to the right.
struct Growing {
  LetterLine line;
  double end = 0;                          // right edge of everything taken in
  bool leads = false;                      // the latest is a leader's dot,
  double leader = 0;                       // and this is its foot
  double top = 0, bottom = 0, height = 0;  // of the latest letters

  void take(const Component& c) {
    line.letters.push_back(c);
    end = std::max<double>(end, c.x1);
    leads = false;
    std::vector<double> tops, bottoms, heights;
    const size_t count = line.letters.size(), first = count > kMemory ? count - kMemory : 0;
    for (size_t i = first; i < count; ++i) {
      tops.push_back(line.letters[i].y0);
      bottoms.push_back(line.letters[i].y1);
      heights.push_back(line.letters[i].height());
    }
    top = median(tops);
    bottom = median(bottoms);
    height = median(heights);
  }
};

// Says where the white between two things on one level parts two lines.
class Cuts {
 public:
  Cuts(const PageMaps& maps, const Columns& columns) : maps_(maps), columns_(columns) {}

  // Where a person drew a border between columns, which stops even leaders.
  bool by_hand(const Box& white) const {
    return !columns_.found && std::any_of(columns_.at.begin(), columns_.at.end(),
                                          [&](double x) { return x > white.x0 && x < white.x1; });
  }

  // `size`: height of the letters.
  bool part(const Box& white, double size) const {
    if (!columns_.found) return by_hand(white);
    if (white.width() < kLeastGutter * size) return false;
    const double end = maps_.column_peak(kEndMap, white);
    const double core = maps_.column_least(kBandMap, white);
    // Where the network is of two minds, the breadth of the white decides.
    const bool space = white.width()<kSpace * size, wide = white.width()> kWide * size;
    return end > core + (space ? kRatherSpace : wide ? -kDoubt : 0);
  }

 private:
  const PageMaps& maps_;
  const Columns& columns_;
};

// How well a letter continues a line; 0: not at all.
double fit(const Growing& g, const Component& c, const Cuts& cuts) {
  const double gap = c.x0 - g.end;
  const double size = std::max<double>(g.height, c.height());
  if (gap > kWidest * std::min<double>(size, 1.6 * g.height)) return 0;
  const double smaller = std::min<double>(g.height, c.height());
  if (size > kMostUnlike * smaller) return 0;
  const double shared =
      overlap(c.y0, c.y1, g.top, g.bottom) / std::min<double>(c.height(), g.bottom - g.top);
  if (shared < kLeastOverlap) return 0;
  const Box white{g.end, std::max<double>(g.top, c.y0), static_cast<double>(c.x0),
                  std::min<double>(g.bottom, c.y1)};
  const bool led = g.leads && gap < kMarkGap * g.height;
  if (led ? cuts.by_hand(white) : cuts.part(white, smaller)) return 0;
  return shared / (1 + 0.15 * std::max(0.0, gap) / size);
}

void take_mark(std::vector<Growing>& growing, const Component& c, bool leads, double text_height,
               const Cuts& cuts) {
  // Low marks continue a line on their own, so that leaders reach their page number.
  Growing* best = nullptr;
  double nearest = 1e18;
  for (Growing& g : growing) {
    const double gap = c.x0 - g.end;
    const double below = c.y1 - (leads && g.leads ? g.leader : g.bottom);
    const double off = std::fabs(below) + kNearer * std::max(0.0, gap);
    const double most = (leads ? kLeaderGap : kMarkGap) * text_height;
    if (gap < -text_height || gap > most || off >= nearest) continue;
    const Box white{g.end, g.top, static_cast<double>(c.x0), g.bottom};
    if (std::fabs(below) > (leads ? kLeaderOff : kMarkOff) * text_height) continue;
    if (leads ? cuts.by_hand(white) : cuts.part(white, text_height)) continue;
    nearest = off;
    best = &g;
  }
  if (best == nullptr) return;
  best->end = std::max<double>(best->end, c.x1);
  best->leads = leads;
  best->leader = c.y1;
}

double median_height(const std::vector<Component>& letters) {
  std::vector<double> heights;
  for (const Component& c : letters) heights.push_back(c.height());
  return median(heights);
}

Box box_of(const std::vector<Component>& parts) {
  Box box;
  for (const Component& c : parts) box = united(box, c.box());
  return box;
}

// Pieces of one printed line that were started separately are put together.
void join_pieces(std::vector<LetterLine>& lines, const Cuts& cuts) {
  std::sort(lines.begin(), lines.end(),
            [](const LetterLine& a, const LetterLine& b) { return a.box.x0 < b.box.x0; });
  for (size_t i = 0; i < lines.size(); ++i) {
    for (size_t k = i + 1; k < lines.size();) {
      Box &a = lines[i].box, &b = lines[k].box;
      if (b.x0 > a.x1 + kMostJoined * a.height()) break;
      const double gap = b.x0 - a.x1, lower = std::min(a.height(), b.height());
      const bool level = overlap(a.y0, a.y1, b.y0, b.y1) > 0.6 * lower;
      const bool alike = std::max(a.height(), b.height()) < 1.8 * lower;
      const bool near = gap > -0.3 * std::min(a.width(), b.width());
      const Box white{a.x1, std::max(a.y0, b.y0), b.x0, std::min(a.y1, b.y1)};
      if (level && alike && near && !cuts.part(white, lower)) {
        lines[i].letters.insert(lines[i].letters.end(), lines[k].letters.begin(),
                                lines[k].letters.end());
        a = united(a, b);
        lines.erase(lines.begin() + static_cast<long>(k));
        k = std::max(i + 1, k > 8 ? k - 8 : 0);
      } else {
        ++k;
      }
    }
  }
  for (LetterLine& line : lines) {
    std::sort(line.letters.begin(), line.letters.end(),
              [](const Component& a, const Component& b) { return a.x0 < b.x0; });
  }
}

std::vector<LetterLine> grown(const std::vector<Component>& letters,
                              const std::vector<Component>& marks, const std::vector<bool>& leads,
                              double text_height, const Cuts& cuts) {
  struct Part {
    Component c;
    bool letter, leads;
  };
  std::vector<Part> parts;
  for (const Component& c : letters) parts.push_back({c, true, false});
  for (size_t i = 0; i < marks.size(); ++i) parts.push_back({marks[i], false, leads[i]});
  std::sort(parts.begin(), parts.end(), [](const Part& a, const Part& b) {
    return std::make_pair(a.c.x0, a.c.y0) < std::make_pair(b.c.x0, b.c.y0);
  });
  std::vector<Growing> growing, done;
  const double out_of_reach = (kWidest + kLeaderGap) * kTallest * text_height;
  size_t since = 0;
  for (const auto& [c, letter, leading] : parts) {
    if (++since > kTidyEvery) {  // what ended far to the left grows no more
      since = 0;
      const double least = c.x0 - out_of_reach;
      const auto first = std::stable_partition(growing.begin(), growing.end(),
                                               [&](const Growing& g) { return g.end > least; });
      std::move(first, growing.end(), std::back_inserter(done));
      growing.erase(first, growing.end());
    }
    if (!letter) {
      take_mark(growing, c, leading, text_height, cuts);
      continue;
    }
    Growing* best = nullptr;
    double quality = 0;
    for (Growing& g : growing) {
      const double q = fit(g, c, cuts);
      if (q > quality) {
        quality = q;
        best = &g;
      }
    }
    if (best == nullptr) {
      growing.emplace_back();
      best = &growing.back();
    }
    best->take(c);
  }
  std::vector<LetterLine> lines;
  std::move(growing.begin(), growing.end(), std::back_inserter(done));
  for (Growing& g : done) {
    g.line.box = box_of(g.line.letters);
    lines.push_back(std::move(g.line));
  }
  join_pieces(lines, cuts);
  return lines;
}

// How wide the whites between a line's letters usually are, in heights of theirs.
double usual_white(const LetterLine& line) {
  std::vector<double> whites;
  for (size_t i = 1; i < line.letters.size(); ++i)
    whites.push_back(std::max(0, line.letters[i].x0 - line.letters[i - 1].x1));
  return whites.empty() ? 1e18 : median(whites) / std::max(1.0, median_height(line.letters));
}

// Small print beside large: marks that stand close together on a level of their own are letters.
// They are taken out of `marks`.
std::vector<LetterLine> small_print(const std::vector<LetterLine>& lines, double text_height,
                                    const Cuts& cuts, std::vector<Component>& marks,
                                    std::vector<bool>& leads) {
  // Accents and dots of a line stand within its letters' height, or close above.
  std::vector<Box> round_lines;
  for (const LetterLine& line : lines) {
    const double more = kRoundBand * line.band().height();
    round_lines.push_back({line.box.x0 - text_height, line.box.y0 - more, line.box.x1 + text_height,
                           line.box.y1 + more});
  }
  const auto of_a_line = [&](const Component& c) {
    const Point middle = c.box().centre();
    return std::any_of(round_lines.begin(), round_lines.end(), [&](const Box& box) {
      return middle.x > box.x0 && middle.x < box.x1 && middle.y > box.y0 && middle.y < box.y1;
    });
  };
  std::vector<Component> free;
  for (size_t i = 0; i < marks.size(); ++i) {
    if (!leads[i] && marks[i].height() >= kSmallestLetter * text_height && !of_a_line(marks[i]))
      free.push_back(marks[i]);
  }
  std::vector<LetterLine> small = grown(free, {}, {}, text_height, cuts);
  small.erase(std::remove_if(small.begin(), small.end(),
                             [](const LetterLine& line) {
                               return line.letters.size() < kFewestSmall ||
                                      usual_white(line) > kCloseTogether;
                             }),
              small.end());
  std::set<std::pair<int, int>> taken;
  for (const LetterLine& line : small) {
    for (const Component& c : line.letters) taken.emplace(c.x0, c.y0);
  }
  std::vector<Component> rest;
  std::vector<bool> rest_leads;
  for (size_t i = 0; i < marks.size(); ++i) {
    if (taken.count({marks[i].x0, marks[i].y0}) > 0) continue;
    rest.push_back(marks[i]);
    rest_leads.push_back(leads[i]);
  }
  marks = std::move(rest);
  leads = std::move(rest_leads);
  return small;
}

void assign_marks(const std::vector<Component>& marks, const std::vector<bool>& leads,
                  double text_height, const Cuts& cuts, std::vector<LetterLine>& lines) {
  for (size_t i = 0; i < marks.size(); ++i) {
    const Component& mark = marks[i];
    LetterLine* best = nullptr;
    double nearest = 0.9 * text_height;
    for (LetterLine& line : lines) {
      const Box& box = line.box;
      const double beside = std::max({0.0, box.x0 - mark.x1, mark.x0 - box.x1});
      if (beside > (leads[i] ? kLeaderGap : kMarkGap) * text_height) continue;
      const double above = std::max({0.0, box.y0 - mark.y1, mark.y0 - box.y1});
      const double distance = above + 0.15 * beside;
      if (distance >= nearest) continue;
      const bool right = mark.x0 > box.x1;
      const Box white{right ? box.x1 : mark.x1, box.y0, right ? mark.x0 : box.x0, box.y1};
      if (beside > 0 && (leads[i] ? cuts.by_hand(white) : cuts.part(white, text_height))) continue;
      nearest = distance;
      best = &line;
    }
    if (best == nullptr) continue;
    best->marks.push_back(mark);
    best->has_leader = best->has_leader || leads[i];
  }
}

// A contents line has one leader, from its title to its page. Where dots begin again, they are
// lines to write on: label, entry and the next label are lines of their own.
std::vector<LetterLine> cut_at_dotted_lines(const LetterLine& line, double text_height) {
  const std::vector<bool> leads = leader_dots(line.marks, text_height);
  std::vector<double> dots;
  for (size_t i = 0; i < leads.size(); ++i) {
    if (leads[i]) dots.push_back(line.marks[i].x0);
  }
  std::sort(dots.begin(), dots.end());
  // Before which letter there are dots.
  std::vector<size_t> starts = {0};
  double end = line.letters.front().x1;
  for (size_t i = 1; i < line.letters.size(); ++i) {
    const double next = line.letters[i].x0;
    const auto dot = std::lower_bound(dots.begin(), dots.end(), end);
    if (next - end > kDottedWhite * text_height && dot != dots.end() && *dot < next)
      starts.push_back(i);
    end = std::max<double>(end, line.letters[i].x1);
  }
  const bool trailing = !dots.empty() && dots.back() > end + kDottedWhite * text_height;
  if (starts.size() + trailing < 3) return {line};
  std::vector<LetterLine> pieces;
  for (size_t k = 0; k < starts.size(); ++k) {
    const size_t next = k + 1 < starts.size() ? starts[k + 1] : line.letters.size();
    LetterLine piece;
    piece.letters.assign(line.letters.begin() + static_cast<long>(starts[k]),
                         line.letters.begin() + static_cast<long>(next));
    const double to = next < line.letters.size() ? line.letters[next].x0 : 1e18;
    for (size_t i = 0; i < leads.size(); ++i) {
      const Component& mark = line.marks[i];
      const bool own = mark.x0 < to && (k == 0 || mark.x0 >= piece.letters.front().x0);
      if (own && !leads[i]) piece.marks.push_back(mark);
    }
    pieces.push_back(std::move(piece));
  }
  return pieces;
}

}  // namespace

Box LetterLine::band() const {
  std::vector<double> tops, bottoms;
  for (const Component& c : letters) {
    tops.push_back(c.y0);
    bottoms.push_back(c.y1);
  }
  if (tops.empty()) return box;
  return {box.x0, median(tops), box.x1, median(bottoms)};
}

void join_laid_over(std::vector<LetterLine>& lines) {
  std::vector<Box> bands;
  for (const LetterLine& line : lines) bands.push_back(line.band());
  const auto area = [](const Box& box) { return box.width() * box.height(); };
  for (size_t i = 0; i < lines.size(); ++i) {
    for (size_t k = i + 1; k < lines.size();) {
      const Box &a = bands[i], &b = bands[k];
      const double across = overlap(a.x0, a.x1, b.x0, b.x1);
      const double shared = across * overlap(a.y0, a.y1, b.y0, b.y1);
      // Feet that the threshold broke off their letters stand at the foot of their line.
      const Box &large = area(a) < area(b) ? b : a, &small = area(a) < area(b) ? a : b;
      const double middle = small.centre().y, more = kRoundFeet * large.height();
      const bool amid = across > kWithin * small.width() &&
                        small.height() < kFeet * large.height() && middle > large.y0 - more &&
                        middle < large.y1 + more;
      if (!amid && shared <= kLaidOver * std::min(area(a), area(b))) {
        ++k;
        continue;
      }
      if (area(a) < area(b)) {
        std::swap(lines[i], lines[k]);
        std::swap(bands[i], bands[k]);
      }
      for (auto parts : {&LetterLine::letters, &LetterLine::marks}) {
        auto& to = lines[i].*parts;
        to.insert(to.end(), (lines[k].*parts).begin(), (lines[k].*parts).end());
      }
      std::sort(lines[i].letters.begin(), lines[i].letters.end(),
                [](const Component& c, const Component& d) { return c.x0 < d.x0; });
      lines[i].box = united(lines[i].box, lines[k].box);
      lines[i].has_leader = lines[i].has_leader || lines[k].has_leader;
      bands[i] = lines[i].band();
      lines.erase(lines.begin() + static_cast<long>(k));
      bands.erase(bands.begin() + static_cast<long>(k));
      k = i + 1;
    }
  }
}

Box ink_of(const LetterLine& line) {
  return united(box_of(line.letters), box_of(line.marks));
}

std::vector<LetterLine> chain_lines(const Sorted& sorted, const PageMaps& maps,
                                    const Columns& columns, double text_height) {
  const Cuts cuts(maps, columns);
  std::vector<Component> marks = sorted.marks;
  std::vector<bool> leads = leader_dots(marks, text_height);
  std::vector<LetterLine> lines = grown(sorted.letters, marks, leads, text_height, cuts);
  for (LetterLine& small : small_print(lines, text_height, cuts, marks, leads))
    lines.push_back(std::move(small));
  assign_marks(marks, leads, text_height, cuts, lines);
  std::vector<LetterLine> whole;
  for (const LetterLine& line : lines) {
    for (LetterLine& piece :
         line.has_leader ? cut_at_dotted_lines(line, text_height) : std::vector<LetterLine>{line})
      whole.push_back(std::move(piece));
  }
  for (LetterLine& line : whole) line.box = ink_of(line);
  return whole;
}

void absorb_scraps(double text_height, std::vector<LetterLine>& lines) {
  const auto scrap = [&](const LetterLine& l) {
    return l.letters.size() + l.marks.size() <= 3 && l.box.width() < 6 * text_height;
  };
  // The dots of large type: far lower than the letters they stand among.
  const auto dots = [](const LetterLine& l, const Box& among, double height) {
    return l.box.y0 > among.y0 - 0.1 * height && l.box.y1 < among.y1 + 0.1 * height &&
           std::all_of(l.letters.begin(), l.letters.end(),
                       [&](const Component& c) { return c.height() < 0.45 * height; });
  };
  // Letters that broken neighbours kept from being chained: few, and within the other's height.
  const auto piece_of = [](const LetterLine& l, const LetterLine& line) {
    const Box band = box_of(line.letters);
    return 4 * l.letters.size() <= line.letters.size() &&
           overlap(l.box.x0, l.box.x1, band.x0, band.x1) > 0.9 * l.box.width() &&
           overlap(l.box.y0, l.box.y1, band.y0, band.y1) > 0.7 * l.box.height();
  };
  // Halves of one broken letter, one above the other, at a line's end or in its midst.
  const auto halves = [&](const LetterLine& l, const Box& to) {
    return l.letters.size() <= 3 && l.box.width() < 1.2 * text_height &&
           l.box.x0 > to.x0 - 0.8 * text_height && l.box.x1 < to.x1 + 1.4 * text_height &&
           overlap(l.box.y0, l.box.y1, to.y0 - 0.2 * text_height, to.y1 + 0.5 * text_height) >
               0.85 * l.box.height();
  };
  // A page of grain has thousands of lines: what costs little is asked first.
  std::vector<double> heights;
  for (const LetterLine& line : lines) heights.push_back(median_height(line.letters));
  for (size_t i = 0; i < lines.size();) {
    LetterLine* home = nullptr;
    double nearest = 1e18;
    const Box& box = lines[i].box;
    for (size_t k = 0; k < lines.size(); ++k) {
      LetterLine& line = lines[k];
      if (k == i || line.letters.size() < 4) continue;
      const Box& to = line.box;
      const double height = heights[k];
      const double apart = std::max({0.0, box.y0 - to.y1, to.y0 - box.y1});
      if (apart >= 0.35 * height || apart >= nearest) continue;
      const bool small = scrap(lines[i]) && box.height() < 0.8 * height;
      const bool half = halves(lines[i], to);
      if (!half && !small && !dots(lines[i], to, height) && !piece_of(lines[i], line)) continue;
      if (!half && overlap(box.x0, box.x1, to.x0, to.x1) < 0.5 * box.width()) continue;
      nearest = apart;
      home = &line;
    }
    if (home == nullptr) {
      ++i;
      continue;
    }
    for (auto* parts : {&lines[i].letters, &lines[i].marks}) {
      home->marks.insert(home->marks.end(), parts->begin(), parts->end());
    }
    home->box = united(home->box, box);
    lines.erase(lines.begin() + static_cast<long>(i));
    heights.erase(heights.begin() + static_cast<long>(i));
    // A line that has grown may take in what stood before it, too; few steps back see to that.
    i = i > 4 ? i - 4 : 0;
  }
}

}  // namespace burnisher::layout
