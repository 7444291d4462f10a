#include "page/pdf_text.h"

#include <poppler-document.h>
#include <poppler-page.h>

#include <algorithm>

#include "base/unicode.h"
#include "page/pdf_source.h"

namespace burnisher {
namespace {

constexpr int kFewestLetters = 25;                 // fewer are a stamp or a page number over a scan
constexpr double kXHeight = 0.45, kAscent = 0.72;  // of the height of a word's box

struct Piece {
  Word word;
  bool space_after = true;
};

std::vector<Piece> pieces_of(const poppler::page& page, double scale) {
  std::vector<Piece> pieces;
  for (const poppler::text_box& box : page.text_list()) {
    const auto utf8 = box.text().to_utf8();
    Piece piece;
    piece.word.text = compose(std::string(utf8.begin(), utf8.end()));
    const poppler::rectf place = box.bbox();
    piece.word.box = {place.left() * scale, place.top() * scale, place.right() * scale,
                      place.bottom() * scale};
    piece.word.confidence = 1;
    piece.space_after = box.has_space_after();
    if (!piece.word.text.empty() && !piece.word.box.empty()) pieces.push_back(std::move(piece));
  }
  return pieces;
}

bool same_line(const Box& a, const Box& b) {
  const double shared = overlap(a.y0, a.y1, b.y0, b.y1);
  return shared > 0.5 * std::min(a.height(), b.height()) && b.x0 > a.x0 &&
         b.x0 - a.x1 < 2.5 * std::max(a.height(), b.height());
}

// What stands close below in the same column.
bool same_block(const Line& above, const Line& below) {
  const double height = std::max(above.box.height(), below.box.height());
  return below.box.y0 > above.box.y0 && below.box.y0 - above.box.y1 < 0.8 * height &&
         overlap(above.box.x0, above.box.x1, below.box.x0, below.box.x1) > 0;
}

void add_line(Line line, std::vector<Block>& blocks) {
  for (const Word& word : line.words) line.box = united(line.box, word.box);
  const double base = line.box.y0 + kAscent * line.box.height();
  line.baseline = {{line.box.x0, base}, {line.box.x1, base}};
  line.x_height = kXHeight * line.box.height();
  line.confidence = 1;
  if (blocks.empty() || !same_block(blocks.back().lines.back(), line)) blocks.emplace_back();
  blocks.back().lines.push_back(std::move(line));
}

}  // namespace

std::optional<Page> read_pdf_text(const std::string& path, int number, const ScanLimits& limits) {
  const auto document = open_pdf(path, limits.pdf_password);
  const std::unique_ptr<poppler::page> held(document->create_page(number - 1));
  if (!held) return std::nullopt;
  const double scale = limits.pdf_dpi / 72;
  Page page;
  page.file = path;
  page.number = number;
  page.dpi = limits.pdf_dpi;
  page.width = static_cast<int>(held->page_rect().width() * scale + 0.5);
  page.height = static_cast<int>(held->page_rect().height() * scale + 0.5);
  page.geometry = {PlaneMap(), page.width, page.height};
  int letters = 0;
  Line line;
  for (Piece& piece : pieces_of(*held, scale)) {
    for (const char32_t c : decode_utf8(piece.word.text)) letters += is_letter(c) || is_digit(c);
    if (!line.words.empty() && !same_line(line.words.back().box, piece.word.box)) {
      add_line(std::move(line), page.blocks);
      line = Line();
    }
    line.words.push_back(std::move(piece.word));
  }
  if (!line.words.empty()) add_line(std::move(line), page.blocks);
  if (letters < kFewestLetters) return std::nullopt;
  for (Block& block : page.blocks) {
    Box box;
    for (const Line& l : block.lines) box = united(box, l.box);
    block.outline = box.corners();
  }
  return page;
}

}  // namespace burnisher
