#include "pagefile/alto.h"

#include <fmt/core.h>

#include <cmath>
#include <pugixml.hpp>
#include <sstream>

#include "base/unicode.h"
#include "page/table.h"

namespace burnisher {
namespace {

void add_box(pugi::xml_node node, const Box& box) {
  node.append_attribute("HPOS") = std::lround(box.x0);
  node.append_attribute("VPOS") = std::lround(box.y0);
  node.append_attribute("WIDTH") = std::lround(box.x1) - std::lround(box.x0);
  node.append_attribute("HEIGHT") = std::lround(box.y1) - std::lround(box.y0);
}

struct Frame {
  const Page& page;
  Positions positions;
  Box box(const Box& b) const { return placed(b, page, positions); }
};

void add_line(pugi::xml_node block_node, const Line& line, const Frame& frame,
              const std::string& id) {
  auto node = block_node.append_child("TextLine");
  node.append_attribute("ID") = id.c_str();
  std::string baseline;
  for (const Point& p : placed(line.baseline, frame.page, frame.positions)) {
    baseline +=
        fmt::format("{}{},{}", baseline.empty() ? "" : " ", std::lround(p.x), std::lround(p.y));
  }
  node.append_attribute("BASELINE") = baseline.c_str();
  add_box(node, frame.box(line.box));
  for (size_t i = 0; i < line.words.size(); ++i) {
    const Word& word = line.words[i];
    const Box box = frame.box(word.box);
    if (i > 0) {
      const Box before = frame.box(line.words[i - 1].box);
      auto space = node.append_child("SP");
      space.append_attribute("HPOS") = std::lround(before.x1);
      space.append_attribute("VPOS") = std::lround(box.y0);
      space.append_attribute("WIDTH") = std::max(0L, std::lround(box.x0) - std::lround(before.x1));
    }
    auto string = node.append_child("String");
    string.append_attribute("ID") = fmt::format("{}w{}", id, i + 1).c_str();
    add_box(string, box);
    string.append_attribute("CONTENT") = sound_utf8(word.text).c_str();
    string.append_attribute("WC") = fmt::format("{:.3f}", word.confidence).c_str();
    // The schema's word for: corrected by hand, or looked at and found right.
    if (word.corrected == CorrectedBy::kPerson) string.append_attribute("CS") = true;
    if (word.corrected != CorrectedBy::kNobody && word.before != word.text) {
      auto before = string.append_child("ALTERNATIVE");
      before.append_attribute("PURPOSE") = "as read";
      before.text() = sound_utf8(word.before).c_str();
    }
  }
}

void add_block(pugi::xml_node space, const Block& block, const Frame& frame,
               const std::string& id) {
  const char* element = !block.lines.empty()                  ? "TextBlock"
                        : block.kind == BlockKind::kSeparator ? "GraphicalElement"
                                                              : "Illustration";
  auto node = space.append_child(element);
  node.append_attribute("ID") = id.c_str();
  add_box(node, frame.box(bounds(block.outline)));
  const std::string language = block.language();
  if (!language.empty()) node.append_attribute("LANG") = language.c_str();
  int number = 0;
  if (block.kind == BlockKind::kTable) {  // ALTO has no cells: a row of them is a line
    for (const auto& lines : printed_lines(block)) {
      const Line row = joined(lines);
      if (!row.words.empty()) add_line(node, row, frame, fmt::format("{}l{}", id, ++number));
    }
    return;
  }
  for (const Line& line : block.lines) {
    if (!line.words.empty()) add_line(node, line, frame, fmt::format("{}l{}", id, ++number));
  }
}

// Noise is no text for others to find; it stays in the PAGE XML.
bool worth_telling(const Block& block) {
  if (block.kind == BlockKind::kNoise) return false;
  for (const Line& line : block.lines) {
    if (!line.words.empty()) return true;
  }
  return block.lines.empty();
}

}  // namespace

std::string alto_head(const std::string& source_file) {
  pugi::xml_document escaped;
  escaped.append_child("fileName").text() = sound_utf8(source_file).c_str();
  std::ostringstream name;
  escaped.save(name, "", pugi::format_raw | pugi::format_no_declaration);
  return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
         "<alto xmlns=\"http://www.loc.gov/standards/alto/ns-v4#\" SCHEMAVERSION=\"4.4\">\n"
         "  <Description>\n    <MeasurementUnit>pixel</MeasurementUnit>\n"
         "    <sourceImageInformation>" +
         name.str() +
         "</sourceImageInformation>\n"
         "    <Processing ID=\"reading\"><processingSoftware><softwareName>Burnisher</softwareName>"
         "</processingSoftware></Processing>\n  </Description>\n  <Layout>\n";
}

std::string alto_page(const std::vector<const Page*>& sides, Positions positions, int number) {
  const Page& page = *sides.front();
  pugi::xml_document document;
  auto node = document.append_child("Page");
  const bool scan = positions == Positions::kScan;
  const int width = scan ? page.geometry.scan_width : page.width;
  const int height = scan ? page.geometry.scan_height : page.height;
  node.append_attribute("ID") = fmt::format("p{}", number).c_str();
  node.append_attribute("PHYSICAL_IMG_NR") = number;
  node.append_attribute("WIDTH") = width;
  node.append_attribute("HEIGHT") = height;
  auto space = node.append_child("PrintSpace");
  add_box(space, {0, 0, static_cast<double>(width), static_cast<double>(height)});
  int block_number = 0;
  for (const Page* side : sides) {
    const Frame frame{*side, positions};
    for (const Block& block : side->blocks) {
      if (worth_telling(block))
        add_block(space, block, frame, fmt::format("p{}b{}", number, ++block_number));
    }
  }
  std::ostringstream text;
  for (const auto& child : document.children())
    child.print(text, "  ", pugi::format_indent, pugi::encoding_auto, 2);
  return text.str();
}

std::string alto_tail() {
  return "  </Layout>\n</alto>\n";
}

std::string write_alto(const std::vector<Page>& pages, Positions positions) {
  std::string text = alto_head(pages.empty() ? "" : pages.front().file);
  int number = 0;
  for (size_t i = 0; i < pages.size(); ++i) {
    const bool spread = positions == Positions::kScan && pages[i].part == 1 &&
                        i + 1 < pages.size() && pages[i + 1].part == 2;
    std::vector<const Page*> sides{&pages[i]};
    if (spread) sides.push_back(&pages[++i]);
    text += alto_page(sides, positions, ++number);
  }
  return text + alto_tail();
}

}  // namespace burnisher
