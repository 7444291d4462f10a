#include "layout/kinds.h"

#include <algorithm>
#include <cmath>

#include "base/statistics.h"

namespace burnisher::layout {
namespace {

constexpr double kSameSize = 1.1;        // ratio of x-heights up to which text counts as body
constexpr double kLarger = 1.15;         // from here on it is a heading
constexpr double kLargerOnForms = 1.35;  // the same on pages without prose: entries are larger, too
constexpr double kBolder = 1.4;          // ratio of stroke to x-height
constexpr double kLevels[] = {1.75, 1.35, 1.15};  // least sizes of heading levels 1, 2, 3
constexpr int kBoldLevel = 4;
constexpr size_t kHeadingLines = 3, kCaptionLines = 4, kFewestBodyLines = 6;
constexpr double kNarrowestHeading = 3;  // x-heights
constexpr double kFootnoteSize = 0.92;
constexpr double kApartColumns = 3;  // x-heights of white between columns at the foot
constexpr double kLevelTops = 1.5;   // x-heights between the tops of such columns
constexpr double kLikeColumn = 1.2;  // ratio of their x-heights
constexpr double kCaptionGap = 4;    // x-heights between picture and caption
constexpr double kApart = 2.6;       // x-heights of white that set a head or foot line apart
constexpr double kNumberWidth = 6;   // x-heights
constexpr double kHeadZone = 0.2;    // share of the page at its top and bottom
constexpr int kFewestLabels = 3;
constexpr double kNoteSize = 0.95;   // of a note of many lines; short ones may be of any size
constexpr size_t kShortNote = 3;     // lines
constexpr double kNoteWidth = 0.35;  // of a column of the body
constexpr double kWideBody = 0.3;    // of the whole body

bool has_text(const Block& block) {
  return !block.lines.empty() && block.kind != BlockKind::kTable;
}

double x_height_of(const Block& block) {
  std::vector<double> heights;
  for (const Line& line : block.lines) heights.push_back(line.x_height);
  return median(heights);
}

Box ink_of(const Block& block) {
  Box box;
  for (const Line& line : block.lines) box = united(box, line.box);
  return block.lines.empty() ? bounds(block.outline) : box;
}

// Weight of the type: stroke over x-height.
double weight_of(const Block& block) {
  std::vector<double> weights;
  for (const Line& line : block.lines) {
    if (line.stroke > 0) weights.push_back(line.stroke / line.x_height);
  }
  return weights.empty() ? 0 : median(weights);
}

class Page {
 public:
  Page(int height, std::vector<Block>& blocks) : height_(height), blocks_(blocks) {
    body_size_ = body_x_height(blocks);
    std::vector<std::pair<double, double>> weights;
    for (const Block& b : blocks_) {
      if (!has_text(b)) continue;
      for (const Line& l : b.lines) {
        if (l.stroke > 0) weights.emplace_back(l.stroke / l.x_height, l.box.width());
      }
    }
    body_weight_ = weighted_median(weights);
    for (const Block& b : blocks_) {
      if (!is_body(b)) continue;
      body_ = united(body_, ink_of(b));
      body_lines_ += b.lines.size();
    }
  }

  void name() {
    if (body_size_ <= 0) return;
    labels_ = has_labels();
    for (Block& block : blocks_) {
      if (block.kind != BlockKind::kText || block.lines.empty()) continue;
      if (!labels_ && is_margin_note(block))
        block.kind = BlockKind::kMarginNote;
      else if (is_caption(block))
        block.kind = BlockKind::kCaption;
      else
        block.level = heading_level(block);
      if (block.level > 0) block.kind = BlockKind::kHeading;
    }
    name_head_and_foot(true);
    name_head_and_foot(false);
    for (Block& block : blocks_) {
      if (block.kind == BlockKind::kText && is_footnote(block)) block.kind = BlockKind::kFootnote;
    }
  }

  void name_captions() {
    for (Block& block : blocks_) {
      if (block.kind == BlockKind::kText && !block.lines.empty() && is_caption(block))
        block.kind = BlockKind::kCaption;
    }
  }

 private:
  bool is_body(const Block& b) const {
    if (!has_text(b) || b.lines.size() < 2) return false;
    const double ratio = x_height_of(b) / body_size_;
    return ratio < kSameSize && ratio > 1 / kSameSize;
  }

  int heading_level(const Block& block) const {
    if (block.lines.size() > kHeadingLines) return 0;
    if (ink_of(block).width() < kNarrowestHeading * body_size_) return 0;
    const double ratio = x_height_of(block) / body_size_;
    const double least = body_lines_ >= kFewestBodyLines ? kLarger : kLargerOnForms;
    for (int level = 1; level <= 3; ++level) {
      if (ratio >= std::max(least, kLevels[level - 1])) return level;
    }
    const bool bold = body_weight_ > 0 && weight_of(block) > kBolder * body_weight_;
    return bold && ratio > 0.9 && block.lines.size() <= 2 && body_lines_ >= kFewestBodyLines
               ? kBoldLevel
               : 0;
  }

  // Right below a picture or right above or below a table, and not wider than it.
  bool is_caption(const Block& block) const {
    if (block.lines.size() > kCaptionLines || x_height_of(block) > 1.08 * body_size_) return false;
    const Box box = ink_of(block);
    return std::any_of(blocks_.begin(), blocks_.end(), [&](const Block& other) {
      const bool table = other.kind == BlockKind::kTable;
      if (!table && other.kind != BlockKind::kPicture) return false;
      const Box to = bounds(other.outline);
      const double below = box.y0 - to.y1, above = to.y0 - box.y1;
      const double gap = std::max(below, table ? above : below);
      // A table's caption stands out by its size; else it is the text that leads to the table.
      const bool apart = !table || x_height_of(block) < 0.95 * body_size_;
      return apart && gap > -0.5 * body_size_ && gap < kCaptionGap * body_size_ &&
             overlap(box.x0, box.x1, to.x0, to.x1) > 0.8 * box.width() &&
             box.width() < 1.15 * to.width();
    });
  }

  // What stands beside the body is labels of its entries rather than notes: there are several, and
  // nearly all begin level with one.
  bool has_labels() const {
    int beside = 0, level = 0;
    for (const Block& block : blocks_) {
      if (block.kind != BlockKind::kText || block.lines.empty() || !is_margin_note(block)) continue;
      ++beside;
      const double y = block.lines.front().baseline.front().y;
      level += std::any_of(blocks_.begin(), blocks_.end(), [&](const Block& other) {
        return &other != &block && has_text(other) && ink_of(other).x0 > ink_of(block).x1 &&
               std::abs(height_at(other.lines.front().baseline, 0) - y) < 0.7 * body_size_;
      });
    }
    return level >= kFewestLabels && 4 * level > 3 * beside;
  }

  // Narrow, wholly outside the body's columns, beside it.
  bool is_margin_note(const Block& block) const {
    if (body_lines_ < kFewestBodyLines || is_wide_body(block)) return false;
    const Box box = ink_of(block);
    const Box main = main_columns();
    if (main.empty()) return false;
    const bool beside = overlap(box.y0, box.y1, main.y0, main.y1) > 0.8 * box.height();
    const bool outside = box.x1 < main.x0 || box.x0 > main.x1;
    const bool small = x_height_of(block) < kNoteSize * body_size_;
    return beside && outside && box.width() < kNoteWidth * column_width() &&
           (small || block.lines.size() <= kShortNote);
  }

  bool is_wide_body(const Block& b) const {
    return is_body(b) && ink_of(b).width() > kWideBody * body_.width();
  }

  double column_width() const {
    std::vector<double> widths;
    for (const Block& b : blocks_) {
      if (is_wide_body(b)) widths.push_back(ink_of(b).width());
    }
    return widths.empty() ? 0 : median(widths);
  }

  Box main_columns() const {
    Box main;
    for (const Block& b : blocks_) {
      if (is_wide_body(b)) main = united(main, ink_of(b));
    }
    return main;
  }

  // The lines at the very top (or bottom), set apart from what follows.
  void name_head_and_foot(bool top) {
    if (body_lines_ < kFewestBodyLines) return;
    std::vector<Block*> outermost;
    double edge = 0, inner = top ? 1e18 : -1e18;
    for (Block& b : blocks_) {
      if (!has_text(b) || b.kind == BlockKind::kMarginNote) continue;
      const Box box = ink_of(b);
      const bool further = outermost.empty() || (top ? box.y1 < edge : box.y0 > edge);
      if (further) {
        outermost = {&b};
        edge = top ? box.y1 : box.y0;
      }
    }
    if (outermost.empty()) return;
    const Box first = ink_of(*outermost.front());
    for (Block& b : blocks_) {
      if (&b == outermost.front() || b.kind == BlockKind::kSeparator ||
          b.kind == BlockKind::kMarginNote || b.kind == BlockKind::kNoise)
        continue;
      const Box box = ink_of(b);
      if (has_text(b) && overlap(box.y0, box.y1, first.y0, first.y1) >
                             0.3 * std::min(box.height(), first.height()))
        outermost.push_back(&b);
      else
        inner = top ? std::min(inner, box.y0) : std::max(inner, box.y1);
    }
    const double apart = top ? inner - first.y1 : first.y0 - inner;
    const bool in_zone =
        top ? first.y1 < kHeadZone * height_ : first.y0 > (1 - kHeadZone) * height_;
    if (apart < kApart * body_size_ * 0.5 || !in_zone) return;
    for (Block* b : outermost) {
      if (b->lines.size() != 1 || x_height_of(*b) > kSameSize * 1.05 * body_size_) continue;
      if (ink_of(*b).width() < kNumberWidth * body_size_)
        b->kind = BlockKind::kPageNumber;
      else if (apart > kApart * body_size_ * 0.75)
        b->kind = BlockKind::kRunningHead;
      b->level = b->kind == BlockKind::kHeading ? b->level : 0;
    }
  }

  // Smaller than the body and below all of it in its columns.
  bool is_footnote(const Block& block) const {
    const Box box = ink_of(block);
    if (x_height_of(block) > kFootnoteSize * body_size_ || body_lines_ < kFewestBodyLines)
      return false;
    bool under = false;
    for (const Block& b : blocks_) {
      if (!is_body(b)) continue;
      const Box other = ink_of(b);
      if (overlap(box.x0, box.x1, other.x0, other.x1) < 0.3 * box.width()) continue;
      if (other.y0 > box.y0) return false;
      under = true;
    }
    return under && box.centre().y > 0.5 * height_ && !among_columns(block);
  }

  // Of several narrow blocks side by side, like an address at the foot of a letter.
  bool among_columns(const Block& block) const {
    const Box box = ink_of(block);
    if (box.width() > 0.5 * body_.width()) return false;
    return std::any_of(blocks_.begin(), blocks_.end(), [&](const Block& other) {
      if (&other == &block || other.lines.empty()) return false;
      const Box beside = ink_of(other);
      // What is measured a little larger, or seen as a table of two columns, is a column of it all
      // the same, if it begins level.
      const bool alike =
          std::abs(beside.y0 - box.y0) < kLevelTops * body_size_ &&
          (other.kind == BlockKind::kTable || other.lines.size() <= block.lines.size() + 1) &&
          x_height_of(other) < kLikeColumn * x_height_of(block);
      if (!alike && (!has_text(other) || x_height_of(other) > kFootnoteSize * body_size_))
        return false;
      const double apart = std::max(beside.x0 - box.x1, box.x0 - beside.x1);
      return apart > kApartColumns * body_size_ &&
             overlap(beside.y0, beside.y1, box.y0, box.y1) > 0;
    });
  }

  int height_;
  std::vector<Block>& blocks_;
  double body_size_ = 0, body_weight_ = 0;
  Box body_;
  size_t body_lines_ = 0;
  bool labels_ = false;  // stand beside the body
};

}  // namespace

double body_x_height(const std::vector<Block>& blocks) {
  std::vector<std::pair<double, double>> sizes;
  for (const Block& block : blocks) {
    if (!has_text(block)) continue;
    for (const Line& line : block.lines) sizes.emplace_back(line.x_height, line.box.width());
  }
  return weighted_median(sizes);
}

void name_kinds(int page_height, std::vector<Block>& blocks) {
  Page(page_height, blocks).name();
}

void name_captions(int page_height, std::vector<Block>& blocks) {
  Page(page_height, blocks).name_captions();
}

}  // namespace burnisher::layout
