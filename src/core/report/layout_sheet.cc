#include "report/layout_sheet.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include "base/json.h"

#include "base/base64.h"
#include "base/hash.h"
#include "base/statistics.h"
#include "layout/marks.h"
#include "page/block_kind.h"
#include "page/table.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "report/html.h"
#include "report/layout_page.h"

namespace burnisher::report {
namespace {

using nlohmann::json;

constexpr int kThumbWidth = 90, kThumbQuality = 50;  // pixels; JPEG
constexpr int kLookWidth = 240;        // pixels at which ink outside of blocks is looked for
constexpr double kUnclear = 0.75;      // mean confidence
constexpr double kMuchOutside = 0.12;  // of the ink
constexpr double kRim = 0.04;          // of the page: shadows and edges lie there
constexpr double kDarker = 0.7;        // of the paper's brightness: ink
constexpr double kUnlike = 2.5;        // times as many, or as few, blocks as the neighbours have
constexpr size_t kNeighbours = 3;      // pages to either side

json box_json(const Box& b) {
  return {std::lround(b.x0), std::lround(b.y0), std::lround(b.x1), std::lround(b.y1)};
}

// The rules between a table's rows (columns): half-way between the cells on either side.
json rules_of(const Block& table, bool rows) {
  json rules = json::array();
  const int count = rows ? row_count(table) : column_count(table);
  for (int i = 1; i < count; ++i) {
    double before = -1e9, behind = 1e9;
    for (const Cell& cell : table.cells) {
      const int first = rows ? cell.row : cell.column;
      const int end = first + (rows ? cell.rows : cell.columns);
      if (end == i) before = std::max(before, rows ? cell.box.y1 : cell.box.x1);
      if (first == i) behind = std::min(behind, rows ? cell.box.y0 : cell.box.x0);
    }
    if (before > -1e9 && behind < 1e9) rules.push_back(std::lround((before + behind) / 2));
  }
  return rules;
}

json block_json(const Block& block) {
  json outline = json::array(), lines = json::array();
  for (const Point& p : block.outline) outline.push_back({std::lround(p.x), std::lround(p.y)});
  for (const Line& line : block.lines) lines.push_back(box_json(line.box));
  json result = {{"kind", name_of(block.kind)},
                 {"level", block.level},
                 {"outline", outline},
                 {"lines", lines}};
  if (!block.cells.empty()) {
    int header = 0;
    json joined = json::array();
    for (const Cell& cell : block.cells) {
      if (cell.header) header = std::max(header, cell.row + cell.rows);
      if (cell.rows > 1 || cell.columns > 1)
        joined.push_back({cell.row, cell.column, cell.rows, cell.columns});
    }
    result["rows"] = rules_of(block, true);
    result["columns"] = rules_of(block, false);
    result["header"] = header;
    result["joined"] = joined;
  }
  return result;
}

}  // namespace

double uncovered_ink(const Page& page, const Gray& picture) {
  const int w = picture.width(), h = picture.height();
  if (w < 8 || h < 8 || page.width < 1) return 0;
  const double limit = kDarker * quantile_of(picture, 0.7);
  const double x_scale = static_cast<double>(page.width) / w,
               y_scale = static_cast<double>(page.height) / h;
  std::vector<Box> boxes;
  for (const Block& block : page.blocks) boxes.push_back(bounds(block.outline));
  double all = 0, outside = 0;
  for (int y = static_cast<int>(kRim * h); y < (1 - kRim) * h; ++y) {
    for (int x = static_cast<int>(kRim * w); x < (1 - kRim) * w; ++x) {
      if (picture.row(y)[x] >= limit) continue;
      ++all;
      const Point p{(x + 0.5) * x_scale, (y + 0.5) * y_scale};
      outside +=
          std::none_of(boxes.begin(), boxes.end(), [&](const Box& box) { return box.contains(p); });
    }
  }
  return all > 20 ? outside / all : 0;
}

std::vector<std::vector<std::string>> worth_a_look(const std::vector<const Page*>& pages,
                                                   const std::vector<double>& ink_outside) {
  std::vector<std::vector<std::string>> reasons(pages.size());
  const auto blocks_of = [&](size_t i) {
    return static_cast<double>(
        std::count_if(pages[i]->blocks.begin(), pages[i]->blocks.end(), [](const Block& block) {
          return block.kind != BlockKind::kNoise && block.kind != BlockKind::kSeparator;
        }));
  };
  for (size_t i = 0; i < pages.size(); ++i) {
    const Page& page = *pages[i];
    if (page.has_words() && page.mean_network_confidence() < kUnclear)
      reasons[i].push_back(
          fmt::format("read unclearly ({:.0f} %)", 100 * page.mean_network_confidence()));
    if (i < ink_outside.size() && ink_outside[i] > kMuchOutside)
      reasons[i].push_back(fmt::format("{:.0f} % of the ink in no block", 100 * ink_outside[i]));
    std::vector<double> around;
    for (size_t k = i > kNeighbours ? i - kNeighbours : 0;
         k <= std::min(pages.size() - 1, i + kNeighbours); ++k)
      if (k != i) around.push_back(blocks_of(k));
    if (around.size() < kNeighbours) continue;
    const double usual = std::max(1.0, median(around)), own = std::max(1.0, blocks_of(i));
    if (own > kUnlike * usual || usual > kUnlike * own)
      reasons[i].push_back(
          fmt::format("{:.0f} blocks, its neighbours have {:.0f}", blocks_of(i), usual));
  }
  return reasons;
}

std::string layout_html(const LayoutSheet& sheet) {
  std::vector<const Page*> pages;
  std::vector<double> outside;
  json leaves = json::array();
  std::string identity;
  for (size_t i = 0; i < sheet.leaves.size(); ++i) {
    const LayoutLeaf& leaf = sheet.leaves[i];
    const Page& page = *leaf.page;
    const Gray picture = sheet.picture(i);
    std::string thumb;
    if (!picture.empty()) {
      const Gray small = reduced(picture, std::max(1, picture.width() / kThumbWidth));
      thumb = "data:image/jpeg;base64," + base64(write_jpeg(small, kThumbQuality));
    }
    pages.push_back(&page);
    outside.push_back(
        picture.empty()
            ? 0
            : uncovered_ink(page, reduced(picture, std::max(1, picture.width() / kLookWidth))));
    json blocks = json::array();
    for (const Block& block : page.blocks) blocks.push_back(block_json(block));
    const std::string seen = layout::layout_digest(page);
    leaves.push_back({{"name", leaf.name},
                      {"width", page.width},
                      {"height", page.height},
                      {"src", leaf.picture},
                      {"thumb", thumb},
                      {"seen", seen},
                      {"blocks", blocks}});
    identity += leaf.name + seen;
  }
  const auto reasons = worth_a_look(pages, outside);
  for (size_t i = 0; i < leaves.size(); ++i) {
    json worth = sheet.leaves[i].look;
    for (const std::string& reason : reasons[i]) worth.push_back(reason);
    leaves[i]["worth"] = worth;
  }
  json kinds = json::array();
  for (const BlockKind kind :
       {BlockKind::kText, BlockKind::kHeading, BlockKind::kCaption, BlockKind::kFootnote,
        BlockKind::kRunningHead, BlockKind::kPageNumber, BlockKind::kMarginNote, BlockKind::kTable,
        BlockKind::kPicture, BlockKind::kNoise})
    kinds.push_back(name_of(kind));
  const json data = {{"title", sheet.title},
                     {"id", fmt::format("{:016x}", hash_of(identity))},
                     {"kinds", kinds},
                     {"pages", leaves}};
  return html_page(sheet.title, kLayoutStyle,
                   std::string(kLayoutBody) +
                       "<script>\nconst sheet = " + within_script(json_text(data)) + ";\n" +
                       kLayoutMarks + kLayoutView + "</script>\n");
}

}  // namespace burnisher::report
