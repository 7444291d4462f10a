#include "run/set_page.h"

#include <algorithm>
#include <cmath>

#include "layout/kinds.h"
#include "raster/components.h"
#include "run/lift_rules.h"
#include "type/lift.h"
#include "type/match.h"

namespace burnisher::run {
namespace {

constexpr double kTextHeight = 1.4;  // of an x-height

// `out` without what `gone` has.
void take_out(const Bitonal& gone, Bitonal& out) {
  for (int y = 0; y < out.height(); ++y) {
    const uint8_t* less = gone.row(y);
    uint8_t* row = out.row(y);
    for (int i = 0; i < out.stride(); ++i) row[i] = static_cast<uint8_t>(row[i] & ~less[i]);
  }
}

// What is no text and no picture on a page set anew: signatures, stamps, words that no face can
// set. Specks are left, and what hangs in from the page's edge.
void drop_dirt(const Page& page, double text_height, Bitonal& ink) {
  constexpr double kSpeck = 0.35;  // of the text height
  constexpr double kEdge = 0.03;   // of the page's side, where nothing is printed
  const Components components = components_of(ink);
  std::vector<bool> gone(components.list.size());
  for (size_t c = 0; c < gone.size(); ++c) {
    const Component& part = components.list[c];
    const bool at_edge = part.x0 == 0 || part.y0 == 0 || part.x1 == ink.width() ||
                         part.y1 == ink.height() || part.x1 < kEdge * ink.width() ||
                         part.x0 > (1 - kEdge) * ink.width() || part.y1 < kEdge * ink.height() ||
                         part.y0 > (1 - kEdge) * ink.height();
    gone[c] = at_edge || std::max(part.width(), part.height()) < kSpeck * text_height;
  }
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      for (const Word& word : line.words) {
        if (word.type.em > 0) continue;
        for (size_t c = 0; c < gone.size(); ++c)
          gone[c] = gone[c] && !word.box.contains(components.list[c].box().centre());
      }
    }
  }
  erase(components, gone, ink);
}

}  // namespace

void leave_pictures(const Page& page, Bitonal& ink) {
  for (const Block& block : page.blocks) {
    if (block.kind != BlockKind::kPicture) continue;
    const Box box = bounds(block.outline);
    const int x0 = std::max(0, static_cast<int>(box.x0));
    const int x1 = std::min(ink.width(), static_cast<int>(std::ceil(box.x1)));
    const int y0 = std::max(0, static_cast<int>(box.y0));
    const int y1 = std::min(ink.height(), static_cast<int>(std::ceil(box.y1)));
    for (int y = y0; y < y1; ++y) {
      for (int x = x0; x < x1; ++x) ink.set_ink(x, y, false);
    }
  }
}

pdf::PagePicture set_page(Picture picture, Bitonal ink, Page& page,
                          const pdf::PictureSettings& settings) {
  const bool reset = settings.face == pdf::PageFace::kReset;
  const bool bitonal = std::holds_alternative<Bitonal>(picture);
  type::match(page, picture, ink, reset ? type::Which::kReadable : type::Which::kSure);
  const Bitonal gone = type::ink_of_set_words(page, ink);
  pdf::paper_over(picture, ink, gone);
  take_out(gone, ink);
  if (!bitonal) leave_pictures(page, ink);
  if (!reset) return pdf::page_picture(std::move(picture), std::move(ink), page.dpi, settings);
  std::vector<Box> boxes;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kPicture) boxes.push_back(bounds(block.outline));
  }
  const double text_height = kTextHeight * layout::body_x_height(page.blocks);
  drop_dirt(page, text_height, ink);
  std::vector<Box> rules = lift_rules(page.blocks, text_height, ink);
  pdf::PagePicture result = pdf::cut_out(picture, boxes, std::move(ink), page.dpi, settings);
  result.rules = std::move(rules);
  return result;
}

}  // namespace burnisher::run
