#include "layout/order.h"

#include <algorithm>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr double kShared = 0.1;        // of the narrower one's width: blocks of one column
constexpr double kCaptionGap = 0.2;    // of the picture's height, besides the caption's own
constexpr double kUnderPicture = 0.8;  // of the caption's width
constexpr double kAcross = 0.8;        // of a part's width: goes right across it
constexpr double kUnderRule = 0.5;     // of a block's width: a rule parts it from its neighbour
constexpr double kEntries = 0.6;       // of the blocks at the right, that stand level with others
constexpr double kLabels = 0.75;       // of those at the left
constexpr int kFewestLabels = 3;
constexpr size_t kMostCut = 500;   // blocks: a newspaper's page has 200
constexpr size_t kNoColumn = 2;    // lines, at most
constexpr size_t kEntryLines = 2;  // of a short entry, at most
// In x-heights.
constexpr double kSameLine = 0.7;  // between baselines
constexpr double kTickAway = 4;    // between a box to tick and its choice
constexpr double kOverhang = 0.4;  // that letters may reach over a cut
constexpr double kWideGap = 8;     // white right across a page that parts it
constexpr double kNarrowestGutter = 0.3;

Box box_of(const Block& block) {
  Box box;
  for (const Line& line : block.lines) box = united(box, line.box);
  return block.lines.empty() || block.kind == BlockKind::kTable ? bounds(block.outline) : box;
}

bool share_columns(const Box& a, const Box& b) {
  return overlap(a.x0, a.x1, b.x0, b.x1) > kShared * std::min(a.width(), b.width());
}

struct Item {
  size_t block = 0;
  Box box;
  bool heading = false, picture = false;
  size_t lines = 0;
  bool entry = false;     // a line or two
  bool ticked = false;    // a box to tick stands before it
  double first_line = 0;  // its baseline
};

using Items = std::vector<Item>;

Box bounds_of(const Items& items) {
  Box box;
  for (const Item& item : items) box = united(box, item.box);
  return box;
}

// White between neighbouring parts of a projection.
struct Gap {
  double from = 0, to = 0;
  double middle() const { return (from + to) / 2; }
};

std::vector<Gap> gaps_of(std::vector<std::pair<double, double>> spans, double least) {
  std::sort(spans.begin(), spans.end());
  std::vector<Gap> gaps;
  double end = spans.front().second;
  for (const auto& [from, to] : spans) {
    if (from - end > least) gaps.push_back({end, from});
    end = std::max(end, to);
  }
  return gaps;
}

class Order {
 public:
  Order(double x_height, OrderHints hints) : x_height_(x_height), hints_(std::move(hints)) {}

  std::vector<size_t> of(const Items& items) {
    result_.clear();
    if (items.size() > kMostCut)
      in_rows(items);
    else
      cut(items, false);
    return result_;
  }

 private:
  // Of more blocks than any page has: grain. From top to bottom.
  void in_rows(Items items) {
    std::sort(items.begin(), items.end(), [](const Item& a, const Item& b) {
      return std::make_pair(a.box.y0, a.box.x0) < std::make_pair(b.box.y0, b.box.x0);
    });
    for (const Item& item : items) result_.push_back(item.block);
  }

  // `in_rows`: they are part of what is read across.
  void cut(const Items& items, bool in_rows) {
    if (items.size() < 2) {
      for (const Item& item : items) result_.push_back(item.block);
      return;
    }
    const std::vector<Gap> level = level_gaps(items), upright = gutters(items, in_rows);
    std::vector<double> strong;
    for (const Gap& gap : level) {
      if (parts_page(gap, items)) strong.push_back(gap.middle());
    }
    if (!strong.empty()) return cut_level(items, strong, in_rows);
    if (!upright.empty()) return cut_upright(items, around_parted(items, upright), in_rows);
    if (!level.empty()) {
      const auto widest = std::max_element(
          level.begin(), level.end(),
          [](const Gap& a, const Gap& b) { return a.to - a.from < b.to - b.from; });
      return cut_level(items, {widest->middle()}, in_rows);
    }
    sort(items);
  }

  std::vector<Gap> level_gaps(const Items& items) const {
    std::vector<std::pair<double, double>> spans;
    const double less = kOverhang * x_height_;
    for (const Item& item : items) {
      const double by = std::min(less, item.box.height() / 4);
      spans.emplace_back(item.box.y0 + by, item.box.y1 - by);
    }
    return gaps_of(std::move(spans), 0);
  }

  // Where several columns, but not all, share a level cut, they make a part of their own: the
  // gutters round the widest such part; else all of them.
  std::vector<Gap> around_parted(const Items& items, const std::vector<Gap>& gutters) const {
    const size_t columns = gutters.size() + 1;
    for (size_t wide = columns - 1; wide > 1; --wide) {
      for (size_t first = 0; first + wide <= columns; ++first) {
        Items part;
        for (const Item& item : items) {
          const size_t column = column_of(item, gutters);
          if (column >= first && column < first + wide) part.push_back(item);
        }
        if (part.size() < 2) continue;
        const std::vector<Gap> level = level_gaps(part);
        if (std::none_of(level.begin(), level.end(),
                         [&](const Gap& gap) { return parts_page(gap, part); }))
          continue;
        std::vector<Gap> around;
        if (first > 0) around.push_back(gutters[first - 1]);
        if (first + wide < columns) around.push_back(gutters[first + wide - 1]);
        return around;
      }
    }
    return gutters;
  }

  size_t column_of(const Item& item, const std::vector<Gap>& gutters) const {
    const double x = item.picture ? item.box.x0 + x_height_ : item.box.centre().x;
    return static_cast<size_t>(std::count_if(gutters.begin(), gutters.end(),
                                             [&](const Gap& gap) { return x > gap.middle(); }));
  }

  // White from top to bottom, beside pictures: those go with the column at their left.
  std::vector<Gap> gutters(const Items& items, bool& in_rows) const {
    std::vector<std::pair<double, double>> spans;
    for (const Item& item : items) {
      if (!item.picture) spans.emplace_back(item.box.x0, item.box.x1);
    }
    if (spans.size() < 2) return {};
    if (!hints_.gutters.empty()) return wanted_gutters(spans);
    std::vector<Gap> gaps = gaps_of(std::move(spans), kNarrowestGutter * x_height_);
    gaps.erase(std::remove_if(gaps.begin(), gaps.end(),
                              [&](const Gap& gap) {
                                return !stand_beside(gap, items) ||
                                       (items.size() > 2 && !has_columns(gap, items));
                              }),
               gaps.end());
    const bool in_part = in_rows;
    const auto across = [&](const Gap& gap) {
      const bool rows = read_across(gap, items, in_part ? 1 : kFewestLabels);
      in_rows = in_rows || (rows && items.size() > 2);
      return rows && items.size() > 2;
    };
    gaps.erase(std::remove_if(gaps.begin(), gaps.end(), across), gaps.end());
    return gaps;
  }

  // Those that a person wants and nothing here goes over.
  std::vector<Gap> wanted_gutters(const std::vector<std::pair<double, double>>& spans) const {
    std::vector<Gap> gaps;
    for (const double x : hints_.gutters) {
      int left = 0, right = 0;
      for (const auto& [from, to] : spans) {
        left += to <= x + kOverhang * x_height_;
        right += from >= x - kOverhang * x_height_;
      }
      const bool free = left + right == static_cast<int>(spans.size());
      if (free && left > 0 && right > 0) gaps.push_back({x, x});
    }
    return gaps;
  }

  // Whether anything at the left of a gutter has something beside it at the right.
  bool stand_beside(const Gap& gutter, const Items& items) const {
    return std::any_of(items.begin(), items.end(), [&](const Item& a) {
      return a.box.centre().x < gutter.middle() &&
             std::any_of(items.begin(), items.end(), [&](const Item& b) {
               return b.box.centre().x > gutter.middle() &&
                      overlap(a.box.y0, a.box.y1, b.box.y0, b.box.y1) > kOverhang * x_height_;
             });
    });
  }

  // A date beside an address is no column: a side with so little text stands where it stands.
  bool has_columns(const Gap& gutter, const Items& items) const {
    size_t left = 0, right = 0;
    for (const Item& item : items)
      (item.box.centre().x < gutter.middle() ? left : right) += std::max<size_t>(1, item.lines);
    return std::min(left, right) > kNoColumn;
  }

  // Labels with their entries, in rows: nearly every block on one side is a line or two and begins
  // level with one on the other side.
  bool read_across(const Gap& gutter, const Items& items, int fewest_labels) const {
    int left = 0, right = 0, left_paired = 0, right_paired = 0;
    bool entries = true;  // at the left
    for (const Item& item : items) {
      const bool at_left = item.box.x1 < gutter.middle();
      const auto level = [&](const Item& other) {
        return (other.box.x1 < gutter.middle()) != at_left &&
               std::abs(other.first_line - item.first_line) < kSameLine * x_height_;
      };
      const bool paired = std::any_of(items.begin(), items.end(), level);
      ++(at_left ? left : right);
      (at_left ? left_paired : right_paired) += paired && item.entry && !item.ticked;
      if (at_left) entries = entries && item.entry;
    }
    return right_paired > kEntries * right ||
           (entries && left >= fewest_labels && left_paired > kLabels * left);
  }

  // Whether what is above a gap is read before all that is below it, columns or not.
  bool parts_page(const Gap& gap, const Items& items) const {
    if (gap.to - gap.from > kWideGap * x_height_) return true;
    std::vector<const Item*> feet, heads;  // next to the gap, above and below
    for (const Item& item : items) {
      if (item.picture) continue;
      const bool above = item.box.centre().y < gap.middle();
      const bool next = std::none_of(items.begin(), items.end(), [&](const Item& other) {
        const double y = other.box.centre().y;
        const bool between = above ? y > item.box.centre().y && y < gap.middle()
                                   : y < item.box.centre().y && y > gap.middle();
        return between && share_columns(other.box, item.box);
      });
      if (next) (above ? feet : heads).push_back(&item);
    }
    if (feet.empty() || heads.empty()) return false;
    const auto all = [](const std::vector<const Item*>& group, const auto& holds) {
      return std::all_of(group.begin(), group.end(), [&](const Item* i) { return holds(*i); });
    };
    const auto under_rule = [&](const Item& item) {
      return ruled_share(gap, item.box) > kUnderRule;
    };
    if (all(feet, under_rule) && all(heads, under_rule)) return true;
    const double width = bounds_of(items).width();
    for (const auto* group : {&feet, &heads}) {
      if (group->size() == 1 && group->front()->box.width() > kAcross * width) return true;
    }
    // Every column begins anew: with a heading, or with a box.
    return heads.size() > 1 &&
           std::any_of(heads.begin(), heads.end(), [](const Item* i) { return i->heading; }) &&
           all(heads, [&](const Item& item) { return item.heading || under_rule(item); });
  }

  // How much of a box's width has a rule, or the edge of a frame, in the gap.
  double ruled_share(const Gap& gap, const Box& box) const {
    double ruled = 0;
    const auto in_gap = [&](double y) {
      return y > gap.from - x_height_ && y < gap.to + x_height_;
    };
    for (const Box& rule : hints_.rules) {
      const bool upright = rule.width() < x_height_;
      if (!upright && (in_gap(rule.y0) || in_gap(rule.y1)))
        ruled += overlap(rule.x0, rule.x1, box.x0, box.x1);
    }
    return ruled / std::max(1.0, box.width());
  }

  void cut_level(const Items& items, const std::vector<double>& at, bool in_rows) {
    std::vector<Items> parts(at.size() + 1);
    for (const Item& item : items) {
      size_t part = 0;
      for (const double y : at) part += item.box.centre().y > y;
      parts[part].push_back(item);
    }
    recurse(parts, items, in_rows);
  }

  void cut_upright(const Items& items, const std::vector<Gap>& gaps, bool in_rows) {
    std::vector<Items> parts(gaps.size() + 1);
    for (const Item& item : items) parts[column_of(item, gaps)].push_back(item);
    recurse(parts, items, in_rows);
  }

  void recurse(const std::vector<Items>& parts, const Items& whole, bool in_rows) {
    for (const Items& part : parts) {
      if (part.size() == whole.size()) return sort(whole);
    }
    for (const Items& part : parts) cut(part, in_rows);
  }

  // Topological.
  void sort(Items items) {
    std::sort(items.begin(), items.end(), [](const Item& a, const Item& b) {
      return std::make_pair(a.box.y0, a.box.x0) < std::make_pair(b.box.y0, b.box.x0);
    });
    std::vector<bool> seen(items.size(), false);
    for (size_t i = 0; i < items.size(); ++i) visit(items, i, seen);
  }

  void visit(const Items& items, size_t i, std::vector<bool>& seen) {
    if (seen[i]) return;
    seen[i] = true;
    for (size_t k = 0; k < items.size(); ++k) {
      if (k != i && before(items[k].box, items[i].box, items)) visit(items, k, seen);
    }
    result_.push_back(items[i].block);
  }

  static bool before(const Box& a, const Box& b, const Items& all) {
    if (share_columns(a, b)) return a.centre().y < b.centre().y;
    if (a.centre().x > b.centre().x) return false;
    const double from = std::min(a.centre().y, b.centre().y),
                 to = std::max(a.centre().y, b.centre().y);
    return std::none_of(all.begin(), all.end(), [&](const Item& c) {
      return c.box.centre().y > from && c.box.centre().y < to && share_columns(c.box, a) &&
             share_columns(c.box, b);
    });
  }

  double x_height_;
  OrderHints hints_;
  std::vector<size_t> result_;
};

Box mirrored(const Box& b, bool mirror) {
  return mirror ? Box{-b.x1, b.y0, -b.x0, b.y1} : b;
}

double x_height_of(const std::vector<Block>& blocks) {
  std::vector<double> heights;
  for (const Block& block : blocks) {
    for (const Line& line : block.lines) heights.push_back(line.x_height);
  }
  return heights.empty() ? 1 : median(heights);
}

double first_baseline(const Block& block) {
  if (block.lines.empty()) return bounds(block.outline).y0;
  const Polyline& baseline = block.lines.front().baseline;
  return (baseline.front().y + baseline.back().y) / 2;
}

bool begins_with_tick_box(const Box& block, double first_line, double x_height,
                          const std::vector<Box>& tick_boxes) {
  return std::any_of(tick_boxes.begin(), tick_boxes.end(), [&](const Box& box) {
    return box.x1 <= block.x0 + x_height && block.x0 - box.x1 < kTickAway * x_height &&
           box.y0 < first_line && box.y1 > first_line - x_height;
  });
}

std::vector<Block> sorted(std::vector<Block> blocks, const OrderHints& hints) {
  const double x_height = x_height_of(blocks);
  Items items;
  for (size_t i = 0; i < blocks.size(); ++i) {
    const BlockKind kind = blocks[i].kind;
    const Box box = box_of(blocks[i]);
    Item item;
    item.block = i;
    item.box = mirrored(box, hints.right_to_left);
    item.heading = kind == BlockKind::kHeading;
    item.picture = kind == BlockKind::kPicture || kind == BlockKind::kCaption;
    item.lines = blocks[i].lines.size();
    item.entry = item.lines > 0 && item.lines <= kEntryLines;
    item.first_line = first_baseline(blocks[i]);
    item.ticked = begins_with_tick_box(box, item.first_line, x_height, hints.tick_boxes);
    items.push_back(item);
  }
  OrderHints mirrored_hints = hints;
  for (Box& rule : mirrored_hints.rules) rule = mirrored(rule, hints.right_to_left);
  if (hints.right_to_left) {
    for (double& x : mirrored_hints.gutters) x = -x;
    std::reverse(mirrored_hints.gutters.begin(), mirrored_hints.gutters.end());
  }
  std::vector<Block> result;
  for (const size_t i : Order(x_height, std::move(mirrored_hints)).of(items))
    result.push_back(std::move(blocks[i]));
  return result;
}

std::vector<Block> taken_from(std::vector<Block>& from, BlockKind kind) {
  const auto first = std::stable_partition(from.begin(), from.end(),
                                           [&](const Block& b) { return b.kind != kind; });
  std::vector<Block> result(std::make_move_iterator(first), std::make_move_iterator(from.end()));
  from.erase(first, from.end());
  return result;
}

// After the block whose height it shares most.
void place_note(Block note, std::vector<Block>& blocks) {
  const Box box = box_of(note);
  size_t home = blocks.size();
  double most = 0;
  for (size_t i = 0; i < blocks.size(); ++i) {
    const Box other = box_of(blocks[i]);
    const double shared = overlap(box.y0, box.y1, other.y0, other.y1);
    if (blocks[i].kind == BlockKind::kMarginNote || shared <= most) continue;
    most = shared;
    home = i + 1;
  }
  while (home < blocks.size() && blocks[home].kind == BlockKind::kMarginNote) ++home;
  blocks.insert(blocks.begin() + static_cast<long>(home), std::move(note));
}

void place_captions(std::vector<Block>& blocks) {
  for (size_t i = 0; i < blocks.size(); ++i) {
    if (blocks[i].kind != BlockKind::kPicture) continue;
    const Box picture = bounds(blocks[i].outline);
    const auto caption = std::find_if(blocks.begin(), blocks.end(), [&](const Block& b) {
      const Box box = bounds(b.outline);
      return b.kind == BlockKind::kCaption && box.y0 > picture.centre().y &&
             box.y0 - picture.y1 < kCaptionGap * picture.height() + box.height() &&
             overlap(box.x0, box.x1, picture.x0, picture.x1) > kUnderPicture * box.width();
    });
    const auto at = caption - blocks.begin();
    if (caption == blocks.end() || at == static_cast<long>(i) + 1) continue;
    Block moved = std::move(*caption);
    blocks.erase(caption);
    const long to = at < static_cast<long>(i) ? static_cast<long>(i) : static_cast<long>(i) + 1;
    blocks.insert(blocks.begin() + to, std::move(moved));
    if (at < static_cast<long>(i)) --i;
  }
}

}  // namespace

void put_in_reading_order(const OrderHints& hints, std::vector<Block>& blocks) {
  Box all;
  for (const Block& block : blocks) all = united(all, box_of(block));
  const auto taken = [&](BlockKind kind) { return sorted(taken_from(blocks, kind), hints); };
  std::vector<Block> feet;
  std::vector<Block> front;
  for (const BlockKind kind : {BlockKind::kRunningHead, BlockKind::kPageNumber}) {
    for (Block& block : taken(kind)) {
      const bool top = box_of(block).centre().y < all.centre().y;
      (top ? front : feet).push_back(std::move(block));
    }
  }
  std::vector<Block> notes = taken(BlockKind::kMarginNote), footnotes = taken(BlockKind::kFootnote);
  blocks = sorted(std::move(blocks), hints);
  for (Block& note : notes) place_note(std::move(note), blocks);
  place_captions(blocks);
  front = sorted(std::move(front), hints);
  blocks.insert(blocks.begin(), std::make_move_iterator(front.begin()),
                std::make_move_iterator(front.end()));
  for (auto* group : {&footnotes, &feet}) {
    for (Block& block : *group) blocks.push_back(std::move(block));
  }
}

}  // namespace burnisher::layout
