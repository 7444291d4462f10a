#include "layout/initials.h"

#include <algorithm>
#include <cmath>

namespace burnisher::layout {
namespace {

// In text heights.
constexpr double kLeastHeight = 2.8, kMostHeight = 15;
constexpr double kBeside = 2.2;  // from the capital to the first letters of its rows
constexpr double kUsualLow = 0.6, kUsualHigh = 2.2;       // heights of usual letters
constexpr double kAlone = 1.0;                            // white to the left of it
constexpr double kRowStep = 1.2;                          // between the rows beside it
constexpr double kFirstFoot = 2.4;                        // of the first of them, below its top
constexpr double kLeastAspect = 0.25, kMostAspect = 1.7;  // width to height
constexpr double kLeastFill = 0.08, kMostFill = 0.8;
constexpr double kCapitalOfX = 1.45;  // capital height in x-heights

bool may_be_initial(const Component& c, double h) {
  const double aspect = static_cast<double>(c.width()) / c.height();
  const double fill = static_cast<double>(c.area) / (static_cast<double>(c.width()) * c.height());
  return c.height() > kLeastHeight * h && c.height() < kMostHeight * h && aspect > kLeastAspect &&
         aspect < kMostAspect && fill > kLeastFill && fill < kMostFill;
}

// Whether rows of usual letters begin right of `c`, and nothing of its own size stands there.
bool begins_rows(const Component& c, const Sorted& sorted, double h) {
  std::vector<double> feet;
  for (const Component& l : sorted.letters) {
    const bool level = l.y1 > c.y0 && l.y0 < c.y1 - 0.2 * h;
    const bool itself = l.x0 == c.x0 && l.y0 == c.y0 && l.x1 == c.x1;
    if (!level || itself) continue;
    if (l.x0 < c.x0 && l.x1 > c.x0 - kAlone * h) return false;
    if (l.x0 < c.x1 - 0.5 * h || l.x0 > c.x1 + kBeside * h) continue;
    if (l.height() > 0.6 * c.height()) return false;
    if (l.height() > kUsualLow * h && l.height() < kUsualHigh * h) feet.push_back(l.y1);
  }
  std::sort(feet.begin(), feet.end());
  int rows = 0;
  double last = -1e18;
  for (double y : feet) {
    if (y - last > kRowStep * h) ++rows;
    last = y;
  }
  return rows >= 2 && feet.front() < c.y0 + std::max(kFirstFoot * h, 0.6 * c.height());
}

Block block_of(const Component& initial) {
  Line line;
  line.box = initial.box();
  line.baseline = {{line.box.x0, line.box.y1}, {line.box.x1, line.box.y1}};
  line.x_height = line.box.height() / kCapitalOfX;
  Block block;
  block.kind = BlockKind::kDropCapital;
  block.outline = line.box.corners();
  block.lines.push_back(line);
  return block;
}

// The first line that begins right of the capital, within its upper half.
bool begins_beside(const Line& line, const Box& initial) {
  const double middle = line.box.centre().y;
  return middle > initial.y0 - 0.1 * initial.height() && middle < initial.centre().y &&
         line.box.x0 > initial.centre().x && line.box.x0 - initial.x1 < initial.width();
}

}  // namespace

std::vector<Component> take_initials(double text_height, Sorted& sorted) {
  std::vector<Component> initials;
  for (auto* group : {&sorted.letters, &sorted.pictures}) {
    const auto first = std::stable_partition(group->begin(), group->end(), [&](const Component& c) {
      return !may_be_initial(c, text_height) || !begins_rows(c, sorted, text_height);
    });
    initials.insert(initials.end(), first, group->end());
    group->erase(first, group->end());
  }
  return initials;
}

void place_initials(const std::vector<Component>& initials, std::vector<Block>& blocks) {
  for (const Component& initial : initials) {
    const Box box = initial.box();
    size_t home = blocks.size(), at = 0;
    for (size_t i = 0; i < blocks.size() && home == blocks.size(); ++i) {
      if (blocks[i].kind == BlockKind::kTable) continue;
      for (size_t k = 0; k < blocks[i].lines.size(); ++k) {
        if (!begins_beside(blocks[i].lines[k], box)) continue;
        home = i;
        at = k;
        break;
      }
    }
    if (home < blocks.size() && at > 0) {
      Block& whole = blocks[home];
      Block rest = whole;
      rest.lines.erase(rest.lines.begin(), rest.lines.begin() + static_cast<long>(at));
      whole.lines.resize(at);
      for (Block* part : {&whole, &rest}) {
        Box lines;
        for (const Line& line : part->lines) lines = united(lines, line.box);
        part->outline = lines.corners();
      }
      blocks.insert(blocks.begin() + static_cast<long>(++home), std::move(rest));
    }
    blocks.insert(blocks.begin() + static_cast<long>(home), block_of(initial));
  }
}

}  // namespace burnisher::layout
