#include "page/block_kind.h"

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
