#include "jbig2/symbols.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>

#include "base/parallel.h"

namespace burnisher::jbig2 {
namespace {

constexpr int kSizeSlack = 2;  // pixels that the sizes of like shapes may differ by
// Shapes that differ in more than this share of their outline's length (estimated from their size)
// are cheaper coded on their own. Found by coding pages of a book with 0.25 ... 1.1.
constexpr double kLargestDifference = 0.45;

struct Match {
  int kind = -1;
  int dx = 0, dy = 0;
  int difference = 0;
};

int limit_of(const Shape& shape) {
  return static_cast<int>(kLargestDifference * (shape.width + shape.height)) + 2;
}

// Kinds of shapes by size, the first of each standing for it.
class Kinds {
 public:
  Match best(const Shape& shape) const {
    Match best;
    int limit = limit_of(shape);
    for (int w = shape.width - kSizeSlack; w <= shape.width + kSizeSlack; ++w) {
      for (int h = shape.height - kSizeSlack; h <= shape.height + kSizeSlack; ++h) {
        const auto found = by_size_.find({w, h});
        if (found == by_size_.end()) continue;
        for (const int kind : found->second) {
          const Shape& other = *kinds_[static_cast<size_t>(kind)];
          if (std::abs(other.ink - shape.ink) > limit) continue;
          compare(shape, kind, limit, best);
          if (best.kind >= 0 && best.difference == 0) return best;
        }
      }
    }
    return best;
  }

  int add(const Shape& shape) {
    kinds_.push_back(&shape);
    by_size_[{shape.width, shape.height}].push_back(static_cast<int>(kinds_.size()) - 1);
    return static_cast<int>(kinds_.size()) - 1;
  }

  const Shape& at(int kind) const { return *kinds_[static_cast<size_t>(kind)]; }
  size_t size() const { return kinds_.size(); }

 private:
  // Laid over each other by their corners first: that finds nearly all; then by the others.
  void compare(const Shape& shape, int kind, int& limit, Match& best) const {
    const Shape& other = at(kind);
    const int rest_x = shape.width - other.width, rest_y = shape.height - other.height;
    const auto shifts = [](int rest) {
      std::vector<int> all = {0};
      if (rest != 0) all.push_back(rest);
      if (std::abs(rest) > 1) all.push_back(rest / 2);
      return all;
    };
    for (const int dx : shifts(rest_x)) {
      for (const int dy : shifts(rest_y)) {
        const int found = difference(shape, other, dx, dy, limit);
        if (found > limit || (best.kind >= 0 && found >= best.difference)) continue;
        best = {kind, dx, dy, found};
        limit = found;
      }
    }
  }

  std::vector<const Shape*> kinds_;
  std::map<std::pair<int, int>, std::vector<int>> by_size_;
};

// What more than half of a kind's shapes have, in the frame of the first.
class Vote {
 public:
  explicit Vote(const Shape& first)
      : first_(first), votes_(static_cast<size_t>(first.width) * first.height) {}

  void add(const Shape& shape, int dx, int dy) {
    ++voters_;
    for (int y = std::max(0, -dy); y < first_.height && y + dy < shape.height; ++y) {
      for (int x = std::max(0, -dx); x < first_.width && x + dx < shape.width; ++x)
        votes_[static_cast<size_t>(y) * first_.width + x] += shape.pixel(x + dx, y + dy);
    }
  }

  int voters() const { return voters_; }

  Shape winner() const {
    if (voters_ < 3) return first_;
    Shape shape(first_.width, first_.height);
    for (int y = 0; y < shape.height; ++y) {
      for (int x = 0; x < shape.width; ++x) {
        if (2 * votes_[static_cast<size_t>(y) * shape.width + x] <= voters_) continue;
        shape.set(x, y);
        ++shape.ink;
      }
    }
    return shape;
  }

 private:
  const Shape& first_;
  int voters_ = 0;
  std::vector<int> votes_;
};

// The symbols of all kinds that more than one shape is of.
std::vector<Shape> symbols_in(const std::vector<Parted>& pages) {
  Kinds kinds;
  std::vector<Vote> votes;
  for (const Parted& page : pages) {
    for (const Placed& placed : page.shapes) {
      Match match = kinds.best(placed.shape);
      if (match.kind < 0) {
        match.kind = kinds.add(placed.shape);
        votes.emplace_back(placed.shape);
      }
      votes[static_cast<size_t>(match.kind)].add(placed.shape, match.dx, match.dy);
    }
  }
  // What stands alone costs less with the rest of its page than in the dictionary.
  std::vector<Shape> symbols;
  for (const Vote& vote : votes) {
    if (vote.voters() > 1) symbols.push_back(vote.winner());
  }
  std::stable_sort(symbols.begin(), symbols.end(), [](const Shape& s, const Shape& t) {
    return s.height != t.height ? s.height < t.height : s.width < t.width;
  });
  return symbols;
}

}  // namespace

Symbols symbols_of(const std::vector<Parted>& pages) {
  Symbols result;
  result.dictionary = symbols_in(pages);
  Kinds kinds;
  for (const Shape& symbol : result.dictionary) kinds.add(symbol);
  result.uses.resize(pages.size());
  parallel_each(static_cast<int>(pages.size()), [&](int at) {
    const size_t page = static_cast<size_t>(at);
    for (const Placed& placed : pages[page].shapes) {
      const Match match = kinds.best(placed.shape);
      const bool exact =
          match.kind >= 0 && placed.shape == result.dictionary[static_cast<size_t>(match.kind)];
      result.uses[page].push_back({match.kind, match.dx, match.dy, exact});
    }
  });
  return result;
}

}  // namespace burnisher::jbig2
