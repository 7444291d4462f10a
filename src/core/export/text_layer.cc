#include "export/text_layer.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "export/blank_font.h"

namespace burnisher::exporting {
namespace {

constexpr double kXHeightOfEm = 0.45;  // usual; makes selections about as high as the print
constexpr size_t kMostMappings = 100;  // in one block of a CMap

std::string utf16_hex(char32_t c) {
  if (c < 0x10000) return fmt::format("{:04X}", static_cast<uint32_t>(c));
  const uint32_t rest = static_cast<uint32_t>(c) - 0x10000;
  return fmt::format("{:04X}{:04X}", 0xD800 + (rest >> 10), 0xDC00 + (rest & 0x3FF));
}

// Shows `count` characters so that they take up `width` points.
std::string shown(const std::string& hex, size_t count, double width, double size) {
  const double natural = static_cast<double>(count) * size * kBlankAdvance / kBlankUnits;
  return fmt::format("{:.2f} Tz <{}> Tj\n", 100 * std::max(0.1, width) / natural, hex);
}

}  // namespace

int CharacterCodes::code_of(char32_t character) {
  const auto [place, fresh] = codes_.emplace(character, static_cast<int>(codes_.size()) + 1);
  if (fresh) by_code_[place->second] = character;
  return place->second;
}

std::string CharacterCodes::to_unicode() const {
  std::string cmap =
      "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
      "/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def\n"
      "/CMapName /Adobe-Identity-UCS def\n/CMapType 2 def\n"
      "1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange\n";
  auto at = by_code_.begin();
  size_t left = by_code_.size();
  while (left > 0) {
    const size_t count = std::min(left, kMostMappings);
    cmap += fmt::format("{} beginbfchar\n", count);
    for (size_t i = 0; i < count; ++i, ++at)
      cmap += fmt::format("<{:04X}> <{}>\n", at->first, utf16_hex(at->second));
    cmap += "endbfchar\n";
    left -= count;
  }
  return cmap + "endcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n";
}

std::string text_layer(const Page& page, CharacterCodes& codes) {
  const double points = 72 / page.dpi;
  std::string content;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (const Line& line : block.lines) {
      if (line.words.empty() || line.baseline.size() < 2) continue;
      const double size = line.x_height / kXHeightOfEm * points;
      const double x0 = line.words.front().box.x0, x1 = line.words.back().box.x1;
      const double y0 = height_at(line.baseline, x0), y1 = height_at(line.baseline, x1);
      const double angle = x1 > x0 ? std::atan2(y0 - y1, x1 - x0) : 0;
      content += fmt::format("BT 3 Tr /T {:.2f} Tf {:.5f} {:.5f} {:.5f} {:.5f} {:.2f} {:.2f} Tm\n",
                             size, std::cos(angle), std::sin(angle), -std::sin(angle),
                             std::cos(angle), x0 * points, (page.height - y0) * points);
      const double stretch = points / std::cos(angle);
      for (size_t i = 0; i < line.words.size(); ++i) {
        const Word& word = line.words[i];
        std::string hex;
        const auto characters = decode_utf8(word.text);
        for (char32_t c : characters) hex += fmt::format("{:04X}", codes.code_of(c));
        content += shown(hex, characters.size(), word.box.width() * stretch, size);
        // The space reaches to the next word; at the line's end it keeps lines apart when copied.
        const double gap = i + 1 < line.words.size() ? line.words[i + 1].box.x0 - word.box.x1
                                                     : 0.3 * line.x_height;
        content += shown(fmt::format("{:04X}", codes.code_of(U' ')), 1, gap * stretch, size);
      }
      content += "ET\n";
    }
  }
  return content;
}

}  // namespace burnisher::exporting
