#include "layout/oversegmented_lines.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

// Text heights, but for the shares.
constexpr double kPitch = 2.2;      // from band to band, at most: a line of the same block
constexpr double kFlush = 0.8;      // as near as lines of a column end
constexpr double kIndent = 5;       // how far a first line may be indented
constexpr double kLeastColumn = 8;  // narrower ones are no columns
constexpr double kLevel = 0.5;      // share of the lower band that stands beside the other
constexpr double kLikeSize = 1.35;  // heights of letters of one block
constexpr double kSameWhite = 0.5;  // share of the narrower gap that lies over the other

// Of the lower band: a word's space at most, and how alike the pieces of a line are.
constexpr double kWordSpace = 0.9, kLikeWord = 1.3, kSameLevel = 0.6;

// Contents.
constexpr size_t kFewestLed = 4;     // lines that end at one edge
constexpr double kSameEdge = 0.7;    // text heights
constexpr double kWidestNumber = 5;  // text heights

using Row = std::vector<size_t>;  // lines that stand level, from left to right

// The band of most of a line's letters, as wide as the line.
Box extent_of(const LetterLine& line) {
  Box extent = line.band();
  extent.x0 = line.box.x0;
  extent.x1 = line.box.x1;
  return extent;
}

class Tears {
 public:
  Tears(const std::vector<Component>& rules, double text_height,
        const std::vector<LetterLine>& lines)
      : rules_(rules), h_(text_height) {
    for (const LetterLine& line : lines) bands_.push_back(extent_of(line));
  }

  // The pieces of a line right below (or above) line `whole`; fewer than two: there is none.
  Row torn_beside(size_t whole, bool below) const {
    const Box& over = bands_[whole];
    if (over.width() < kLeastColumn * h_) return {};
    const Row pieces = row_beside(over, below, kFlush * h_);
    if (pieces.size() < 2) return {};
    const Box all = span(pieces);
    if (all.x0 > over.x0 + kIndent * h_ || all.x1 < over.x1 - kFlush * h_ ||
        all.x0 < over.x0 - kFlush * h_ || all.x1 > over.x1 + kFlush * h_)
      return {};
    for (const size_t i : pieces) {
      const double a = bands_[i].height(), b = over.height();
      if (std::max(a, b) > kLikeSize * std::min(a, b)) return {};
    }
    const Row beyond = row_beside(all, below, 1e18);
    for (size_t k = 0; k + 1 < pieces.size(); ++k) {
      const Box gap{bands_[pieces[k]].x1, all.y0, bands_[pieces[k + 1]].x0, all.y1};
      if (white_goes_on(gap, beyond) || ruled(gap)) return {};
    }
    return pieces;
  }

 private:
  Box span(const Row& row) const {
    Box all;
    for (const size_t i : row) all = united(all, bands_[i]);
    return all;
  }

  // The nearest lines below (above) `band` that lie within its width, widened by `more`.
  Row row_beside(const Box& band, bool below, double more) const {
    Row near;
    double nearest = kPitch * h_;
    for (size_t i = 0; i < bands_.size(); ++i) {
      const Box& other = bands_[i];
      if (overlap(other.x0, other.x1, band.x0, band.x1) <= 0) continue;
      const double apart = below ? other.y0 - band.y1 : band.y0 - other.y1;
      if (apart < -kLevel * other.height() || apart > kPitch * h_) continue;
      near.push_back(i);
      nearest = std::min(nearest, apart);
    }
    Row row;
    Box first;
    for (const size_t i : near) {
      const double apart = below ? bands_[i].y0 - band.y1 : band.y0 - bands_[i].y1;
      if (apart == nearest) first = bands_[i];
    }
    for (const size_t i : near) {
      const Box& other = bands_[i];
      if (overlap(other.y0, other.y1, first.y0, first.y1) <
          kLevel * std::min(other.height(), first.height()))
        continue;
      if (other.x0 < band.x0 - more || other.x1 > band.x1 + more) return {};
      row.push_back(i);
    }
    std::sort(row.begin(), row.end(),
              [&](size_t a, size_t b) { return bands_[a].x0 < bands_[b].x0; });
    return row;
  }

  // Whether two neighbours of `row` have white between them where the gap is.
  bool white_goes_on(const Box& gap, const Row& row) const {
    for (size_t k = 0; k + 1 < row.size(); ++k) {
      const double x0 = bands_[row[k]].x1, x1 = bands_[row[k + 1]].x0;
      if (overlap(x0, x1, gap.x0, gap.x1) > kSameWhite * std::min(x1 - x0, gap.width()))
        return true;
    }
    return false;
  }

  bool ruled(const Box& gap) const {
    return std::any_of(rules_.begin(), rules_.end(), [&](const Component& rule) {
      return rule.height() > rule.width() && rule.x0 < gap.x1 && rule.x1 > gap.x0 &&
             overlap(rule.y0, rule.y1, gap.y0, gap.y1) > kLevel * gap.height();
    });
  }

  const std::vector<Component>& rules_;
  double h_;
  std::vector<Box> bands_;
};

void take_in(LetterLine& piece, LetterLine& line) {
  line.letters.insert(line.letters.end(), piece.letters.begin(), piece.letters.end());
  line.marks.insert(line.marks.end(), piece.marks.begin(), piece.marks.end());
  line.box = united(line.box, piece.box);
  line.has_leader = line.has_leader || piece.has_leader;
}

// Whether an upright rule stands between two bands, `a` the left one.
bool parted(const std::vector<Component>& rules, const Box& a, const Box& b) {
  return std::any_of(rules.begin(), rules.end(), [&](const Component& rule) {
    return rule.height() > rule.width() && rule.x0 < b.x0 + 1 && rule.x1 > a.x1 - 1 &&
           overlap(rule.y0, rule.y1, a.y0, a.y1) > 0;
  });
}

void drop(const std::vector<bool>& gone, std::vector<LetterLine>& lines) {
  size_t kept = 0;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (gone[i]) continue;
    if (kept != i) lines[kept] = std::move(lines[i]);
    ++kept;
  }
  lines.resize(kept);
}

// Pieces on one level of one size, a word's space apart: small print whose spaces look wide beside
// the larger print of the page.
void join_near(const std::vector<Component>& rules, std::vector<LetterLine>& lines) {
  std::vector<Box> bands;
  for (const LetterLine& line : lines) bands.push_back(extent_of(line));
  const auto near = [&](const Box& a, const Box& b) {
    const double higher = std::max(a.height(), b.height()),
                 lower = std::min(a.height(), b.height()), gap = b.x0 - a.x1;
    if (gap < 0 || gap > kWordSpace * lower || higher > kLikeWord * lower ||
        overlap(a.y0, a.y1, b.y0, b.y1) < kSameLevel * lower)
      return false;
    return !parted(rules, a, b);
  };
  for (size_t i = 0; i < lines.size(); ++i) {
    for (size_t k = 0; k < lines.size();) {
      if (k == i || !near(bands[i], bands[k])) {
        ++k;
        continue;
      }
      take_in(lines[k], lines[i]);
      bands[i] = extent_of(lines[i]);
      lines.erase(lines.begin() + static_cast<long>(k));
      bands.erase(bands.begin() + static_cast<long>(k));
      if (k < i) --i;
      k = 0;
    }
  }
}

// The right edge that led lines share; nothing where they share none.
std::optional<double> edge_of_led(double text_height, const std::vector<LetterLine>& lines) {
  std::vector<double> edges;
  for (const LetterLine& line : lines)
    if (line.has_leader) edges.push_back(line.box.x1);
  if (edges.size() < kFewestLed) return std::nullopt;
  const double edge = median(edges);
  const auto there = std::count_if(edges.begin(), edges.end(), [&](double x) {
    return std::abs(x - edge) < kSameEdge * text_height;
  });
  if (static_cast<size_t>(there) < kFewestLed) return std::nullopt;
  return edge;
}

}  // namespace

void join_leader_lines(const std::vector<Component>& rules, double text_height,
                       std::vector<LetterLine>& lines) {
  const auto edge = edge_of_led(text_height, lines);
  if (!edge) return;
  std::vector<Box> bands;
  for (const LetterLine& line : lines) bands.push_back(extent_of(line));
  std::vector<bool> gone(lines.size(), false);
  // The line beside `own` that ends last before it; `own` itself where there is none, or a rule
  // stands between them.
  const auto before = [&](size_t own) {
    size_t nearest = own;
    for (size_t i = 0; i < lines.size(); ++i) {
      const Box &a = bands[own], &b = bands[i];
      const bool level =
          overlap(a.y0, a.y1, b.y0, b.y1) > kSameLevel * std::min(a.height(), b.height());
      if (i == own || gone[i] || !level || b.x1 > a.x0) continue;
      if (nearest == own || b.x1 > bands[nearest].x1) nearest = i;
    }
    return nearest != own && parted(rules, bands[nearest], bands[own]) ? own : nearest;
  };
  const auto join = [&](size_t left, size_t right) {
    take_in(lines[right], lines[left]);
    lines[left].has_leader = true;
    bands[left] = extent_of(lines[left]);
    gone[right] = true;
  };
  for (size_t i = 0; i < lines.size(); ++i) {
    const bool number = !lines[i].has_leader &&
                        std::abs(bands[i].x1 - *edge) < kSameEdge * text_height &&
                        bands[i].width() < kWidestNumber * text_height;
    const size_t title = number ? before(i) : i;
    if (title != i) join(title, i);
  }
  for (size_t i = 0; i < lines.size(); ++i) {
    if (gone[i] || !lines[i].has_leader) continue;
    const size_t mark = before(i);
    if (mark != i && !lines[mark].has_leader && bands[mark].width() < kWidestNumber * text_height &&
        bands[i].x0 - bands[mark].x1 < kWidestNumber * text_height)
      join(mark, i);
  }
  drop(gone, lines);
}

void join_oversegmented(const std::vector<Component>& rules, double text_height,
                        std::vector<LetterLine>& lines) {
  join_near(rules, lines);
  const Tears tears(rules, text_height, lines);
  std::vector<bool> gone(lines.size(), false);
  for (size_t i = 0; i < lines.size(); ++i) {
    for (const bool below : {true, false}) {
      const Row pieces = tears.torn_beside(i, below);
      if (pieces.size() < 2 ||
          std::any_of(pieces.begin(), pieces.end(), [&](size_t p) { return gone[p]; }))
        continue;
      for (size_t k = 1; k < pieces.size(); ++k) {
        take_in(lines[pieces[k]], lines[pieces.front()]);
        gone[pieces[k]] = true;
      }
    }
  }
  drop(gone, lines);
}

}  // namespace burnisher::layout
