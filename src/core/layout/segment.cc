#include "layout/segment.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "base/error.h"
#include "layout/blocks.h"
#include "layout/columns.h"
#include "layout/initials.h"
#include "layout/kinds.h"
#include "layout/letters.h"
#include "layout/lines.h"
#include "layout/metrics.h"
#include "layout/order.h"
#include "layout/oversegmented_lines.h"
#include "layout/pictures.h"
#include "layout/tables.h"
#include "layout/tick_boxes.h"
#include "layout/turned.h"
#include "raster/text_scale.h"

namespace burnisher::layout {
namespace {

constexpr double kLeastText = 0.3;       // of the core map along a line; less is no print...
constexpr double kHardlyText = 0.15;     // ... or hardly seen
constexpr size_t kFewestHardlySeen = 2;  // letters
constexpr size_t kSurePerDoubtful = 3;   // lines
constexpr float kSomeText = 0.2f;        // of the text map
constexpr size_t kFewestTurned = 3;      // letters that make text on its side
constexpr double kMargin = 0.1;          // share of the page's width at its left and right
constexpr double kLargestLetter = 7;     // text heights; what is larger in a picture is the picture
constexpr double kUprightSpace = 2.2;    // the same, with a comma and a space between
constexpr double kUprightGap = 1;        // text heights between letters of a line on its side
constexpr double kSure = 0.25;           // of the axis: text lies on its side

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

// How much text the network saw on the letters of a line, leaders and white left out.
double text_seen(const PageMaps& maps, const LetterLine& line) {
  const Box band = line.band();
  double seen = 0, width = 0;
  for (const Component& c : line.letters) {
    const Box part{double(c.x0), band.y0, double(c.x1), band.y1};
    seen += part.width() * maps.level_ridge(kBandMap, part);
    width += part.width();
  }
  return width > 0 ? seen / width : 0;
}

// Lines along which the network saw no text are show-through, grain or ruled paper. A few letters
// that it hardly saw beside many that it did (a small line among large ones) stay: reading tells
// whether they are any.
void drop_unseen(const PageMaps& maps, std::vector<LetterLine>& lines) {
  if (maps.empty()) return;
  std::vector<double> seen;
  for (const LetterLine& line : lines) seen.push_back(text_seen(maps, line));
  const auto hardly = [&](size_t i) {
    return seen[i] < kLeastText && seen[i] >= kHardlyText &&
           lines[i].letters.size() >= kFewestHardlySeen;
  };
  size_t sure = 0, doubtful = 0, kept = 0;
  for (size_t i = 0; i < lines.size(); ++i) {
    sure += seen[i] >= kLeastText;
    doubtful += hardly(i);
  }
  const bool few = kSurePerDoubtful * doubtful <= sure;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (seen[i] < kLeastText && !(few && hardly(i))) continue;
    if (kept != i) lines[kept] = std::move(lines[i]);
    ++kept;
  }
  lines.resize(kept);
}

// Letters of text on its side are close to the next one above or below, and closer than to any at
// their left or right.
bool chained_upright(const Component& c, const std::vector<Component>& letters, double h) {
  double beside = 1e18, above = kUprightGap * h;
  for (const Component& other : letters) {
    if (other.x0 == c.x0 && other.y0 == c.y0) continue;
    const double x = std::max(other.x0 - c.x1, c.x0 - other.x1);
    const double y = std::max(other.y0 - c.y1, c.y0 - other.y1);
    if (x < 0) above = std::min(above, std::max(0.0, y));
    if (y < 0) beside = std::min(beside, std::max(0.0, x));
  }
  return above < kUprightGap * h && above < beside;
}

std::vector<Component> both(std::vector<Component> a, const std::vector<Component>& b) {
  a.insert(a.end(), b.begin(), b.end());
  return a;
}

// The first and last letters of lines on their side, where the network is less sure.
void take_ends(double h, std::vector<Component>& level, std::vector<Component>& sideways) {
  const auto continues = [&](const Component& c) {
    return std::any_of(sideways.begin(), sideways.end(), [&](const Component& other) {
      const double gap = std::max(other.y0 - c.y1, c.y0 - other.y1);
      return gap < kUprightSpace * h &&
             overlap(c.x0, c.x1, other.x0, other.x1) > 0.5 * std::min(c.width(), other.width());
    });
  };
  for (bool grown = true; grown;) {
    grown = false;
    for (size_t i = 0; i < level.size(); ++i) {
      if (!continues(level[i]) || !chained_upright(level[i], both(level, sideways), h)) continue;
      sideways.push_back(level[i]);
      level.erase(level.begin() + static_cast<long>(i--));
      grown = true;
    }
  }
}

bool any_text_sideways(const PageMaps& maps) {
  const MapGrid& grid = maps.grid();
  for (int y = 0; y < grid.height; ++y) {
    for (int x = 0; x < grid.width; ++x)
      if (grid.at(kBandMap, x, y) > kSomeText && grid.at(kAxisCosMap, x, y) < 0) return true;
  }
  return false;
}

// Takes the letters and marks of text that lies on its side out of `sorted`.
Sorted taken_sideways(const PageMaps& maps, double text_height, Sorted& sorted) {
  const auto seen = [&](const Component& c) {
    const Box box = c.box();
    return maps.axis({box.x0 - text_height, box.y0 - text_height, box.x1 + text_height,
                      box.y1 + text_height})
               .x < -kSure;
  };
  Sorted sideways;
  if (!any_text_sideways(maps)) return sideways;
  std::vector<Component> candidates, level;
  for (const Component& c : sorted.letters) (seen(c) ? candidates : level).push_back(c);
  for (const Component& c : candidates)
    (chained_upright(c, candidates, text_height) ? sideways.letters : level).push_back(c);
  if (sideways.letters.size() < kFewestTurned) return {};
  sorted.letters = std::move(level);
  take_ends(text_height, sorted.letters, sideways.letters);
  const auto marks = std::stable_partition(sorted.marks.begin(), sorted.marks.end(),
                                           [&](const Component& c) { return !seen(c); });
  sideways.marks.assign(marks, sorted.marks.end());
  sorted.marks.erase(marks, sorted.marks.end());
  return sideways;
}

Component moved(const Component& c, const Affine& map) {
  const Point a = map({double(c.x0), double(c.y0)}), b = map({double(c.x1), double(c.y1)});
  const auto whole = [](double v) { return static_cast<int>(std::lround(v)); };
  return {whole(std::min(a.x, b.x)), whole(std::min(a.y, b.y)), whole(std::max(a.x, b.x)),
          whole(std::max(a.y, b.y)), c.area};
}

// Blocks of text on its side, found on the page turned so that it is level. It is taken to run up;
// the recogniser reads it from its other end, too.
std::vector<Block> sideways_text(const PageMaps& maps, double text_height, int page_width,
                                 const Sorted& part) {
  Affine back;
  const PageMaps level = maps.turned(Heading::kUp, back);
  const Affine there = back.inverse();
  Sorted lying;
  for (const Component& c : part.letters) lying.letters.push_back(moved(c, there));
  for (const Component& c : part.marks) lying.marks.push_back(moved(c, there));
  std::vector<LetterLine> lines = chain_lines(lying, level, {}, text_height);
  join_laid_over(lines);
  drop_unseen(level, lines);
  std::vector<LetterLine*> all;
  for (LetterLine& line : lines) all.push_back(&line);
  measure_lines({}, level, text_height, all);
  std::vector<Block> blocks = blocks_of(lines, level, text_height);
  turn_blocks(back, blocks);
  for (Block& block : blocks) {
    const double middle = bounds(block.outline).centre().x;
    const bool at_edge = middle < kMargin * page_width || middle > (1 - kMargin) * page_width;
    if (at_edge) block.kind = BlockKind::kMarginNote;
  }
  return blocks;
}

void segment_upright(Components found, const PageMaps& maps, int width, int height,
                     double text_height, const SegmentSettings& settings,
                     const std::optional<Box>& region, const std::vector<Component>& rules,
                     std::vector<Block>& blocks) {
  if (text_height <= 0) text_height = dominant_height(found.list);
  if (text_height <= 0) text_height = height_of_few(found.list);
  if (text_height <= 0) return;
  const std::vector<Component> tick_boxes = take_tick_boxes(text_height, found);
  if (region) keep_region(*region, found);
  Sorted sorted = sort_components(found.list, maps, text_height);
  drop_rule_bits(rules, text_height, sorted);
  if (settings.text_in_pictures) {
    auto& pictures = sorted.pictures;
    const auto first = std::stable_partition(pictures.begin(), pictures.end(), [&](const auto& c) {
      return std::max(c.width(), c.height()) > kLargestLetter * text_height;
    });
    sorted.letters.insert(sorted.letters.end(), first, pictures.end());
    pictures.erase(first, pictures.end());
  }
  const std::vector<Component> initials = take_initials(text_height, sorted);
  const Sorted sideways = taken_sideways(maps, text_height, sorted);
  std::vector<Component> all_rules = sorted.rules;
  all_rules.insert(all_rules.end(), rules.begin(), rules.end());
  std::vector<Block> pictures = picture_blocks(maps, sorted, text_height, all_rules);
  const Columns columns = columns_of(settings.columns, sorted);
  std::vector<LetterLine> lines = chain_lines(sorted, maps, columns, text_height);
  absorb_scraps(text_height, lines);
  join_laid_over(lines);
  if (!settings.text_in_pictures) drop_unseen(maps, lines);
  std::vector<Table> tables;
  if (settings.tables) tables = tables_of(maps, {all_rules, tick_boxes}, text_height, lines);
  if (settings.right_to_left) {
    for (Table& table : tables) count_from_the_right(table);
  }
  // Gutters that a person set part lines as rules do.
  std::vector<Component> parting = all_rules;
  for (const double gutter : columns.at) {
    const int x = static_cast<int>(gutter);
    parting.push_back({x, 0, x + 1, height, height});
  }
  join_leader_lines(parting, text_height, lines);
  join_oversegmented(parting, text_height, lines);
  std::vector<LetterLine*> all;
  for (LetterLine& line : lines) all.push_back(&line);
  for (Table& table : tables) {
    for (LetterLine& line : table.lines) all.push_back(&line);
  }
  measure_lines(found, maps, text_height, all);
  blocks = blocks_of(lines, maps, text_height);
  for (const Table& table : tables) blocks.push_back(table_block(table, text_height));
  for (Block& picture : pictures) blocks.push_back(std::move(picture));
  name_kinds(height, blocks);
  for (Block& block : sideways_text(maps, text_height, width, sideways))
    blocks.push_back(std::move(block));
  OrderHints hints;
  hints.right_to_left = settings.right_to_left;
  hints.gutters = columns.at;
  for (const Component& rule : all_rules) hints.rules.push_back(rule.box());
  for (const Component& box : tick_boxes) hints.tick_boxes.push_back(box.box());
  put_in_reading_order(hints, blocks);
  place_initials(initials, blocks);
  all_rules.insert(all_rules.end(), tick_boxes.begin(), tick_boxes.end());
  for (Block& separator : rule_blocks(all_rules)) {
    const Point middle = bounds(separator.outline).centre();
    const bool in_table = std::any_of(blocks.begin(), blocks.end(), [&](const Block& b) {
      return b.kind == BlockKind::kTable && bounds(b.outline).contains(middle);
    });
    if (!in_table) blocks.push_back(std::move(separator));
  }
}

}  // namespace

double Length::pixels(double dpi, double whole) const {
  if (unit == Unit::kMillimetres) return value * dpi / 25.4;
  if (unit == Unit::kPercent) return value * whole / 100;
  return value;
}

void segment(const Bitonal& ink, const PageMaps& maps, double text_height,
             const SegmentSettings& settings, Page& page, const std::vector<Component>& rules) {
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
    segment_upright(components_of(ink), maps, width, height, text_height, settings, region, rules,
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
  const LevelFrame frame = level_frame(width, height, settings.text_angle);
  const Bitonal turned = levelled(part, frame.from_here, frame.side, frame.side);
  const PageMaps turned_maps(maps.grid(), maps.to_cells() * frame.from_here);
  segment_upright(components_of(turned), turned_maps, frame.side, frame.side, text_height, settings,
                  {}, {}, page.blocks);
  turn_blocks(frame.from_here, page.blocks);
}

}  // namespace burnisher::layout
