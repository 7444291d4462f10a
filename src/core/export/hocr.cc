#include "export/hocr.h"

#include "base/unicode.h"

#include <fmt/core.h>

#include <cmath>
#include <pugixml.hpp>
#include <sstream>

namespace burnisher::exporting {
namespace {

std::string bbox(const Box& box) {
  return fmt::format("bbox {} {} {} {}", std::lround(box.x0), std::lround(box.y0),
                     std::lround(box.x1), std::lround(box.y1));
}

// Kind of the area, for tables and pictures those of the standard.
const char* class_of(const Block& block) {
  switch (block.kind) {
    case BlockKind::kTable:
      return "ocr_table";
    case BlockKind::kPicture:
      return "ocr_image";
    case BlockKind::kSeparator:
      return "ocr_separator";
    case BlockKind::kRunningHead:
      return "ocr_header";
    case BlockKind::kPageNumber:
      return "ocr_pageno";
    case BlockKind::kCaption:
      return "ocr_caption";
    default:
      return "ocr_carea";
  }
}

pugi::xml_node add(pugi::xml_node parent, const char* element, const char* kind,
                   const std::string& title, const std::string& id) {
  auto node = parent.append_child(element);
  node.append_attribute("class") = kind;
  node.append_attribute("id") = id.c_str();
  node.append_attribute("title") = sound_utf8(title).c_str();
  return node;
}

void add_line(pugi::xml_node parent, const Line& line, const Page& page, Positions positions,
              const std::string& id) {
  const Box box = placed(line.box, page, positions);
  std::string title = bbox(box);
  if (line.baseline.size() > 1) {
    // Slope and height at the left edge, relative to the lower left corner.
    const Polyline baseline = placed(line.baseline, page, positions);
    const Point run = baseline.back() - baseline.front();
    if (run.x > 0) {
      const double slope = run.y / run.x;
      const double at_left = baseline.front().y - slope * (baseline.front().x - box.x0);
      title += fmt::format("; baseline {:.4f} {:.0f}", slope, at_left - box.y1);
    }
  }
  if (line.x_height > 0) title += fmt::format("; x_size {:.1f}", line.x_height / 0.45);
  auto node = add(parent, "span", "ocr_line", title, id);
  int number = 0;
  for (const Word& word : line.words) {
    auto child = add(node, "span", "ocrx_word",
                     fmt::format("{}; x_wconf {:.0f}", bbox(placed(word.box, page, positions)),
                                 100 * word.confidence),
                     fmt::format("{}_w{}", id, ++number));
    child.text() = sound_utf8(word.text).c_str();
    node.append_child(pugi::node_pcdata).set_value(" ");
  }
}

}  // namespace

std::string hocr_head(const std::string& title, const std::string& language) {
  pugi::xml_document document;
  document.append_child("title").text() = sound_utf8(title).c_str();
  std::ostringstream named;
  document.save(named, "", pugi::format_raw | pugi::format_no_declaration);
  return fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<html "
      "xmlns=\"http://www.w3.org/1999/xhtml\"{}>\n"
      "<head>\n{}\n<meta http-equiv=\"Content-Type\" content=\"text/html; charset=utf-8\"/>\n"
      "<meta name=\"ocr-system\" content=\"Burnisher\"/>\n"
      "<meta name=\"ocr-capabilities\" content=\"ocr_page ocr_carea ocr_par ocr_line ocrx_word "
      "ocr_table ocr_image ocr_separator ocr_header ocr_pageno ocr_caption\"/>\n</head>\n<body>\n",
      language.empty() ? "" : fmt::format(" lang=\"{0}\" xml:lang=\"{0}\"", language), named.str());
}

std::string hocr_page(const Page& page, Positions positions, int number) {
  pugi::xml_document document;
  const bool scan = positions == Positions::kScan && page.geometry.scan_width > 0;
  const Box sheet{0, 0, static_cast<double>(scan ? page.geometry.scan_width : page.width),
                  static_cast<double>(scan ? page.geometry.scan_height : page.height)};
  std::string file;
  for (const char c : page.file)
    file += c == '"' || c == '\\' ? std::string("\\") + c : std::string(1, c);
  const std::string id = fmt::format("page_{}", number);
  auto root = add(document, "div", "ocr_page",
                  fmt::format("image \"{}\"; {}; ppageno {}; scan_res {:.0f} {:.0f}", file,
                              bbox(sheet), number - 1, page.dpi, page.dpi),
                  id);
  int count = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    const std::string block_id = fmt::format("{}_b{}", id, ++count);
    auto area = add(root, "div", class_of(block),
                    bbox(placed(bounds(block.outline), page, positions)), block_id);
    if (block.lines.empty()) continue;
    auto paragraph = add(area, "p", "ocr_par", bbox(placed(bounds(block.outline), page, positions)),
                         block_id + "_p");
    const std::string language = block.language();
    if (!language.empty()) {
      paragraph.append_attribute("lang") = language.c_str();
      paragraph.append_attribute("xml:lang") = language.c_str();
    }
    if (block.right_to_left()) paragraph.append_attribute("dir") = "rtl";
    int lines = 0;
    for (const Line& line : block.lines)
      add_line(paragraph, line, page, positions, fmt::format("{}_l{}", block_id, ++lines));
  }
  std::ostringstream out;
  document.save(out, "", pugi::format_raw | pugi::format_no_declaration);
  return out.str() + "\n";
}

std::string hocr_tail() {
  return "</body>\n</html>\n";
}

}  // namespace burnisher::exporting
