#include "export/text.h"

#include <algorithm>
#include <cstring>

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

namespace {

std::string cell_text(const std::string& text, char parting) {
  std::string out;
  for (const char c : text) {
    if (c == parting) out += '\\';
    out += c;
  }
  return out;
}

// Signs that Markdown would take for something else.
std::string plain(const std::string& text) {
  std::string out;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    const bool everywhere = std::strchr("\\`*_[]<>", c) != nullptr;
    const bool at_head = i == 0 && std::strchr("#+-=~|", c) != nullptr;
    if (everywhere || at_head) out += '\\';
    out += c;
  }
  // "1. " and "1) " begin lists.
  const size_t digits = out.find_first_not_of("0123456789");
  if (digits != 0 && digits != std::string::npos && (out[digits] == '.' || out[digits] == ')'))
    out.insert(digits, "\\");
  return out;
}

std::string markdown_table(const Block& table) {
  const auto rows = texts_of(table);
  if (rows.empty()) return "";
  const bool header = std::any_of(table.cells.begin(), table.cells.end(),
                                  [](const Cell& c) { return c.header && c.row == 0; });
  std::string text;
  const auto row = [&](const std::vector<std::string>& cells) {
    text += "|";
    for (const std::string& cell : cells) text += " " + cell_text(cell, '|') + " |";
    text += "\n";
  };
  // A table without a head gets an empty one: there are none without.
  row(header ? rows.front() : std::vector<std::string>(rows.front().size()));
  text += "|";
  for (size_t i = 0; i < rows.front().size(); ++i) text += " --- |";
  text += "\n";
  for (size_t i = header ? 1 : 0; i < rows.size(); ++i) row(rows[i]);
  return text + "\n";
}

std::string tabbed(const Block& table) {
  Page page;
  page.blocks.push_back(table);
  return text_of(page) + "\n";
}

}  // namespace

std::string flowing(const FlowItem& item) {
  switch (item.kind) {
    case FlowItem::Kind::kPicture:
    case FlowItem::Kind::kPageEnd:
      return "";
    case FlowItem::Kind::kTable:
      return tabbed(item.block);
    case FlowItem::Kind::kListItem:
      return item.marker + " " + item.text + "\n\n";
    default:
      return item.text + "\n\n";
  }
}

std::string markdown(const FlowItem& item) {
  switch (item.kind) {
    case FlowItem::Kind::kPicture:
    case FlowItem::Kind::kPageEnd:
      return "";
    case FlowItem::Kind::kTable:
      return markdown_table(item.block);
    case FlowItem::Kind::kHeading:
      return std::string(static_cast<size_t>(item.level), '#') + " " + plain(item.text) + "\n\n";
    case FlowItem::Kind::kListItem: {
      // Letters and brackets are no list markers there.
      const bool number = item.marker.find_first_not_of("0123456789.)") == std::string::npos;
      return (item.marker == "-" || number ? item.marker + " " : "- " + item.marker + " ") +
             plain(item.text) + "\n\n";
    }
    case FlowItem::Kind::kCaption:
      return "*" + plain(item.text) + "*\n\n";
    default:
      return plain(item.text) + "\n\n";
  }
}

std::string with_crlf(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '\n') out += '\r';
    out += c;
  }
  return out;
}

}  // namespace burnisher::exporting
