#include "layout/stencil.h"

#include <algorithm>
#include <cmath>

namespace burnisher::layout {
namespace {

constexpr double kMostScale = 1.12;    // pages further apart in size are not alike
constexpr double kLeastCovered = 0.5;  // of a line, by its block
constexpr double kMostOutside = 0.15;  // of the lines

bool has_lines(const Block& block) {
  return !block.lines.empty() && block.kind != BlockKind::kNoise;
}

bool takes_text(const Block& block) {
  return block.kind != BlockKind::kPicture && block.kind != BlockKind::kSeparator &&
         block.kind != BlockKind::kNoise;
}

Box frame_of(const Page& page, bool stencil) {
  Box frame;
  for (const Block& block : page.blocks) {
    if (stencil ? takes_text(block) : has_lines(block))
      frame = united(frame, bounds(block.outline));
  }
  return frame;
}

double covered(const Box& line, const Box& block) {
  const double area =
      overlap(line.x0, line.x1, block.x0, block.x1) * overlap(line.y0, line.y1, block.y0, block.y1);
  return area / std::max(1.0, line.width() * line.height());
}

}  // namespace

bool StencilFit::fits() const {
  return lines > 0 && outside <= kMostOutside * lines;
}

Page stencil_of(const Page& page) {
  Page stencil = page;
  stencil.blocks.clear();
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kSeparator || block.kind == BlockKind::kNoise) continue;
    Block kept;
    kept.kind = block.kind;
    kept.level = block.level;
    kept.outline = block.outline;
    stencil.blocks.push_back(kept);
  }
  return stencil;
}

StencilFit lay_over(const Page& stencil, Page& page) {
  StencilFit fit;
  const Box from = frame_of(stencil, true), to = frame_of(page, false);
  if (from.empty() || to.empty()) return fit;
  double scale = to.width() / from.width();
  if (scale > kMostScale || scale < 1 / kMostScale) scale = 1;
  const auto moved = [&](Point p) {
    return Point{to.x0 + (p.x - from.x0) * scale, to.y0 + (p.y - from.y0) * scale};
  };
  std::vector<Block> blocks;
  for (const Block& block : stencil.blocks) {
    blocks.push_back(block);
    for (Point& p : blocks.back().outline) p = moved(p);
  }
  for (Block& found : page.blocks) {
    if (found.lines.empty()) continue;
    if (found.kind == BlockKind::kTable) {
      const auto table = std::find_if(blocks.begin(), blocks.end(), [&](const Block& b) {
        return b.kind == BlockKind::kTable && b.cells.empty() &&
               covered(bounds(found.outline), bounds(b.outline)) > kLeastCovered;
      });
      if (table != blocks.end()) {
        fit.lines += static_cast<int>(found.lines.size());
        table->lines = std::move(found.lines);
        table->cells = std::move(found.cells);
        continue;
      }
    }
    for (Line& line : found.lines) {
      ++fit.lines;
      Block* best = nullptr;
      double most = kLeastCovered;
      for (Block& block : blocks) {
        const double share = covered(line.box, bounds(block.outline));
        if (share > most) {
          most = share;
          best = &block;
        }
      }
      if (best == nullptr)
        ++fit.outside;
      else if (takes_text(*best))
        best->lines.push_back(std::move(line));
    }
  }
  page.blocks = std::move(blocks);
  return fit;
}

}  // namespace burnisher::layout
