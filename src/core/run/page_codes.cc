#include "run/page_codes.h"

#include <algorithm>

#include "barcode/barcodes.h"
#include "raster/convert.h"

namespace burnisher::run {

void note_barcodes(const Scan& scan, std::vector<clean::CleanResult>& pages) {
  for (const Barcode& found : barcode::barcodes_on(to_gray(scan.picture))) {
    for (clean::CleanResult& cleaned : pages) {
      Page& page = cleaned.page;
      Barcode one = found;
      for (Point& p : one.outline) p = page.geometry.to_scan.back(p);
      const Box box = bounds(one.outline);
      const Box sheet{0, 0, static_cast<double>(page.width), static_cast<double>(page.height)};
      if (!sheet.contains(box.centre())) continue;
      for (Block& block : page.blocks) {
        if (!block.cells.empty()) continue;  // cells name their lines by place
        block.lines.erase(
            std::remove_if(block.lines.begin(), block.lines.end(),
                           [&](const Line& line) { return box.contains(line.box.centre()); }),
            block.lines.end());
      }
      page.blocks.erase(std::remove_if(page.blocks.begin(), page.blocks.end(),
                                       [](const Block& block) {
                                         return block.lines.empty() &&
                                                block.kind != BlockKind::kPicture &&
                                                block.kind != BlockKind::kTable &&
                                                block.kind != BlockKind::kSeparator;
                                       }),
                        page.blocks.end());
      page.barcodes.push_back(std::move(one));
      break;
    }
  }
}

}  // namespace burnisher::run
