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

// From where to where along its line, in pixels.
struct Reach {
  double from = 0, to = 0;
};

// A line's way over the page: level lines by the sides of their words' boxes, steep ones by the
// middles of their glyphs, whose boxes are too wide to say more.
struct Run {
  Point start, along;  // along: of length 1
  bool steep = false;
  double x_height = 0;

  double at(Point p) const { return (p.x - start.x) * along.x + (p.y - start.y) * along.y; }
  Reach reach(const Word& word) const {
    if (!steep) return {(word.box.x0 - start.x) / along.x, (word.box.x1 - start.x) / along.x};
    const Box& first = word.glyphs.empty() ? word.box : word.glyphs.front().box;
    const Box& last = word.glyphs.empty() ? word.box : word.glyphs.back().box;
    return {at(first.centre()) - 0.5 * x_height, at(last.centre()) + 0.5 * x_height};
  }
};

constexpr double kSteep = 0.3;  // sine of the angle

Run run_of(const Line& line) {
  const Point whole = line.baseline.back() - line.baseline.front();
  const double length = std::max(1e-6, std::hypot(whole.x, whole.y));
  Run run{line.baseline.front(), whole * (1 / length), false, line.x_height};
  run.steep = std::fabs(run.along.y) > kSteep || run.along.x <= 0;
  if (run.steep) {
    run.start = run.start + run.along * run.reach(line.words.front()).from;
    return run;
  }
  const double x0 = line.words.front().box.x0, x1 = line.words.back().box.x1;
  const Point from{x0, height_at(line.baseline, x0)}, to{x1, height_at(line.baseline, x1)};
  const double reach = std::max(1e-6, std::hypot(to.x - from.x, to.y - from.y));
  run.start = from;
  run.along = x1 > x0 ? (to - from) * (1 / reach) : Point{1, 0};
  return run;
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
      const Run run = run_of(line);
      content += fmt::format("BT 3 Tr /T {:.2f} Tf {:.5f} {:.5f} {:.5f} {:.5f} {:.2f} {:.2f} Tm\n",
                             size, run.along.x, -run.along.y, run.along.y, run.along.x,
                             run.start.x * points, (page.height - run.start.y) * points);
      for (size_t i = 0; i < line.words.size(); ++i) {
        const Word& word = line.words[i];
        std::string hex;
        const auto characters = decode_utf8(word.text);
        for (char32_t c : characters) hex += fmt::format("{:04X}", codes.code_of(c));
        const Reach reach = run.reach(word);
        content += shown(hex, characters.size(), (reach.to - reach.from) * points, size);
        // The space reaches to the next word; at the line's end it keeps lines apart when copied.
        const double gap = i + 1 < line.words.size() ? run.reach(line.words[i + 1]).from - reach.to
                                                     : 0.3 * line.x_height;
        content += shown(fmt::format("{:04X}", codes.code_of(U' ')), 1, gap * points, size);
      }
      content += "ET\n";
    }
  }
  return content;
}

}  // namespace burnisher::exporting
