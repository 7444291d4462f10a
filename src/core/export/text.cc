#include "export/text.h"

#include "page/table.h"

namespace burnisher::exporting {

const char* const kPageBreak = "\f\n";

std::string text_of(const Page& page) {
  std::string text;
  bool joins = false;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    std::string lines;
    if (block.kind == BlockKind::kTable && !block.cells.empty()) {
      for (const std::vector<std::string>& row : texts_of(block)) {
        std::string cells;
        for (size_t i = 0; i < row.size(); ++i) cells += (i > 0 ? "\t" : "") + row[i];
        while (!cells.empty() && cells.back() == '\t') cells.pop_back();
        if (!cells.empty()) lines += cells + "\n";
      }
    } else {
      for (const Line& line : block.lines) {
        if (!line.words.empty()) lines += line.text() + "\n";
      }
    }
    if (lines.empty()) continue;
    if (!text.empty() && !joins) text += "\n";
    text += lines;
    // A drop capital is the first letter of the word that follows.
    joins = block.kind == BlockKind::kDropCapital;
    if (joins) text.pop_back();
  }
  return text;
}

}  // namespace burnisher::exporting
