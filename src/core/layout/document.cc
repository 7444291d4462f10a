#include "layout/document.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/edit_distance.h"
#include "base/unicode.h"
#include "page/printed_number.h"
#include "page/table.h"

namespace burnisher::layout {
namespace {

constexpr double kHeadZone = 0.2;     // share of the page's height
constexpr double kMostUnlike = 0.2;   // edit distance of repeated heads over their length
constexpr size_t kFewestLetters = 4;  // of a head whose repetition means something
constexpr double kSamePlace = 0.03;   // of the page's height, between repeated heads

// Letters alone, small: what repeats while the numbers change.
std::vector<char32_t> letters_of(const Block& block) {
  std::vector<char32_t> letters;
  for (char32_t c : decode_utf8(text_of(block))) {
    if (is_letter(c)) letters.push_back(to_lower(c));
  }
  return letters;
}

bool may_be_head(const Block& block) {
  switch (block.kind) {
    case BlockKind::kText:
    case BlockKind::kHeading:
    case BlockKind::kRunningHead:
      return block.lines.size() == 1;
    default:
      return false;
  }
}

// One-line blocks above (below) everything else but page numbers.
std::vector<Block*> outermost(Page& page, bool head) {
  std::vector<Block*> found;
  double inner = head ? 1e18 : -1e18;
  for (Block& block : page.blocks) {
    const Box box = bounds(block.outline);
    const bool zone =
        head ? box.y1 < kHeadZone * page.height : box.y0 > (1 - kHeadZone) * page.height;
    if (may_be_head(block) && zone)
      found.push_back(&block);
    else if (!block.lines.empty() && block.kind != BlockKind::kPageNumber &&
             block.kind != BlockKind::kNoise && block.kind != BlockKind::kMarginNote)
      inner = head ? std::min(inner, box.y0) : std::max(inner, box.y1);
  }
  found.erase(std::remove_if(found.begin(), found.end(),
                             [&](const Block* b) {
                               const double y = bounds(b->outline).centre().y;
                               return head ? y > inner : y < inner;
                             }),
              found.end());
  return found;
}

bool looks_numeric(const std::string& text) {
  int digits = 0, letters = 0;
  for (char32_t c : decode_utf8(text)) {
    digits += is_digit(c);
    letters += is_letter(c);
  }
  return digits > 0 && digits >= letters;
}

void settle_header(Block& table) {
  if (std::any_of(table.cells.begin(), table.cells.end(), [](const Cell& c) { return c.header; }))
    return;
  const auto texts = texts_of(table);
  if (texts.size() < 3) return;
  size_t words = 0, numeric_columns = 0;
  for (size_t c = 0; c < texts[0].size(); ++c) {
    if (looks_numeric(texts[0][c])) return;
    words += !texts[0][c].empty();
    size_t numeric = 0, filled = 0;
    for (size_t r = 1; r < texts.size(); ++r) {
      filled += !texts[r][c].empty();
      numeric += looks_numeric(texts[r][c]);
    }
    numeric_columns += filled > 0 && 2 * numeric > filled;
  }
  if (words < 2 || numeric_columns == 0) return;
  for (Cell& cell : table.cells) cell.header = cell.row == 0;
}

}  // namespace

void settle_kinds(Page& page) {
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) settle_header(block);
    if (block.kind != BlockKind::kPageNumber || number_in_text(text_of(block))) continue;
    const bool outside = bounds(block.outline).y1 < kHeadZone * page.height ||
                         bounds(block.outline).y0 > (1 - kHeadZone) * page.height;
    block.kind = outside && letters_of(block).size() >= kFewestLetters ? BlockKind::kRunningHead
                                                                       : BlockKind::kText;
  }
}

void mark_repeated(Page& page, Page& other) {
  for (const bool head : {true, false}) {
    for (Block* a : outermost(page, head)) {
      const std::vector<char32_t> letters = letters_of(*a);
      if (letters.size() < kFewestLetters) continue;
      for (Block* b : outermost(other, head)) {
        const std::vector<char32_t> others = letters_of(*b);
        const double longer = static_cast<double>(std::max(letters.size(), others.size()));
        const double apart = bounds(a->outline).centre().y / page.height -
                             bounds(b->outline).centre().y / other.height;
        if (std::fabs(apart) > kSamePlace || edit_distance(letters, others) > kMostUnlike * longer)
          continue;
        for (Block* same : {a, b}) {
          same->kind = BlockKind::kRunningHead;
          same->level = 0;
        }
      }
    }
  }
}

std::vector<SequenceBreak> sequence_breaks(const std::vector<NumberedPage>& pages) {
  struct Known {
    size_t place;
    int number;
    bool roman;
    int lead() const { return number - static_cast<int>(place); }
  };
  std::vector<Known> known;
  for (size_t i = 0; i < pages.size(); ++i) {
    if (pages[i].number) known.push_back({i, pages[i].number->value, pages[i].number->roman});
  }
  std::vector<SequenceBreak> breaks;
  // Numbers that agree with neither neighbour were misread, or count something else.
  const auto confirmed = [&](size_t i) {
    const auto agrees = [&](size_t k) {
      return known[k].roman == known[i].roman && known[k].lead() == known[i].lead();
    };
    return (i > 0 && agrees(i - 1)) || (i + 1 < known.size() && agrees(i + 1));
  };
  std::optional<size_t> last;
  for (size_t i = 0; i < known.size(); ++i) {
    if (!confirmed(i)) continue;
    if (last && known[*last].roman == known[i].roman) {
      const int shift = known[i].lead() - known[*last].lead();
      const std::string between =
          fmt::format("between {} (printed {}) and this page (printed {})",
                      pages[known[*last].place].name, known[*last].number, known[i].number);
      if (shift > 0)
        breaks.push_back(
            {known[i].place, fmt::format("{} {} missing {}", shift,
                                         shift == 1 ? "page seems" : "pages seem", between)});
      if (shift < 0 && known[i].number > 1)
        breaks.push_back(
            {known[i].place, fmt::format("{} {} too many {}", -shift,
                                         shift == -1 ? "page seems" : "pages seem", between)});
    }
    last = i;
  }
  return breaks;
}

}  // namespace burnisher::layout
