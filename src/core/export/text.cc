#include "export/text.h"

namespace burnisher::exporting {

const char* const kPageBreak = "\f\n";

std::string text_of(const Page& page) {
  std::string text;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    std::string lines;
    for (const Line& line : block.lines) {
      if (!line.words.empty()) lines += line.text() + "\n";
    }
    if (lines.empty()) continue;
    if (!text.empty()) text += "\n";
    text += lines;
  }
  return text;
}

}  // namespace burnisher::exporting
