#include "page/block_kind.h"

#include <algorithm>

#include "base/error.h"

namespace burnisher {
namespace {

struct Row {
  BlockKind kind;
  const char* name;
  PageRegion region;
};

constexpr Row kRows[] = {
    {BlockKind::kText, "text", {"TextRegion", "paragraph"}},
    {BlockKind::kHeading, "heading", {"TextRegion", "heading"}},
    {BlockKind::kCaption, "caption", {"TextRegion", "caption"}},
    {BlockKind::kFootnote, "footnote", {"TextRegion", "footnote"}},
    {BlockKind::kRunningHead, "running-head", {"TextRegion", "header"}},
    {BlockKind::kPageNumber, "page-number", {"TextRegion", "page-number"}},
    {BlockKind::kMarginNote, "margin-note", {"TextRegion", "marginalia"}},
    {BlockKind::kDropCapital, "drop-capital", {"TextRegion", "drop-capital"}},
    {BlockKind::kTable, "table", {"TableRegion", ""}},
    {BlockKind::kPicture, "picture", {"ImageRegion", ""}},
    {BlockKind::kSeparator, "separator", {"SeparatorRegion", ""}},
    {BlockKind::kNoise, "noise", {"NoiseRegion", ""}},
};

}  // namespace

const char* name_of(BlockKind kind) {
  for (const Row& row : kRows) {
    if (row.kind == kind) return row.name;
  }
  return "text";
}

BlockKind kind_named(const std::string& name) {
  std::string known;
  for (const Row& row : kRows) {
    if (name == row.name) return row.kind;
    known += (known.empty() ? "" : ", ") + std::string(row.name);
  }
  throw SettingsError("'" + name + "' is no kind of block; known are " + known);
}

bool KindChoice::keeps(BlockKind kind) const {
  const auto in = [&](const std::vector<BlockKind>& list) {
    return std::find(list.begin(), list.end(), kind) != list.end();
  };
  return (only.empty() || in(only)) && !in(drop);
}

void KindChoice::apply(Page& page) const {
  page.blocks.erase(std::remove_if(page.blocks.begin(), page.blocks.end(),
                                   [&](const Block& b) { return !keeps(b.kind); }),
                    page.blocks.end());
}

PageRegion page_region_of(BlockKind kind) {
  for (const Row& row : kRows) {
    if (row.kind == kind) return row.region;
  }
  return kRows[0].region;
}

BlockKind kind_of_region(const std::string& element, const std::string& type) {
  for (const Row& row : kRows) {
    if (element == row.region.element && type == row.region.type) return row.kind;
  }
  if (element == "TextRegion") return BlockKind::kText;
  if (element == "GraphicRegion" || element == "LineDrawingRegion" || element == "ChartRegion" ||
      element == "MapRegion") {
    return BlockKind::kPicture;
  }
  return BlockKind::kNoise;
}

}  // namespace burnisher
