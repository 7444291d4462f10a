#include <cmath>
#include <pugixml.hpp>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "base/unicode.h"
#include "pagefile/hocr.h"

namespace burnisher {
namespace {

constexpr int kDeepest = 64;                                 // elements within elements
constexpr double kXHeightOfLine = 0.45, kFootOfLine = 0.25;  // of its height, when not told
constexpr size_t kHead = 4000;                               // bytes in which it is told what it is

bool is_one_of(const std::string& kind, std::initializer_list<const char*> names) {
  for (const char* name : names)
    if (kind == name) return true;
  return false;
}

// The properties of a title: "bbox 10 20 30 40; x_wconf 93". Values of one name; empty: none.
std::string property(const pugi::xml_node& node, const std::string& name) {
  std::istringstream parts(node.attribute("title").value());
  for (std::string part; std::getline(parts, part, ';');) {
    const size_t first = part.find_first_not_of(" \t\n");
    if (first == std::string::npos || part.compare(first, name.size(), name) != 0) continue;
    const size_t behind = first + name.size();
    if (behind < part.size() && part[behind] == ' ') return part.substr(behind + 1);
  }
  return "";
}

std::vector<double> numbers(const pugi::xml_node& node, const std::string& name) {
  std::vector<double> list;
  std::istringstream words(property(node, name));
  for (std::string word; words >> word;) {
    const auto value = number_in(word);
    if (!value || std::fabs(*value) > kLargestNumber)
      throw FormatError(name + " makes no sense as " + word);
    list.push_back(*value);
  }
  return list;
}

Box box_of(const pugi::xml_node& node) {
  const std::vector<double> b = numbers(node, "bbox");
  return b.size() == 4 ? Box{b[0], b[1], b[2], b[3]} : Box();
}

// All text within an element.
std::string text_within(const pugi::xml_node& node, int depth) {
  if (depth > kDeepest) throw FormatError("elements lie in elements without end");
  std::string text;
  for (const auto& child : node.children()) {
    if (child.type() == pugi::node_pcdata || child.type() == pugi::node_cdata)
      text += child.value();
    else
      text += text_within(child, depth + 1);
  }
  return text;
}

std::string trimmed(const std::string& text) {
  const size_t first = text.find_first_not_of(" \t\r\n");
  if (first == std::string::npos) return "";
  return text.substr(first, text.find_last_not_of(" \t\r\n") - first + 1);
}

BlockKind kind_of(const std::string& kind) {
  if (kind == "ocr_table") return BlockKind::kTable;
  if (kind == "ocr_image" || kind == "ocr_photo" || kind == "ocr_linedrawing")
    return BlockKind::kPicture;
  if (kind == "ocr_separator") return BlockKind::kSeparator;
  if (kind == "ocr_header" || kind == "ocr_footer") return BlockKind::kRunningHead;
  if (kind == "ocr_pageno") return BlockKind::kPageNumber;
  if (kind == "ocr_caption") return BlockKind::kCaption;
  return BlockKind::kText;
}

class Reader {
 public:
  explicit Reader(std::vector<Page>& pages) : pages_(pages) {}

  void read(const pugi::xml_node& node, int depth) {
    if (depth > kDeepest) throw FormatError("elements lie in elements without end");
    for (const auto& child : node.children()) {
      if (child.type() != pugi::node_element) continue;
      const std::string kind = child.attribute("class").value();
      if (kind == "ocr_page") {
        begin_page(child);
      } else if (!pages_.empty()) {
        if (is_one_of(kind, {"ocr_carea", "ocr_column", "ocr_table", "ocr_image", "ocr_photo",
                             "ocr_linedrawing", "ocr_separator", "ocr_header", "ocr_footer",
                             "ocr_pageno"}) ||
            (kind == "ocr_caption" && child.child("span").empty())) {
          begin_block(child, kind);
        } else if (is_one_of(kind, {"ocr_line", "ocrx_line", "ocr_textfloat", "ocr_caption"})) {
          begin_line(child);
        } else if (kind == "ocrx_word") {
          add_word(child);
          continue;
        }
      }
      read(child, depth + 1);
    }
  }

 private:
  void begin_page(const pugi::xml_node& node) {
    Page page;
    const Box box = box_of(node);
    page.width = static_cast<int>(box.x1);
    page.height = static_cast<int>(box.y1);
    page.number = static_cast<int>(pages_.size()) + 1;
    const std::string image = trimmed(property(node, "image"));
    for (size_t i = 0; i < image.size(); ++i) {
      if (image[i] == '"') continue;
      if (image[i] == '\\' && i + 1 < image.size()) ++i;
      page.file += image[i];
    }
    const std::vector<double> dpi = numbers(node, "scan_res");
    if (!dpi.empty() && dpi[0] > 0) page.dpi = dpi[0];
    pages_.push_back(page);
  }

  void begin_block(const pugi::xml_node& node, const std::string& kind) {
    Block block;
    block.kind = kind_of(kind);
    block.outline = box_of(node).corners();
    pages_.back().blocks.push_back(block);
  }

  void begin_line(const pugi::xml_node& node) {
    std::vector<Block>& blocks = pages_.back().blocks;
    if (blocks.empty()) blocks.emplace_back();
    Line line;
    line.box = box_of(node);
    const double foot = line.box.y1 - kFootOfLine * line.box.height();
    line.baseline = {{line.box.x0, foot}, {line.box.x1, foot}};
    line.x_height = kXHeightOfLine * line.box.height();
    line.confidence = 1;
    blocks.back().lines.push_back(line);
  }

  void add_word(const pugi::xml_node& node) {
    Word word;
    word.text = to_nfc(trimmed(text_within(node, 0)));
    word.box = box_of(node);
    const std::vector<double> confidence = numbers(node, "x_wconf");
    word.confidence = confidence.empty() ? 1 : std::min(1.0, std::max(0.0, confidence[0] / 100));
    word.network_confidence = word.confidence;
    if (word.text.empty()) return;
    std::vector<Block>& blocks = pages_.back().blocks;
    if (blocks.empty() || blocks.back().lines.empty()) begin_line(node);
    blocks.back().lines.back().words.push_back(std::move(word));
  }

  std::vector<Page>& pages_;
};

}  // namespace

bool looks_like_hocr(const std::string& text) {
  const std::string head = text.substr(0, kHead);
  return head.find("<html") != std::string::npos && head.find("ocr") != std::string::npos;
}

std::vector<Page> read_hocr_file(const std::string& path) {
  const auto bytes = read_file(path);
  pugi::xml_document document;
  const auto parsed = document.load_buffer(bytes.data(), bytes.size(),
                                           pugi::parse_default | pugi::parse_ws_pcdata_single);
  if (!parsed) throw FormatError(path + ": no usable XML: " + parsed.description());
  std::vector<Page> pages;
  try {
    Reader(pages).read(document, 0);
  } catch (const FormatError& cause) {
    throw FormatError(path + ": " + cause.what());
  }
  if (pages.empty()) throw FormatError(path + ": has no ocr_page in it");
  return pages;
}

}  // namespace burnisher
