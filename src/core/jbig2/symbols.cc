#include "jbig2/symbols.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <optional>

#include "base/parallel.h"
#include "jbig2/bit_costs.h"
#include "jbig2/context_walk.h"
#include "jbig2/contexts.h"
#include "jbig2/prototype.h"
#include "jbig2/shape_clusters.h"

namespace burnisher::jbig2 {
namespace {

// The shares of their outlines' length that shapes may differ in: of one kind, and from a symbol
// that they may be coded by. Found with ink_bench on books and newspapers: 0.3 to 0.4 and 0.5 to 1
// are within 1 % of each other.
constexpr double kOfAKind = 0.33, kCodable = 0.55;
constexpr size_t kCandidates = 3;  // symbols whose price is asked; 6 save another 0.3 %
constexpr int kRounds = 3;         // of costs, choices and votes; a fourth saves another 0.2 %

// Bits for what is not pixels (as ink_bench found them to be).
constexpr double kPlace = 6, kSameSize = 1, kOtherSize = 4;

// Symbols have to save at least this share of what coding without them costs.
constexpr double kWorthwhile = 0.03;

using Candidates = std::array<ClusterMatch, kCandidates>;

class Choosing {
 public:
  explicit Choosing(const std::vector<Parted>& pages)
      : pages_(pages), chosen_(pages.size()), near_(pages.size()), alone_(pages.size()) {}

  Symbols result() {
    gather();
    price_alone();
    find_candidates();
    for (int round = 0; round < kRounds; ++round) choose();
    return in_order();
  }

 private:
  template <typename Body>
  void each_page(const Body& body) const {
    parallel_each(static_cast<int>(pages_.size()), [&](int at) { body(static_cast<size_t>(at)); });
  }
  const Shape& shape(size_t page, size_t i) const { return pages_[page].shapes[i].shape; }
  const Shape& symbol(const ClusterMatch& match) const {
    return symbols_[static_cast<size_t>(match.kind)];
  }

  // Symbols are what more than one shape is like.
  void gather() {
    ShapeClusters kinds(kOfAKind);
    std::vector<Prototype> votes;
    for (size_t page = 0; page < pages_.size(); ++page) {
      for (const Placed& placed : pages_[page].shapes) {
        const std::vector<ClusterMatch> nearest = kinds.near(placed.shape, 1);
        ClusterMatch match;
        if (nearest.empty()) {
          match.kind = kinds.add(placed.shape);
          votes.emplace_back(placed.shape);
        } else {
          match = nearest.front();
        }
        votes[static_cast<size_t>(match.kind)].add(placed.shape, match.dx, match.dy);
        chosen_[page].push_back(match);
      }
    }
    keep(votes, [&](size_t kind) { return votes[kind].members() > 1; });
  }

  // The kinds for which `kept` holds are symbols from now on, with other numbers.
  template <typename Kept>
  void keep(const std::vector<Prototype>& votes, const Kept& kept) {
    std::vector<int> number(votes.size(), -1);
    symbols_.clear();
    for (size_t kind = 0; kind < votes.size(); ++kind) {
      if (!kept(kind)) continue;
      number[kind] = static_cast<int>(symbols_.size());
      symbols_.push_back(votes[kind].majority());
    }
    const auto rename = [&](ClusterMatch& match) {
      if (match.kind >= 0) match.kind = number[static_cast<size_t>(match.kind)];
    };
    for (auto& page : chosen_) std::for_each(page.begin(), page.end(), rename);
    for (auto& page : near_) {
      for (Candidates& candidates : page)
        std::for_each(candidates.begin(), candidates.end(), rename);
    }
  }

  // What each shape costs with the rest of its page.
  void price_alone() {
    ContextCounts counts(kShapeContexts);
    for (const Parted& page : pages_) {
      for (const Placed& placed : page.shapes) count_generic(placed.shape, counts);
    }
    generic_.emplace(counts);
    each_page([&](size_t page) {
      for (const Placed& placed : pages_[page].shapes)
        alone_[page].push_back(static_cast<float>(price(placed.shape)));
    });
  }

  double price(const Shape& shape) const {
    CostSum bill(*generic_);
    count_generic(shape, bill);
    return bill.bits();
  }

  void find_candidates() {
    ShapeClusters kinds(kCodable);
    for (const Shape& symbol : symbols_) kinds.add(symbol);
    each_page([&](size_t page) {
      for (const Placed& placed : pages_[page].shapes) {
        const std::vector<ClusterMatch> found = kinds.near(placed.shape, kCandidates);
        near_[page].emplace_back();
        std::copy(found.begin(), found.end(), near_[page].back().begin());
      }
    });
  }

  BitCosts price_refinements() const {
    std::vector<ContextCounts> counts(pages_.size(), ContextCounts(kRefinementContexts));
    each_page([&](size_t page) {
      for (size_t i = 0; i < chosen_[page].size(); ++i) {
        const ClusterMatch& match = chosen_[page][i];
        if (match.kind < 0 || shape(page, i) == symbol(match)) continue;
        count_refinement(shape(page, i), symbol(match), match.dx, match.dy, counts[page]);
      }
    });
    for (size_t page = 1; page < counts.size(); ++page) counts[0].add(counts[page]);
    return BitCosts(counts[0]);
  }

  // Each shape gets what makes it cheapest; then symbols become what their shapes have in common,
  // and those that save less than they cost go.
  void choose() {
    const BitCosts refining = price_refinements();
    const std::vector<float> number = price_numbers();
    std::vector<std::vector<float>> saved(pages_.size());
    each_page([&](size_t page) {
      for (size_t i = 0; i < chosen_[page].size(); ++i) {
        const double alone = alone_[page][i];
        double least = alone;
        ClusterMatch& best = chosen_[page][i] = ClusterMatch();
        for (const ClusterMatch& match : near_[page][i]) {
          if (match.kind < 0) continue;
          const double named = number[static_cast<size_t>(match.kind)];
          const double bits = named + price(shape(page, i), match, refining, least - named);
          if (bits >= least) continue;
          least = bits;
          best = match;
        }
        saved[page].push_back(static_cast<float>(alone - least));
      }
    });
    vote(saved);
  }

  // `saved`: bits, by page and shape.
  void vote(const std::vector<std::vector<float>>& saved) {
    std::vector<Prototype> votes(symbols_.begin(), symbols_.end());
    std::vector<double> gain(symbols_.size());
    for (size_t page = 0; page < pages_.size(); ++page) {
      for (size_t i = 0; i < chosen_[page].size(); ++i) {
        const ClusterMatch& match = chosen_[page][i];
        if (match.kind < 0) continue;
        votes[static_cast<size_t>(match.kind)].add(shape(page, i), match.dx, match.dy);
        gain[static_cast<size_t>(match.kind)] += saved[page][i];
      }
    }
    saved_ = 0;
    for (size_t kind = 0; kind < gain.size(); ++kind) {
      gain[kind] -= price(symbols_[kind]);
      saved_ += std::max(0.0, gain[kind]);
    }
    keep(votes, [&](size_t kind) { return gain[kind] > 0; });
  }

  // A symbol's number costs the less the more often it comes.
  std::vector<float> price_numbers() const {
    std::vector<float> bits(symbols_.size());
    double all = 1;
    for (const auto& page : chosen_) {
      for (const ClusterMatch& match : page) {
        if (match.kind < 0) continue;
        ++bits[static_cast<size_t>(match.kind)];
        ++all;
      }
    }
    for (float& one : bits) one = static_cast<float>(std::log2(all / (one + 0.5)));
    return bits;
  }

  // The shape coded by the symbol, but for the symbol's number. Only up to `limit` to be relied on.
  double price(const Shape& shape, const ClusterMatch& match, const BitCosts& refining,
               double limit) const {
    const Shape& symbol = this->symbol(match);
    double bits = kPlace;
    if (shape == symbol) return bits;
    for (const int difference : {shape.width - symbol.width, shape.height - symbol.height})
      bits += difference == 0 ? kSameSize : kOtherSize;
    CostSum bill(refining, bits, limit);
    count_refinement(shape, symbol, match.dx, match.dy, bill);
    return bill.bits();
  }

  bool worthwhile() const {
    double all = 0;
    for (const auto& page : alone_) all = std::accumulate(page.begin(), page.end(), all);
    return saved_ > kWorthwhile * all;
  }

  Symbols in_order() const {
    Symbols symbols;
    symbols.uses.resize(pages_.size());
    for (size_t page = 0; page < pages_.size(); ++page)
      symbols.uses[page].resize(pages_[page].shapes.size());
    if (!worthwhile()) return symbols;
    std::vector<size_t> order(symbols_.size());
    std::iota(order.begin(), order.end(), size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](size_t a, size_t b) {
      const Shape &s = symbols_[a], &t = symbols_[b];
      return s.height != t.height ? s.height < t.height : s.width < t.width;
    });
    std::vector<int> number(symbols_.size());
    for (const size_t kind : order) {
      number[kind] = static_cast<int>(symbols.dictionary.size());
      symbols.dictionary.push_back(symbols_[kind]);
    }
    for (size_t page = 0; page < pages_.size(); ++page) {
      for (size_t i = 0; i < chosen_[page].size(); ++i) {
        const ClusterMatch& match = chosen_[page][i];
        if (match.kind < 0) continue;
        const bool exact = shape(page, i) == symbol(match);
        symbols.uses[page][i] = {number[static_cast<size_t>(match.kind)], exact ? 0 : match.dx,
                                 exact ? 0 : match.dy, exact};
      }
    }
    return symbols;
  }

  const std::vector<Parted>& pages_;
  std::vector<Shape> symbols_;
  std::optional<BitCosts> generic_;
  double saved_ = 0;  // bits
  // By page and shape.
  std::vector<std::vector<ClusterMatch>> chosen_;
  std::vector<std::vector<Candidates>> near_;
  std::vector<std::vector<float>> alone_;  // bits
};

}  // namespace

Symbols symbols_of(const std::vector<Parted>& pages) {
  return Choosing(pages).result();
}

}  // namespace burnisher::jbig2
