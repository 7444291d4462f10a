#include "layout/pictures.h"

#include <algorithm>
#include <cmath>

#include "layout/kinds.h"
#include "raster/components.h"

namespace burnisher::layout {
namespace {

// All lengths in text heights.
constexpr double kTextHeight = 1.4;  // of an x-height
constexpr double kCell = 0.25;
constexpr double kReach = 0.8;   // ink nearer to each other than twice that is one thing
constexpr double kSmallest = 5;  // either way
constexpr double kEdge = 1;      // nearer to the page's edge it is a shadow or the next page
constexpr double kThinRule = 0.6;
constexpr double kLeastFilled = 0.03;  // of a picture's cells
constexpr double kMostText = 0.1;      // of its area; more: a frame with text in it
constexpr double kInColumn = 0.3;      // of its width, that a block of its column shares with it

bool is_print(const Block& block) {
  return block.kind != BlockKind::kNoise && block.kind != BlockKind::kPicture &&
         block.kind != BlockKind::kSeparator;
}

// Cells of the page that hold ink beside words, tables, known pictures and straight rules.
class Cells {
 public:
  Cells(const Bitonal& ink, const Page& page, double text_height)
      : size_(std::max(2, static_cast<int>(kCell * text_height))),
        columns_((ink.width() + size_ - 1) / size_),
        rows_((ink.height() + size_ - 1) / size_),
        filled_(columns_, rows_) {
    for (int y = 0; y < ink.height(); ++y) {
      const uint8_t* row = ink.row(y);
      for (int x = 0; x < ink.width(); ++x) {
        if (row[x >> 3] == 0) {
          x |= 7;
        } else if (ink.ink(x, y)) {
          filled_.set_ink(x / size_, y / size_, true);
        }
      }
    }
    for (const Block& block : page.blocks) {
      const Box box = bounds(block.outline);
      const bool rule = block.kind == BlockKind::kSeparator &&
                        std::min(box.width(), box.height()) < kThinRule * text_height;
      if (rule || block.kind == BlockKind::kTable || block.kind == BlockKind::kPicture)
        clear(box, 0.3 * text_height);
      if (!is_print(block)) continue;
      for (const Line& line : block.lines) {
        for (const Word& word : line.words) clear(word.box, 0.3 * line.x_height);
      }
    }
  }

  // Cells that lie so near to each other that they are one thing.
  std::vector<Box> groups(double reach) const {
    const int wide = std::max(1, static_cast<int>(std::lround(reach / size_)));
    Bitonal grown(columns_, rows_);
    for (int y = 0; y < rows_; ++y) {
      for (int x = 0; x < columns_; ++x) {
        if (!filled_.ink(x, y)) continue;
        for (int v = std::max(0, y - wide); v <= std::min(rows_ - 1, y + wide); ++v) {
          for (int u = std::max(0, x - wide); u <= std::min(columns_ - 1, x + wide); ++u)
            grown.set_ink(u, v, true);
        }
      }
    }
    std::vector<Box> boxes;
    for (const Component& c : components_of(grown).list) {
      boxes.push_back({double((c.x0 + wide) * size_), double((c.y0 + wide) * size_),
                       double((c.x1 - wide) * size_), double((c.y1 - wide) * size_)});
    }
    return boxes;
  }

  double filled_share(const Box& box) const {
    int filled = 0, all = 0;
    for (int y = static_cast<int>(box.y0) / size_; y < std::min<double>(rows_, box.y1 / size_);
         ++y) {
      for (int x = static_cast<int>(box.x0) / size_; x < std::min<double>(columns_, box.x1 / size_);
           ++x, ++all)
        filled += filled_.ink(x, y);
    }
    return all > 0 ? static_cast<double>(filled) / all : 0;
  }

 private:
  void clear(const Box& box, double by) {
    const int x0 = std::max(0, static_cast<int>((box.x0 - by) / size_));
    const int y0 = std::max(0, static_cast<int>((box.y0 - by) / size_));
    for (int y = y0; y < rows_ && y * size_ < box.y1 + by; ++y) {
      for (int x = x0; x < columns_ && x * size_ < box.x1 + by; ++x) filled_.set_ink(x, y, false);
    }
  }

  int size_, columns_, rows_;
  Bitonal filled_;
};

double text_share(const Page& page, const Box& box) {
  double text = 0;
  for (const Block& block : page.blocks) {
    if (!is_print(block)) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        text += overlap(word.box.x0, word.box.x1, box.x0, box.x1) *
                overlap(word.box.y0, word.box.y1, box.y0, box.y1);
      }
    }
  }
  return text / std::max(1.0, box.width() * box.height());
}

// Rules that start at the picture and are no longer than it: axes, grids, frames.
Box with_rules(Box box, double text_height, std::vector<Block>& blocks) {
  const Box near{box.x0 - text_height, box.y0 - text_height, box.x1 + text_height,
                 box.y1 + text_height};
  const auto belongs = [&](const Block& block) {
    if (block.kind != BlockKind::kSeparator) return false;
    const Box rule = bounds(block.outline);
    return overlap(rule.x0, rule.x1, near.x0, near.x1) > 0.8 * rule.width() &&
           overlap(rule.y0, rule.y1, near.y0, near.y1) > 0.8 * rule.height();
  };
  for (const Block& block : blocks) {
    if (belongs(block)) box = united(box, bounds(block.outline));
  }
  blocks.erase(std::remove_if(blocks.begin(), blocks.end(), belongs), blocks.end());
  return box;
}

// Behind the last block that stands above it in its column.
size_t place_of(const Box& box, const std::vector<Block>& blocks) {
  size_t place = 0;
  for (size_t i = 0; i < blocks.size(); ++i) {
    if (!is_print(blocks[i])) continue;
    const Box other = bounds(blocks[i].outline);
    const double shared = overlap(box.x0, box.x1, other.x0, other.x1);
    const double narrower = std::max(1.0, std::min(box.width(), other.width()));
    if (shared > kInColumn * narrower && other.centre().y < box.centre().y) place = i + 1;
  }
  return place;
}

}  // namespace

int add_pictures(const Bitonal& ink, Page& page) {
  const double text_height = kTextHeight * body_x_height(page.blocks);
  if (text_height <= 0) return 0;
  const Cells cells(ink, page, text_height);
  const double edge = kEdge * text_height;
  int added = 0;
  for (const Box& group : cells.groups(kReach * text_height)) {
    const bool large = std::min(group.width(), group.height()) >= kSmallest * text_height;
    const bool at_edge = group.x0 < edge || group.y0 < edge || group.x1 > page.width - edge ||
                         group.y1 > page.height - edge;
    if (!large || at_edge || cells.filled_share(group) < kLeastFilled ||
        text_share(page, group) > kMostText)
      continue;
    Block block;
    block.kind = BlockKind::kPicture;
    const Box box = with_rules(group, text_height, page.blocks);
    block.outline = box.corners();
    const auto place = static_cast<ptrdiff_t>(place_of(box, page.blocks));
    page.blocks.insert(page.blocks.begin() + place, std::move(block));
    ++added;
  }
  if (added > 0) name_captions(page.height, page.blocks);
  return added;
}

}  // namespace burnisher::layout
