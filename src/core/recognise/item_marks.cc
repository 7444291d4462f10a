#include "recognise/item_marks.h"

#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "page/table.h"

namespace burnisher::recognise {
namespace {

constexpr size_t kMostCharacters = 6;
constexpr double kReach = 7;        // x-heights from the mark to its text
constexpr double kSameLevel = 0.6;  // x-heights between their baselines

double height_of(const Line& line, double x) {
  return height_at(line.baseline, x);
}

bool stands_before(const Line& mark, const Line& text) {
  const double gap = text.box.x0 - mark.box.x1;
  return gap > -0.5 * mark.x_height && gap < kReach * mark.x_height &&
         std::abs(height_of(mark, mark.box.x1) - height_of(text, text.box.x0)) <
             kSameLevel * std::min(mark.x_height, text.x_height);
}

// The line after a mark, and its block; null: none.
std::pair<Block*, Line*> text_after(const Line& mark, Page& page) {
  std::pair<Block*, Line*> nearest{nullptr, nullptr};
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) continue;
    for (Line& line : block.lines) {
      if (&line == &mark || line.words.empty() || line.runs_up_or_down() || line.right_to_left() ||
          !stands_before(mark, line))
        continue;
      if (nearest.second == nullptr || line.box.x0 < nearest.second->box.x0)
        nearest = {&block, &line};
    }
  }
  return nearest;
}

}  // namespace

bool is_item_mark(const std::string& text) {
  const std::vector<char32_t> characters = decode_utf8(text);
  if (characters.empty() || characters.size() > kMostCharacters) return false;
  const char32_t last = characters.back();
  if (characters.size() == 1)
    return std::u32string(U"•●○■□▪–—*·").find(last) != std::u32string::npos;
  if (last != U'.' && last != U')') return false;
  const std::u32string roman = U"ivxlcIVXLC";
  size_t digits = 0, letters = 0, numerals = 0, others = 0;
  for (size_t i = 0; i + 1 < characters.size(); ++i) {
    const char32_t c = characters[i];
    digits += is_digit(c);
    letters += is_letter(c);
    numerals += roman.find(c) != std::u32string::npos;
    others += !is_digit(c) && !is_letter(c) && c != U'.' && !(i == 0 && c == U'(');
  }
  if (others > 0) return false;
  return digits > 0 ? letters <= 1 : letters == 1 || (letters > 0 && letters == numerals);
}

void join_item_marks(Page& page) {
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) continue;
    for (size_t i = 0; i < block.lines.size();) {
      const Line& mark = block.lines[i];
      if (mark.words.size() != 1 || mark.runs_up_or_down() || !is_item_mark(mark.text())) {
        ++i;
        continue;
      }
      const auto [owner, text] = text_after(mark, page);
      if (text == nullptr) {
        ++i;
        continue;
      }
      *text = joined({&mark, text});
      Box box = bounds(owner->outline);
      if (!box.empty()) owner->outline = united(box, mark.box).corners();
      block.lines.erase(block.lines.begin() + static_cast<long>(i));
    }
  }
  const auto emptied = [](const Block& block) {
    return block.lines.empty() && block.kind != BlockKind::kPicture &&
           block.kind != BlockKind::kSeparator && block.kind != BlockKind::kTable;
  };
  page.blocks.erase(std::remove_if(page.blocks.begin(), page.blocks.end(), emptied),
                    page.blocks.end());
}

}  // namespace burnisher::recognise
