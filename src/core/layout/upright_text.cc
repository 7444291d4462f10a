#include "layout/upright_text.h"

#include <algorithm>
#include <cmath>

#include "layout/blocks.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/turned.h"

namespace burnisher::layout {
namespace {

// In text heights.
constexpr double kNear = 0.6;    // between letters of one line, at most
constexpr double kLongest = 4;   // looked at on both sides of a letter
constexpr double kCloser = 0.5;  // gap along the line to the gap across it
constexpr double kLowestLetter = 0.35;
constexpr double kWidestSpace = 1.4;
constexpr size_t kFewestLetters = 6;
constexpr double kLeastLength = 5;

// Distance to the next letter above or below, and to the next one beside.
struct Gaps {
  double along = 0, across = 0;
};

std::vector<Gaps> gaps_of(const std::vector<Component>& letters, double h) {
  std::vector<Gaps> gaps(letters.size(), {kLongest * h, kLongest * h});
  std::vector<size_t> order(letters.size());
  for (size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::sort(order.begin(), order.end(),
            [&](size_t a, size_t b) { return letters[a].y0 < letters[b].y0; });
  double highest = 0;
  for (const Component& c : letters) highest = std::max<double>(highest, c.height());
  for (size_t i = 0; i < order.size(); ++i) {
    const Component& a = letters[order[i]];
    for (size_t k = i + 1; k < order.size(); ++k) {
      const Component& b = letters[order[k]];
      if (b.y0 - a.y1 > kLongest * h) break;
      const double shared_x = overlap(a.x0, a.x1, b.x0, b.x1);
      const double shared_y = overlap(a.y0, a.y1, b.y0, b.y1);
      if (shared_x > 0.4 * std::min(a.width(), b.width())) {
        const double gap = std::max(0, b.y0 - a.y1);
        for (size_t j : {order[i], order[k]}) gaps[j].along = std::min(gaps[j].along, gap);
      } else if (shared_y > 0.3 * std::min(a.height(), b.height())) {
        const double gap = std::max(0, std::max(b.x0 - a.x1, a.x0 - b.x1));
        for (size_t j : {order[i], order[k]}) gaps[j].across = std::min(gaps[j].across, gap);
      }
    }
  }
  return gaps;
}

// As on the page turned clockwise: what was the left edge is the top.
Component turned(const Component& c) {
  return {-c.y1, c.x0, -c.y0, c.x1, c.area};
}

bool same(const Component& a, const Component& b) {
  return a.x0 == b.x0 && a.y0 == b.y0 && a.x1 == b.x1 && a.y1 == b.y1;
}

bool is_line(const LetterLine& line, double h) {
  if (line.letters.size() < kFewestLetters || line.box.width() < kLeastLength * h) return false;
  // A line is a chain of near neighbours, not a column of figures.
  std::vector<double> gaps;
  for (size_t i = 1; i < line.letters.size(); ++i)
    gaps.push_back(line.letters[i].x0 - line.letters[i - 1].x1);
  std::nth_element(gaps.begin(), gaps.begin() + static_cast<long>(gaps.size() / 2), gaps.end());
  return gaps[gaps.size() / 2] < 0.4 * h;
}

}  // namespace

std::vector<Block> take_upright_text(double text_height, int page_width, Sorted& sorted) {
  const std::vector<Gaps> gaps = gaps_of(sorted.letters, text_height);
  Sorted lying;
  for (size_t i = 0; i < gaps.size(); ++i) {
    if (gaps[i].along < kNear * text_height && gaps[i].along < kCloser * gaps[i].across)
      lying.letters.push_back(turned(sorted.letters[i]));
  }
  if (lying.letters.size() < kFewestLetters) return {};
  for (const Component& c : sorted.marks) lying.marks.push_back(turned(c));
  std::vector<LetterLine> lines = chain_lines(lying, {}, text_height, kWidestSpace);
  lines.erase(std::remove_if(lines.begin(), lines.end(),
                             [&](const LetterLine& l) { return !is_line(l, text_height); }),
              lines.end());
  if (lines.empty()) return {};
  std::vector<LetterLine*> all;
  for (LetterLine& line : lines) all.push_back(&line);
  measure_lines({}, text_height, all);
  const auto taken = [&](const Component& c) {
    const Component t = turned(c);
    return std::any_of(lines.begin(), lines.end(), [&](const LetterLine& line) {
      const auto is = [&](const Component& part) { return same(part, t); };
      return std::any_of(line.letters.begin(), line.letters.end(), is) ||
             std::any_of(line.marks.begin(), line.marks.end(), is);
    });
  };
  for (auto* group : {&sorted.letters, &sorted.marks})
    group->erase(std::remove_if(group->begin(), group->end(), taken), group->end());
  std::vector<Block> blocks = blocks_of(lines, {}, text_height);
  turn_blocks({0, 1, 0, -1, 0, 0}, blocks);
  for (Block& block : blocks) {
    const Box box = bounds(block.outline);
    const double middle = box.centre().x;
    const bool at_edge = middle < 0.1 * page_width || middle > 0.9 * page_width;
    block.kind = at_edge ? BlockKind::kMarginNote : BlockKind::kText;
  }
  return blocks;
}

}  // namespace burnisher::layout
