#include "export/word_list.h"

#include <fmt/core.h>

#include <cmath>
#include <functional>
#include "base/json.h"

#include "page/block_kind.h"
#include "page/reasons.h"

namespace burnisher::exporting {
namespace {

struct Row {
  int block, line, word;  // from 1
  const Block& in_block;
  const Line& in_line;
  const Word& of;
  Box box;
};

void for_each_word(const Page& page, Positions positions,
                   const std::function<void(const Row&)>& row) {
  int block_number = 0;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    ++block_number;
    int line_number = 0;
    for (const Line& line : block.lines) {
      ++line_number;
      int word_number = 0;
      for (const Word& word : line.words)
        row({block_number, line_number, ++word_number, block, line, word,
             placed(word.box, page, positions)});
    }
  }
}

std::string without_tabs(std::string text) {
  for (char& c : text) c = c == '\t' || c == '\n' ? ' ' : c;
  return text;
}

}  // namespace

std::string word_list_head() {
  return "page\tblock\tkind\tline\tword\tx0\ty0\tx1\ty1\tconfidence\tsuspect\tlanguage\ttext\n";
}

std::string word_list_tsv(const Page& page, Positions positions, int number) {
  std::string text;
  for_each_word(page, positions, [&](const Row& r) {
    text += fmt::format("{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{}\t{:.3f}\t{}\t{}\t{}\n", number, r.block,
                        name_of(r.in_block.kind), r.line, r.word, std::lround(r.box.x0),
                        std::lround(r.box.y0), std::lround(r.box.x1), std::lround(r.box.y1),
                        r.of.confidence, reason_names(r.of.reasons), r.in_line.language,
                        without_tabs(r.of.text));
  });
  for (const Barcode& code : page.barcodes) {
    const Box b = placed(bounds(code.outline), page, positions);
    text += fmt::format("{}\t\tbarcode {}\t\t\t{}\t{}\t{}\t{}\t1.000\t\t\t{}\n", number, code.kind,
                        std::lround(b.x0), std::lround(b.y0), std::lround(b.x1), std::lround(b.y1),
                        without_tabs(code.text));
  }
  return text;
}

std::string word_list_json(const Page& page, Positions positions, int number) {
  std::string text;
  for_each_word(page, positions, [&](const Row& r) {
    const nlohmann::ordered_json row = {{"page", number},
                                        {"block", r.block},
                                        {"kind", name_of(r.in_block.kind)},
                                        {"line", r.line},
                                        {"word", r.word},
                                        {"box",
                                         {std::lround(r.box.x0), std::lround(r.box.y0),
                                          std::lround(r.box.x1), std::lround(r.box.y1)}},
                                        {"confidence", std::round(1000 * r.of.confidence) / 1000},
                                        {"suspect", reason_names(r.of.reasons)},
                                        {"language", r.in_line.language},
                                        {"text", r.of.text}};
    text += json_text(row) + ",\n";
  });
  for (const Barcode& code : page.barcodes) {
    const Box b = placed(bounds(code.outline), page, positions);
    const nlohmann::ordered_json row = {
        {"page", number},
        {"kind", "barcode"},
        {"barcode", code.kind},
        {"box", {std::lround(b.x0), std::lround(b.y0), std::lround(b.x1), std::lround(b.y1)}},
        {"text", code.text}};
    text += json_text(row) + ",\n";
  }
  return text;
}

}  // namespace burnisher::exporting
