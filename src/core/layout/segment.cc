#include "layout/segment.h"

#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "layout/blocks.h"
#include "layout/gutters.h"
#include "layout/initials.h"
#include "layout/kinds.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/rows.h"
#include "layout/rule_groups.h"
#include "layout/tables.h"
#include "layout/tick_boxes.h"
#include "layout/turned.h"
#include "layout/upright_text.h"
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
  for (const auto& group : meeting_rules(rules, 0.4 * text_height, Meeting::kCrosswise)) {
    Component frame = group.front();
    frame.area = 0;
    for (const Component& rule : group) {
      frame.area += rule.area;
      frame.x0 = std::min(frame.x0, rule.x0);
      frame.y0 = std::min(frame.y0, rule.y0);
      frame.x1 = std::max(frame.x1, rule.x1);
      frame.y1 = std::max(frame.y1, rule.y1);
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

// Components are letters of the region asked for; the rest of the page is as if blank.
void keep_region(const Box& region, Components& found) {
  const auto outside = [&](const Component& c) { return !region.contains(c.box().centre()); };
  found.list.erase(std::remove_if(found.list.begin(), found.list.end(), outside), found.list.end());
}

// The text height, also of pages with too few letters for statistics: there the larger half says
// the size. 0: there are none.
double height_of_few(const std::vector<Component>& list) {
  std::vector<int> heights;
  for (const Component& c : list) {
    if (c.height() >= 5) heights.push_back(c.height());
  }
  if (heights.empty()) return 0;
  std::sort(heights.begin(), heights.end());
  return heights[heights.size() / 2];
}

std::vector<Box> gutters_between(const Sorted& sorted, const std::vector<Table>& tables,
                                 double text_height, int width, int height) {
  std::vector<Box> pieces;
  for (const LetterLine& piece : chain_lines(sorted, {}, text_height, kPieceGap))
    pieces.push_back(piece.box);
  for (const Table& table : tables) pieces.push_back(table.box);
  return cut_at_rules(gutters_of(pieces, text_height, width, height), sorted.rules);
}

// Captions follow what they name, footnotes come after all text, and page numbers at the foot last.
void settle_order(std::vector<Block>& blocks) {
  for (size_t i = 0; i < blocks.size(); ++i) {
    if (blocks[i].kind != BlockKind::kPicture) continue;
    const Box picture = bounds(blocks[i].outline);
    const auto caption = std::find_if(blocks.begin(), blocks.end(), [&](const Block& b) {
      const Box box = bounds(b.outline);
      return b.kind == BlockKind::kCaption && box.y0 > picture.centre().y &&
             box.y0 - picture.y1 < 0.2 * picture.height() + box.height() &&
             overlap(box.x0, box.x1, picture.x0, picture.x1) > 0.8 * box.width();
    });
    const auto at = caption - blocks.begin();
    if (caption == blocks.end() || at == static_cast<long>(i) + 1) continue;
    Block moved = std::move(*caption);
    blocks.erase(caption);
    const long to = at < static_cast<long>(i) ? static_cast<long>(i) : static_cast<long>(i) + 1;
    blocks.insert(blocks.begin() + to, std::move(moved));
    if (at < static_cast<long>(i)) --i;
  }
  const auto foot = [](const Block& b) { return b.kind == BlockKind::kFootnote; };
  auto end = blocks.end();
  while (end != blocks.begin() &&
         ((end - 1)->kind == BlockKind::kPageNumber || (end - 1)->kind == BlockKind::kRunningHead))
    --end;
  std::stable_partition(blocks.begin(), end, [&](const Block& b) { return !foot(b); });
}

void segment_upright(Components found, int width, int height, double text_height,
                     const SegmentSettings& settings, const std::optional<Box>& region,
                     const std::vector<Component>& rules, std::vector<Block>& blocks) {
  if (text_height <= 0) text_height = dominant_height(found.list);
  if (text_height <= 0) text_height = height_of_few(found.list);
  if (text_height <= 0) return;
  const std::vector<Component> tick_boxes = take_tick_boxes(text_height, found);
  if (region) keep_region(*region, found);
  Sorted sorted = sort_components(found.list, text_height);
  drop_rule_bits(rules, text_height, sorted);
  const std::vector<Component> initials = take_initials(text_height, sorted);
  std::vector<Table> tables;
  std::vector<Component> all_rules = sorted.rules;
  all_rules.insert(all_rules.end(), rules.begin(), rules.end());
  if (settings.tables) tables = ruled_tables(all_rules, text_height, sorted);
  const auto in_table = [&](const Component& c) {
    return std::any_of(tables.begin(), tables.end(), [&](const Table& t) {
      const Box& b = t.box;
      return c.x0 > b.x0 - text_height && c.x1 < b.x1 + text_height && c.y0 > b.y0 - text_height &&
             c.y1 < b.y1 + text_height;
    });
  };
  for (auto* group : {&all_rules, &sorted.rules})
    group->erase(std::remove_if(group->begin(), group->end(), in_table), group->end());
  std::vector<Component> outside = rules;
  outside.erase(std::remove_if(outside.begin(), outside.end(), in_table), outside.end());
  const std::vector<Component> frames = frames_of(outside, text_height);
  sorted.rules.insert(sorted.rules.end(), frames.begin(), frames.end());
  const std::vector<Block> pictures = picture_blocks(sorted.pictures, text_height);
  const auto in_picture = [&](const Component& c) {
    return std::any_of(pictures.begin(), pictures.end(), [&](const Block& b) {
      return bounds(b.outline).contains(c.box().centre());
    });
  };
  if (!settings.text_in_pictures) {
    for (auto* group : {&sorted.letters, &sorted.marks})
      group->erase(std::remove_if(group->begin(), group->end(), in_picture), group->end());
  }
  const std::vector<Block> upright = take_upright_text(text_height, width, sorted);
  std::vector<Box> gutters;
  if (settings.columns != 1) {
    gutters = gutters_between(sorted, tables, text_height, width, height);
    const std::vector<Box> entries = gutters_before(tick_boxes, text_height);
    gutters.insert(gutters.end(), entries.begin(), entries.end());
  }
  std::vector<LetterLine> lines = chain_lines(sorted, gutters, text_height, kLineGap);
  absorb_scraps(text_height, lines);
  join_leaders(sorted, rules, text_height, lines);
  join_rows(gutters, text_height, lines);
  if (settings.tables) {
    for (Table& table : white_tables(all_rules, sorted.marks, text_height, lines))
      tables.push_back(std::move(table));
  }
  std::vector<LetterLine*> all;
  for (LetterLine& line : lines) all.push_back(&line);
  for (Table& table : tables) {
    for (LetterLine& line : table.lines) all.push_back(&line);
  }
  measure_lines(found, text_height, all);
  blocks = blocks_of(lines, gutters, text_height);
  for (const Table& table : tables) blocks.push_back(table_block(table, text_height));
  blocks.insert(blocks.end(), pictures.begin(), pictures.end());
  name_kinds(height, blocks);
  blocks.insert(blocks.end(), upright.begin(), upright.end());
  put_in_reading_order(gutters, settings.right_to_left, blocks);
  settle_order(blocks);
  place_initials(initials, blocks);
  sorted.rules.insert(sorted.rules.end(), tick_boxes.begin(), tick_boxes.end());
  const std::vector<Block> separators = rule_blocks(sorted.rules);
  blocks.insert(blocks.end(), separators.begin(), separators.end());
}

}  // namespace

double Length::pixels(double dpi, double whole) const {
  if (unit == Unit::kMillimetres) return value * dpi / 25.4;
  if (unit == Unit::kPercent) return value * whole / 100;
  return value;
}

void segment(const Bitonal& ink, double text_height, const SegmentSettings& settings, Page& page,
             const std::vector<Component>& rules) {
  page.blocks.clear();
  const int width = ink.width(), height = ink.height();
  std::optional<Box> region;
  if (settings.region) {
    const double x = settings.region->x.pixels(page.dpi, width);
    const double y = settings.region->y.pixels(page.dpi, height);
    region = Box{x, y, x + settings.region->width.pixels(page.dpi, width),
                 y + settings.region->height.pixels(page.dpi, height)};
    if (overlap(region->x0, region->x1, 0, width) <= 0 ||
        overlap(region->y0, region->y1, 0, height) <= 0) {
      throw SettingsError("the region asked for lies outside the page of " + std::to_string(width) +
                          " x " + std::to_string(height) + " pixels");
    }
  }
  if (settings.text_angle == 0) {
    segment_upright(components_of(ink), width, height, text_height, settings, region, rules,
                    page.blocks);
    return;
  }
  Bitonal part = ink.clone();
  if (region) {
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) {
        if (!region->contains({x + 0.5, y + 0.5})) part.set_ink(x, y, false);
      }
    }
  }
  // A square that holds the page whichever way it is turned.
  const int side = static_cast<int>(std::ceil(std::hypot(width, height)));
  const Affine back = Affine::shift(width / 2.0, height / 2.0) * Affine::turn(settings.text_angle) *
                      Affine::shift(-side / 2.0, -side / 2.0);
  const Bitonal turned = levelled(part, back, side, side);
  segment_upright(components_of(turned), side, side, text_height, settings, {}, {}, page.blocks);
  turn_blocks(back, page.blocks);
}

}  // namespace burnisher::layout
