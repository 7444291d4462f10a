#include "type/lift.h"

#include <algorithm>
#include <cmath>

#include "raster/components.h"

namespace burnisher::type {
namespace {

constexpr double kDot = 0.6;        // of an x-height: larger ink is no dot and no part of a letter
constexpr double kOver = 0.35;      // of an x-height: so far letters reach out of their word's box
constexpr double kRuleLength = 3;   // x-heights; longer runs of ink are rules
constexpr double kRuleWidth = 0.4;  // x-heights
constexpr int kBeyond = 3;          // pixels past a word's box at which an upright rule goes on

struct PlacedWord {
  Box box;
  double x_height;
  bool set;

  Box grown(double by) const { return {box.x0 - by, box.y0 - by, box.x1 + by, box.y1 + by}; }
};

std::vector<PlacedWord> placed_words(const Page& page) {
  std::vector<PlacedWord> words;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        words.push_back({word.box, line.x_height, word.type.em > 0});
      }
    }
  }
  std::sort(words.begin(), words.end(),
            [](const PlacedWord& a, const PlacedWord& b) { return a.box.y0 < b.box.y0; });
  return words;
}

bool inside(const Box& inner, const Box& outer) {
  return inner.x0 >= outer.x0 && inner.y0 >= outer.y0 && inner.x1 <= outer.x1 &&
         inner.y1 <= outer.y1;
}

bool ink_at(const Bitonal& ink, int x, int y) {
  return x >= 0 && y >= 0 && x < ink.width() && y < ink.height() && ink.ink(x, y);
}

void copy_run(int y, int from, int to, Bitonal& out) {
  for (int x = from; x < to; ++x) out.set_ink(x, y, true);
}

// What of a run that reaches beyond its word belongs to the word.
void copy_part(const Bitonal& ink, const Run& run, const PlacedWord& word, Bitonal& out) {
  if (run.x1 - run.x0 > kRuleLength * word.x_height) return;
  const Box box = word.grown(1);
  if (run.y < box.y0 || run.y >= box.y1) return;
  const int middle = (run.x0 + run.x1) / 2;
  const bool upright_rule = run.x1 - run.x0 < kRuleWidth * word.x_height &&
                            ink_at(ink, middle, static_cast<int>(box.y0) - kBeyond) &&
                            ink_at(ink, middle, static_cast<int>(box.y1) + kBeyond);
  if (upright_rule) return;
  copy_run(run.y, std::max(run.x0, static_cast<int>(std::floor(box.x0))),
           std::min(run.x1, static_cast<int>(std::ceil(box.x1))), out);
}

}  // namespace

Bitonal ink_of_set_words(const Page& page, const Bitonal& ink) {
  const std::vector<PlacedWord> words = placed_words(page);
  const Components components = components_of(ink);
  double tallest = 0;
  for (const PlacedWord& word : words) tallest = std::max(tallest, word.box.height());
  // The set words that each component touches, and whether it belongs to one of them as a whole:
  // letters in its box, and dots and broken ends just outside that are no other word's.
  std::vector<std::vector<const PlacedWord*>> touched(components.list.size());
  std::vector<bool> whole(components.list.size(), false);
  for (size_t c = 0; c < components.list.size(); ++c) {
    const Box box = components.list[c].box();
    bool near = false, others = false;
    auto word = std::lower_bound(words.begin(), words.end(), box.y0 - 2 * tallest,
                                 [](const PlacedWord& w, double y) { return w.box.y0 < y; });
    for (; word != words.end() && word->box.y0 <= box.y1 + tallest; ++word) {
      const Box reach = word->grown(kOver * word->x_height);
      if (overlap(reach.x0, reach.x1, box.x0, box.x1) <= 0 ||
          overlap(reach.y0, reach.y1, box.y0, box.y1) <= 0)
        continue;
      const bool its_own = word->grown(1).contains(box.centre());
      if (!word->set) {
        others = others || its_own;
        continue;
      }
      touched[c].push_back(&*word);
      const double dot = kDot * word->x_height;
      near = near || (inside(box, reach) && std::max(box.width(), box.height()) < dot);
      whole[c] = whole[c] || (inside(box, reach) && its_own);
    }
    whole[c] = whole[c] || (near && !others);
  }
  Bitonal out(ink.width(), ink.height());
  for (const Run& run : components.runs) {
    const auto c = static_cast<size_t>(run.component);
    if (whole[c]) {
      copy_run(run.y, run.x0, run.x1, out);
    } else {
      for (const PlacedWord* word : touched[c]) copy_part(ink, run, *word, out);
    }
  }
  return out;
}

}  // namespace burnisher::type
