#include "layout/rows.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr size_t kFewestRows = 3;
constexpr double kLevel = 0.25;  // text heights between the feet of two pieces of one row
constexpr double kSharedHeight = 0.6;
constexpr int kFewestDots = 3;
constexpr size_t kLongestNumber = 8;  // letters at the end of a leader
constexpr double kLeaderFill = 0.6, kLeaderLevel = 0.7;
constexpr double kUnlike = 1.6;  // ratio of letter heights

struct Piece {
  size_t line;
  Box box;              // of the letters
  double foot, height;  // medians of their lower edges and heights
};

// The next piece to the right on the same level.
struct Pair {
  size_t left, right;  // pieces
};

bool parted(const std::vector<Box>& gutters, const Piece& a, const Piece& b) {
  return std::any_of(gutters.begin(), gutters.end(), [&](const Box& g) {
    const double centre = (g.x0 + g.x1) / 2;
    return centre > a.box.x1 && centre < b.box.x0 && a.foot > g.y0 && a.foot < g.y1;
  });
}

std::vector<Pair> pairs_of(const std::vector<Piece>& pieces, const std::vector<Box>& gutters,
                           double text_height) {
  std::vector<Pair> pairs;
  for (size_t i = 0; i < pieces.size(); ++i) {
    size_t best = pieces.size();
    for (size_t k = 0; k < pieces.size(); ++k) {
      const Piece &a = pieces[i], &b = pieces[k];
      // Old-style figures hang below the line: then it counts how much of their height is shared.
      const double shared = overlap(a.box.y0, a.box.y1, b.box.y0, b.box.y1);
      const bool level = std::fabs(a.foot - b.foot) < kLevel * text_height ||
                         shared > kSharedHeight * std::min(a.box.height(), b.box.height());
      const bool alike = std::max(a.height, b.height) < kUnlike * std::min(a.height, b.height);
      if (k == i || !level || !alike || b.box.x0 < a.box.x1) continue;
      if (best == pieces.size() || b.box.x0 < pieces[best].box.x0) best = k;
    }
    if (best < pieces.size() && !parted(gutters, pieces[i], pieces[best]))
      pairs.push_back({i, best});
  }
  return pairs;
}

bool same_columns(const Piece& a, const Piece& b) {
  return overlap(a.box.x0, a.box.x1, b.box.x0, b.box.x1) >
         0.3 * std::min(a.box.width(), b.box.width());
}

}  // namespace

void join_rows(const std::vector<Box>& gutters, double text_height,
               std::vector<LetterLine>& lines) {
  std::vector<Piece> pieces;
  for (size_t i = 0; i < lines.size(); ++i) {
    std::vector<int> feet, heights;
    Box box;
    for (const Component& c : lines[i].letters) {
      box = united(box, c.box());
      feet.push_back(c.y1);
      heights.push_back(c.height());
    }
    pieces.push_back({i, box, median(feet), median(heights)});
  }
  std::vector<Pair> pairs = pairs_of(pieces, gutters, text_height);
  std::sort(pairs.begin(), pairs.end(), [&](const Pair& a, const Pair& b) {
    return pieces[a.left].box.x0 < pieces[b.left].box.x0;
  });
  std::vector<size_t> home(lines.size());  // the line a piece has gone into
  for (size_t i = 0; i < home.size(); ++i) home[i] = i;
  std::vector<bool> gone(lines.size(), false);
  for (const Pair& p : pairs) {
    const auto rows =
        static_cast<size_t>(std::count_if(pairs.begin(), pairs.end(), [&](const Pair& q) {
          return same_columns(pieces[p.left], pieces[q.left]) &&
                 same_columns(pieces[p.right], pieces[q.right]);
        }));
    if (rows < kFewestRows) continue;
    LetterLine& to = lines[home[p.left]];
    LetterLine& from = lines[p.right];
    to.letters.insert(to.letters.end(), from.letters.begin(), from.letters.end());
    to.marks.insert(to.marks.end(), from.marks.begin(), from.marks.end());
    to.box = united(to.box, from.box);
    home[p.right] = home[p.left];
    gone[p.right] = true;
  }
  std::vector<LetterLine> kept;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (!gone[i]) kept.push_back(std::move(lines[i]));
  }
  lines = std::move(kept);
}

void join_leaders(const Sorted& sorted, const std::vector<Component>& rules, double text_height,
                  std::vector<LetterLine>& lines) {
  const auto foot_of = [](const LetterLine& line) {
    std::vector<int> feet;
    for (const Component& c : line.letters) feet.push_back(c.y1);
    return median(feet);
  };
  // Share of the white from a to b that lies between the first and the last dot.
  const auto filled = [&](double y, const Box& a, const Box& b) {
    double first = 1e18, last = -1e18;
    int dots = 0;
    const auto look = [&](const Component& c, int counts) {
      if (c.x0 < a.x1 - text_height || c.x1 > b.x0 + text_height ||
          c.height() > 0.5 * text_height || std::fabs(c.y1 - y) > kLeaderLevel * text_height)
        return;
      first = std::min<double>(first, c.x0);
      last = std::max<double>(last, c.x1);
      dots += counts;
    };
    for (const Component& c : sorted.marks) look(c, 1);
    for (const auto* group : {&sorted.rules, &rules}) {
      for (const Component& c : *group) look(c, kFewestDots);
    }
    return dots >= kFewestDots ? (last - first) / std::max(1.0, b.x0 - a.x1) : 0;
  };
  const auto letters_box = [](const LetterLine& line) {
    Box box;
    for (const Component& c : line.letters) box = united(box, c.box());
    return box;
  };
  for (size_t i = 0; i < lines.size(); ++i) {
    size_t best = lines.size();
    const Box a = letters_box(lines[i]);
    for (size_t k = 0; k < lines.size(); ++k) {
      const Box b = letters_box(lines[k]);
      const bool level = overlap(a.y0, a.y1, b.y0, b.y1) > 0.4 * std::min(a.height(), b.height());
      if (k == i || !level || b.x0 < a.x1 || lines[k].letters.size() > kLongestNumber ||
          b.width() > 2 * kLongestNumber * text_height + a.width())
        continue;
      if (best == lines.size() || b.x0 < letters_box(lines[best]).x0) best = k;
    }
    if (best == lines.size() ||
        filled(foot_of(lines[i]), a, letters_box(lines[best])) < kLeaderFill)
      continue;
    LetterLine &to = lines[i], &from = lines[best];
    to.letters.insert(to.letters.end(), from.letters.begin(), from.letters.end());
    to.marks.insert(to.marks.end(), from.marks.begin(), from.marks.end());
    to.box = united(to.box, from.box);
    lines.erase(lines.begin() + static_cast<long>(best));
    i = best < i ? i - 1 : i;
  }
}

}  // namespace burnisher::layout
