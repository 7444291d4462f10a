#include "layout/order.h"

#include <algorithm>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr double kShared = 0.1;        // of the narrower one's width: blocks of one column
constexpr double kCaptionGap = 0.2;    // of the picture's height, besides the caption's own
constexpr double kUnderPicture = 0.8;  // of the caption's width
constexpr double kAcross = 0.8;        // of a part's width: goes right across it
constexpr double kLevel = 0.5;         // of the lower one's height, that level blocks share
constexpr double kEntries = 0.6;       // of a column's blocks, that stand level with others
constexpr size_t kEntryLines = 2;      // of a short entry, at most
// In x-heights.
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
  bool entry = false;  // a line or two
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
  Order(double x_height, std::vector<Box> rules) : x_height_(x_height), rules_(std::move(rules)) {}

  std::vector<size_t> of(const Items& items) {
    result_.clear();
    cut(items);
    return result_;
  }

 private:
  void cut(const Items& items) {
    if (items.size() < 2) {
      for (const Item& item : items) result_.push_back(item.block);
      return;
    }
    const std::vector<Gap> level = level_gaps(items), upright = gutters(items);
    std::vector<double> strong;
    for (const Gap& gap : level) {
      if (parts_page(gap, items)) strong.push_back(gap.middle());
    }
    if (!strong.empty()) return cut_level(items, strong);
    if (!upright.empty()) return cut_upright(items, upright);
    if (!level.empty()) {
      const auto widest = std::max_element(level.begin(), level.end(), [](const Gap& a, const Gap& b) {
        return a.to - a.from < b.to - b.from;
      });
      return cut_level(items, {widest->middle()});
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

  // White from top to bottom, beside pictures: those go with the column at their left.
  std::vector<Gap> gutters(const Items& items) const {
    std::vector<std::pair<double, double>> spans;
    for (const Item& item : items) {
      if (!item.picture) spans.emplace_back(item.box.x0, item.box.x1);
    }
    if (spans.size() < 2) return {};
    std::vector<Gap> gaps = gaps_of(std::move(spans), kNarrowestGutter * x_height_);
    gaps.erase(std::remove_if(gaps.begin(), gaps.end(),
                              [&](const Gap& gap) { return read_across(gap, items); }),
               gaps.end());
    return gaps;
  }

  // Labels with their entries, in rows.
  bool read_across(const Gap& gutter, const Items& items) const {
    int right = 0, paired = 0;
    for (const Item& item : items) {
      if (item.box.x0 < gutter.middle()) continue;
      ++right;
      paired += item.entry && std::any_of(items.begin(), items.end(), [&](const Item& other) {
        return other.entry && other.box.x1 < gutter.middle() &&
               overlap(other.box.y0, other.box.y1, item.box.y0, item.box.y1) >
                   kLevel * std::min(other.box.height(), item.box.height());
      });
    }
    return paired > kEntries * right;
  }

  // Whether what is above a gap is read before all that is below it, columns or not.
  bool parts_page(const Gap& gap, const Items& items) const {
    if (gap.to - gap.from > kWideGap * x_height_) return true;
    const Box all = bounds_of(items);
    for (const Box& rule : rules_) {
      if (rule.width() > rule.height() && rule.y1 > gap.from - x_height_ &&
          rule.y0 < gap.to + x_height_ &&
          overlap(rule.x0, rule.x1, all.x0, all.x1) > kAcross * all.width())
        return true;
    }
    bool headings = true;
    int heads = 0;
    for (const Item& item : items) {
      if (item.picture) continue;
      const bool above = item.box.centre().y < gap.middle();
      const bool next = std::none_of(items.begin(), items.end(), [&](const Item& other) {
        const double y = other.box.centre().y;
        const bool between = above ? y > item.box.centre().y && y < gap.middle()
                                   : y < item.box.centre().y && y > gap.middle();
        return between && share_columns(other.box, item.box);
      });
      if (!next) continue;
      if (item.box.width() > kAcross * all.width()) return true;
      if (above) continue;
      headings = headings && item.heading;
      ++heads;
    }
    return headings && heads > 1;
  }

  void cut_level(const Items& items, const std::vector<double>& at) {
    std::vector<Items> parts(at.size() + 1);
    for (const Item& item : items) {
      size_t part = 0;
      for (const double y : at) part += item.box.centre().y > y;
      parts[part].push_back(item);
    }
    recurse(parts, items);
  }

  void cut_upright(const Items& items, const std::vector<Gap>& gaps) {
    std::vector<Items> parts(gaps.size() + 1);
    for (const Item& item : items) {
      size_t part = 0;
      const double x = item.picture ? item.box.x0 + x_height_ : item.box.centre().x;
      for (const Gap& gap : gaps) part += x > gap.middle();
      parts[part].push_back(item);
    }
    recurse(parts, items);
  }

  void recurse(const std::vector<Items>& parts, const Items& whole) {
    for (const Items& part : parts) {
      if (part.size() == whole.size()) return sort(whole);
    }
    for (const Items& part : parts) cut(part);
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
  std::vector<Box> rules_;
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

std::vector<Block> sorted(std::vector<Block> blocks, bool right_to_left,
                          const std::vector<Box>& rules) {
  std::vector<Box> walls;
  for (const Box& rule : rules) walls.push_back(mirrored(rule, right_to_left));
  Items items;
  for (size_t i = 0; i < blocks.size(); ++i) {
    const BlockKind kind = blocks[i].kind;
    items.push_back({i, mirrored(box_of(blocks[i]), right_to_left), kind == BlockKind::kHeading,
                     kind == BlockKind::kPicture || kind == BlockKind::kCaption,
                     !blocks[i].lines.empty() && blocks[i].lines.size() <= kEntryLines});
  }
  std::vector<Block> result;
  for (const size_t i : Order(x_height_of(blocks), std::move(walls)).of(items))
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

void put_in_reading_order(bool right_to_left, const std::vector<Box>& rules,
                          std::vector<Block>& blocks) {
  Box all;
  for (const Block& block : blocks) all = united(all, box_of(block));
  const auto taken = [&](BlockKind kind) {
    return sorted(taken_from(blocks, kind), right_to_left, rules);
  };
  std::vector<Block> feet;
  std::vector<Block> front;
  for (const BlockKind kind : {BlockKind::kRunningHead, BlockKind::kPageNumber}) {
    for (Block& block : taken(kind)) {
      const bool top = box_of(block).centre().y < all.centre().y;
      (top ? front : feet).push_back(std::move(block));
    }
  }
  std::vector<Block> notes = taken(BlockKind::kMarginNote), footnotes = taken(BlockKind::kFootnote);
  blocks = sorted(std::move(blocks), right_to_left, rules);
  for (Block& note : notes) place_note(std::move(note), blocks);
  place_captions(blocks);
  front = sorted(std::move(front), right_to_left, rules);
  blocks.insert(blocks.begin(), std::make_move_iterator(front.begin()),
                std::make_move_iterator(front.end()));
  for (auto* group : {&footnotes, &feet}) {
    for (Block& block : *group) blocks.push_back(std::move(block));
  }
}

}  // namespace burnisher::layout
