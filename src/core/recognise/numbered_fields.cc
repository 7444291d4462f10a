#include "recognise/numbered_fields.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "base/statistics.h"
#include "base/unicode.h"

namespace burnisher::recognise {
namespace {

constexpr size_t kFewestFields = 5;
constexpr double kInSequence = 0.7;  // share of 1 to the highest number that is found
constexpr double kInRows = 0.9;      // of the steps to the next number, that go on in rows
// In heights of a line, as the page's lines have it in the middle.
constexpr double kSameLevel = 0.7;  // between middles
constexpr double kBelow = 3;        // from a label to what is entered under it
constexpr double kLeftOf = 1;       // that an entry may begin left of its label

struct Piece {
  size_t block = 0, line = 0;
  Box box;
  int number = 0;  // 0: no label
  int bare = 0;    // a number whose full stop is missing; 0: none
  double middle() const { return box.centre().y; }
};

// The number at the beginning, and what follows it.
std::pair<int, size_t> leading_number(const std::vector<char32_t>& text) {
  size_t at = 0;
  int number = 0;
  while (at < text.size() && at < 2 && text[at] >= U'0' && text[at] <= U'9')
    number = 10 * number + static_cast<int>(text[at++] - U'0');
  return {number, at};
}

bool word_begins(const std::vector<char32_t>& text, size_t at) {
  while (at < text.size() && text[at] == U' ') ++at;
  return at < text.size() && is_letter(text[at]);
}

// As field_number, of a label whose full stop was not read.
int bare_number(const std::string& text) {
  const std::vector<char32_t> c = decode_utf8(text);
  const auto [number, at] = leading_number(c);
  return at < c.size() && c[at] == U' ' && word_begins(c, at) ? number : 0;
}

// A table in whose rows several labels stand side by side is none; nor one that goes on with the
// numbers outside.
bool is_form(const Block& table) {
  std::vector<const Line*> labels;
  for (const Line& line : table.lines)
    if (field_number(line.text())) labels.push_back(&line);
  for (const Line* a : labels) {
    for (const Line* b : labels) {
      const double level = overlap(a->box.y0, a->box.y1, b->box.y0, b->box.y1);
      if (a->box.x1 < b->box.x0 && level > kSameLevel * a->box.height()) return true;
    }
  }
  return false;
}

size_t labels_in(const Block& block) {
  return static_cast<size_t>(
      std::count_if(block.lines.begin(), block.lines.end(),
                    [](const Line& line) { return field_number(line.text()).has_value(); }));
}

// `form`: labels enough stand outside of tables.
bool holds_text(const Block& block, bool form) {
  if (block.kind == BlockKind::kTable) return is_form(block) || (form && labels_in(block) > 0);
  return block.kind != BlockKind::kPicture && block.kind != BlockKind::kSeparator &&
         block.kind != BlockKind::kNoise;
}

std::vector<Piece> pieces_of(const Page& page) {
  size_t labels = 0;
  for (const Block& block : page.blocks)
    labels += block.kind == BlockKind::kTable ? 0 : labels_in(block);
  std::vector<Piece> pieces;
  for (size_t b = 0; b < page.blocks.size(); ++b) {
    if (!holds_text(page.blocks[b], labels >= kFewestFields)) continue;
    for (size_t i = 0; i < page.blocks[b].lines.size(); ++i) {
      const Line& line = page.blocks[b].lines[i];
      if (line.words.empty() || line.runs_up_or_down()) continue;
      const std::string text = line.text();
      pieces.push_back({b, i, line.box, field_number(text).value_or(0), bare_number(text)});
    }
  }
  return pieces;
}

bool beside(const Piece& a, const Piece& b, double height) {
  return std::abs(b.middle() - a.middle()) < kSameLevel * height && b.box.x0 > a.box.x0;
}

bool goes_on_in_rows(const Piece& a, const Piece& b, double height) {
  return beside(a, b, height) || b.middle() - a.middle() >= kSameLevel * height;
}

// A number that occurs twice is no label's.
std::vector<Piece> labels_of(std::vector<Piece>& pieces, double height) {
  for (Piece& piece : pieces) {
    const auto same = [&](const Piece& p) { return p.number == piece.number; };
    if (piece.number > 0 && std::count_if(pieces.begin(), pieces.end(), same) > 1)
      for (Piece& p : pieces)
        if (&p != &piece && same(p)) p.number = piece.number = 0;
  }
  std::vector<Piece> labels;
  for (const Piece& piece : pieces)
    if (piece.number > 0) labels.push_back(piece);
  const auto by_number = [](const Piece& a, const Piece& b) { return a.number < b.number; };
  std::sort(labels.begin(), labels.end(), by_number);
  // A number without its full stop is a label's where it fills a gap.
  const std::vector<Piece> sure = labels;
  for (Piece& piece : pieces) {
    if (piece.number > 0 || piece.bare == 0) continue;
    Piece wanted = piece;
    wanted.number = piece.bare;
    const auto next = std::lower_bound(sure.begin(), sure.end(), wanted, by_number);
    const bool known = next != sure.end() && next->number == piece.bare;
    const bool after = next == sure.begin() || goes_on_in_rows(*std::prev(next), wanted, height);
    const bool before = next != sure.end() && goes_on_in_rows(wanted, *next, height);
    if (known || !after || !before) continue;
    piece.number = piece.bare;
    labels.push_back(piece);
  }
  std::sort(labels.begin(), labels.end(), by_number);
  return labels;
}

bool numbered_in_rows(const std::vector<Piece>& labels, double height) {
  if (labels.size() < kFewestFields ||
      static_cast<double>(labels.size()) < kInSequence * labels.back().number)
    return false;
  size_t good = 0, level = 0;
  for (size_t i = 1; i < labels.size(); ++i) {
    good += goes_on_in_rows(labels[i - 1], labels[i], height);
    level += beside(labels[i - 1], labels[i], height);
  }
  return level > 0 && static_cast<double>(good) >= kInRows * static_cast<double>(labels.size() - 1);
}

// The label that a piece is entered beside or under; labels.size(): none.
size_t label_of(const Piece& piece, const std::vector<Piece>& labels, double height) {
  size_t best = labels.size();
  double nearest = 1e18;
  for (size_t i = 0; i < labels.size(); ++i) {
    const Box& label = labels[i].box;
    const double down = piece.middle() - labels[i].middle();
    const bool level = std::abs(down) < kSameLevel * height;
    const double right = piece.box.x0 - label.x0;
    if (right < -kLeftOf * height || down < -kSameLevel * height || down > kBelow * height)
      continue;
    // Another label between them has it.
    const bool taken = std::any_of(labels.begin(), labels.end(), [&](const Piece& other) {
      return &other != &labels[i] && other.box.x0 > label.x0 + height &&
             other.box.x0 < piece.box.x0 + kLeftOf * height &&
             std::abs(other.middle() - labels[i].middle()) < kSameLevel * height;
    });
    if (taken) continue;
    // What stands level belongs together, however far; what stands below, the nearer the surer.
    const double away = level ? 0.01 * right : down + 0.01 * right;
    if (away >= nearest) continue;
    nearest = away;
    best = i;
  }
  return best;
}

// What is entered after its label, from above down.
void order_entries(double height, std::vector<Piece>& parts) {
  std::sort(parts.begin() + 1, parts.end(), [&](const Piece& a, const Piece& b) {
    if (std::abs(a.middle() - b.middle()) > kSameLevel * height) return a.middle() < b.middle();
    return a.box.x0 < b.box.x0;
  });
}

bool in_order(const std::vector<std::vector<Piece>>& fields) {
  std::pair<size_t, size_t> last{0, 0};
  for (const auto& parts : fields) {
    for (const Piece& part : parts) {
      const std::pair<size_t, size_t> place{part.block, part.line};
      if (place < last) return false;
      last = place;
    }
  }
  return true;
}

Block field_of(const std::vector<Piece>& parts, const Page& page) {
  Block field;
  field.kind = BlockKind::kText;
  Box box;
  for (const Piece& part : parts) {
    field.lines.push_back(page.blocks[part.block].lines[part.line]);
    box = united(box, part.box);
  }
  field.outline = box.corners();
  return field;
}

}  // namespace

std::optional<int> field_number(const std::string& text) {
  const std::vector<char32_t> c = decode_utf8(text);
  const auto [number, at] = leading_number(c);
  if (number == 0 || at >= c.size() || (c[at] != U'.' && c[at] != U')' && c[at] != U','))
    return std::nullopt;
  if (!word_begins(c, at + 1)) return std::nullopt;
  return number;
}

bool order_numbered_fields(Page& page) {
  std::vector<Piece> pieces = pieces_of(page);
  std::vector<double> heights;
  for (const Piece& piece : pieces) heights.push_back(piece.box.height());
  if (heights.empty()) return false;
  const double height = median(heights);
  const std::vector<Piece> labels = labels_of(pieces, height);
  if (!numbered_in_rows(labels, height)) return false;
  std::vector<std::vector<Piece>> fields;
  for (const Piece& label : labels) fields.push_back({label});
  for (const Piece& piece : pieces) {
    if (piece.number > 0) continue;
    const size_t at = label_of(piece, labels, height);
    if (at < labels.size()) fields[at].push_back(piece);
  }
  for (auto& parts : fields) order_entries(height, parts);
  if (in_order(fields)) return false;
  std::vector<Block> made;
  for (const auto& parts : fields) made.push_back(field_of(parts, page));
  // They take the place of the first block that had any of them.
  size_t place = page.blocks.size();
  std::vector<std::vector<bool>> moved(page.blocks.size());
  for (size_t b = 0; b < moved.size(); ++b) moved[b].resize(page.blocks[b].lines.size(), false);
  for (const auto& parts : fields) {
    for (const Piece& part : parts) {
      moved[part.block][part.line] = true;
      place = std::min(place, part.block);
    }
  }
  std::vector<Block> ordered;
  for (size_t b = 0; b < page.blocks.size(); ++b) {
    Block& block = page.blocks[b];
    std::vector<Line> kept;
    Box box;
    for (size_t i = 0; i < block.lines.size(); ++i) {
      if (moved[b][i]) continue;
      box = united(box, block.lines[i].box);
      kept.push_back(std::move(block.lines[i]));
    }
    const bool touched = kept.size() < moved[b].size();
    const bool above = touched && !kept.empty() && box.y0 < labels.front().box.y0;
    block.lines = std::move(kept);
    if (touched && !block.lines.empty()) {
      block.outline = box.corners();
      block.cells.clear();
      if (block.kind == BlockKind::kTable) block.kind = BlockKind::kText;
    }
    const bool stays = !touched || !block.lines.empty();
    if (stays && (b < place || above)) ordered.push_back(std::move(block));
    if (b == place) std::move(made.begin(), made.end(), std::back_inserter(ordered));
    if (stays && b >= place && !above) ordered.push_back(std::move(block));
  }
  page.blocks = std::move(ordered);
  return true;
}

}  // namespace burnisher::recognise
