#include "layout/segment.h"

#include <algorithm>

#include "layout/blocks.h"
#include "layout/gutters.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/rows.h"
#include "raster/text_scale.h"

namespace burnisher::layout {
namespace {

constexpr double kPieceGap = 1.0;        // line heights; word spaces are narrower, gutters wider
constexpr double kLineGap = 12;          // leaders, tab stops and table columns lie within a line
constexpr double kSmallestPicture = 10;  // text heights, of the shorter side

// Boxes that touch grow together, until none do.
std::vector<Box> merged(std::vector<Box> boxes, double reach) {
  for (bool changed = true; changed;) {
    changed = false;
    for (size_t i = 0; i < boxes.size() && !changed; ++i) {
      for (size_t k = i + 1; k < boxes.size(); ++k) {
        const Box &a = boxes[i], &b = boxes[k];
        const bool touch = a.x0 - reach < b.x1 && b.x0 - reach < a.x1 && a.y0 - reach < b.y1 &&
                           b.y0 - reach < a.y1;
        if (!touch) continue;
        boxes[i] = united(a, b);
        boxes.erase(boxes.begin() + static_cast<long>(k));
        changed = true;
        break;
      }
    }
  }
  return boxes;
}

std::vector<Block> picture_blocks(const std::vector<Component>& parts, double text_height) {
  std::vector<Box> boxes;
  for (const Component& c : parts) {
    if (std::max(c.width(), c.height()) > 2 * text_height) boxes.push_back(c.box());
  }
  std::vector<Block> blocks;
  for (const Box& box : merged(boxes, text_height)) {
    if (std::min(box.width(), box.height()) < kSmallestPicture * text_height) continue;
    Block block;
    block.kind = BlockKind::kPicture;
    block.outline = box.corners();
    blocks.push_back(block);
  }
  return blocks;
}

// Rules that cross are one thing, a table's grid or a box: it parts no columns inside.
std::vector<Component> frames_of(const std::vector<Component>& rules, double text_height) {
  std::vector<Component> frames;
  std::vector<bool> seen(rules.size(), false);
  const double reach = 0.4 * text_height;
  for (size_t i = 0; i < rules.size(); ++i) {
    if (seen[i]) continue;
    std::vector<size_t> group{i};
    seen[i] = true;
    for (size_t g = 0; g < group.size(); ++g) {
      const Component& a = rules[group[g]];
      for (size_t k = 0; k < rules.size(); ++k) {
        const Component& b = rules[k];
        const bool level_a = a.width() > a.height(), level_b = b.width() > b.height();
        const bool touch = a.x0 - reach < b.x1 && b.x0 - reach < a.x1 && a.y0 - reach < b.y1 &&
                           b.y0 - reach < a.y1;
        if (seen[k] || level_a == level_b || !touch) continue;
        seen[k] = true;
        group.push_back(k);
      }
    }
    Component frame = rules[i];
    frame.area = 0;
    for (size_t g : group) {
      frame.area += rules[g].area;
      frame.x0 = std::min(frame.x0, rules[g].x0);
      frame.y0 = std::min(frame.y0, rules[g].y0);
      frame.x1 = std::max(frame.x1, rules[g].x1);
      frame.y1 = std::max(frame.y1, rules[g].y1);
    }
    frames.push_back(frame);
  }
  return frames;
}

std::vector<Block> rule_blocks(const std::vector<Component>& rules) {
  std::vector<Block> blocks;
  for (const Component& c : rules) {
    Block block;
    block.kind = BlockKind::kSeparator;
    block.outline = c.box().corners();
    blocks.push_back(block);
  }
  return blocks;
}

}  // namespace

void segment(const Bitonal& ink, double text_height, const SegmentSettings& settings, Page& page,
             const std::vector<Component>& rules) {
  page.blocks.clear();
  const Components found = components_of(ink);
  if (text_height <= 0) text_height = dominant_height(found.list);
  if (text_height <= 0) {
    // Too few letters for statistics, as in a single short line: the larger half says the size.
    std::vector<int> heights;
    for (const Component& c : found.list) {
      if (c.height() >= 5) heights.push_back(c.height());
    }
    if (heights.empty()) return;
    std::sort(heights.begin(), heights.end());
    text_height = heights[heights.size() / 2];
  }
  Sorted sorted = sort_components(found.list, text_height);
  const std::vector<Component> frames = frames_of(rules, text_height);
  sorted.rules.insert(sorted.rules.end(), frames.begin(), frames.end());
  const std::vector<Block> pictures = picture_blocks(sorted.pictures, text_height);
  const auto in_picture = [&](const Component& c) {
    return std::any_of(pictures.begin(), pictures.end(), [&](const Block& b) {
      return bounds(b.outline).contains(c.box().centre());
    });
  };
  for (auto* group : {&sorted.letters, &sorted.marks}) {
    group->erase(std::remove_if(group->begin(), group->end(), in_picture), group->end());
  }
  std::vector<Box> gutters;
  if (settings.columns != 1) {
    std::vector<Box> pieces;
    for (const LetterLine& piece : chain_lines(sorted, {}, text_height, kPieceGap))
      pieces.push_back(piece.box);
    gutters =
        cut_at_rules(gutters_of(pieces, text_height, ink.width(), ink.height()), sorted.rules);
  }
  std::vector<LetterLine> lines = chain_lines(sorted, gutters, text_height, kLineGap);
  absorb_scraps(text_height, lines);
  join_rows(gutters, text_height, lines);
  measure_lines(lines, text_height);
  page.blocks = blocks_of(lines, gutters, text_height);
  page.blocks.insert(page.blocks.end(), pictures.begin(), pictures.end());
  put_in_reading_order(gutters, page.blocks);
  const std::vector<Block> separators = rule_blocks(sorted.rules);
  page.blocks.insert(page.blocks.end(), separators.begin(), separators.end());
}

}  // namespace burnisher::layout
