#include "layout/pictures.h"

#include <algorithm>

#include "layout/map_regions.h"

namespace burnisher::layout {
namespace {

constexpr double kSeen = 0.5;        // of the picture map's 0-1
constexpr double kSmallest = 4;      // text heights, of the shorter side
constexpr double kReach = 0.8;       // text heights round a picture, where its edge may be
constexpr double kInside = 0.8;      // share of a rule that must lie there
constexpr double kLeastInk = 0.005;  // of its area
constexpr double kSame = 0.3;        // of the smaller one: two regions of one picture

Box grown(const Box& box, double by) {
  return {box.x0 - by, box.y0 - by, box.x1 + by, box.y1 + by};
}

double shared(const Box& a, const Box& b) {
  return overlap(a.x0, a.x1, b.x0, b.x1) * overlap(a.y0, a.y1, b.y0, b.y1);
}

double area(const Box& box) {
  return std::max(1.0, box.width() * box.height());
}

// Regions that lie in each other's bounds are one picture.
std::vector<Box> joined(std::vector<Box> boxes) {
  for (bool changed = true; changed;) {
    changed = false;
    for (size_t i = 0; i < boxes.size() && !changed; ++i) {
      for (size_t k = i + 1; k < boxes.size() && !changed; ++k) {
        if (shared(boxes[i], boxes[k]) < kSame * std::min(area(boxes[i]), area(boxes[k]))) continue;
        boxes[i] = united(boxes[i], boxes[k]);
        boxes.erase(boxes.begin() + static_cast<long>(k));
        changed = true;
      }
    }
  }
  return boxes;
}

}  // namespace

std::vector<Block> picture_blocks(const PageMaps& maps, const Sorted& sorted, double text_height,
                                  std::vector<Component>& rules) {
  std::vector<Box> boxes;
  for (const Box& seen : map_regions(maps, kPictureMap, kSeen)) {
    if (std::min(seen.width(), seen.height()) < kSmallest * text_height) continue;
    // Its ink says where it ends; the map is only as fine as its cells.
    const Box near = grown(seen, kReach * text_height);
    Box exact;
    double ink = 0;
    for (const Component& c : sorted.pictures) {
      if (!near.contains(c.box().centre()) || shared(c.box(), near) <= kInside * area(c.box()))
        continue;
      exact = united(exact, c.box());
      ink += c.area;
    }
    if (ink < kLeastInk * area(seen)) continue;  // bare paper
    const bool whole = area(exact) > 0.5 * area(seen);
    boxes.push_back(whole ? exact : seen);
  }
  std::vector<Block> blocks;
  for (Box box : joined(std::move(boxes))) {
    const Box near = grown(box, kReach * text_height);
    const auto belongs = [&](const Component& rule) {
      return shared(rule.box(), near) > kInside * area(rule.box());
    };
    for (const Component& rule : rules) {
      if (belongs(rule)) box = united(box, rule.box());
    }
    rules.erase(std::remove_if(rules.begin(), rules.end(), belongs), rules.end());
    Block block;
    block.kind = BlockKind::kPicture;
    block.outline = box.corners();
    blocks.push_back(std::move(block));
  }
  return blocks;
}

}  // namespace burnisher::layout
