#include "recognise/item_marks.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "base/unicode.h"
#include "page/table.h"

namespace burnisher::recognise {
namespace {

constexpr size_t kMostCharacters = 6;
constexpr size_t kMostDigits = 3;   // of a number without a point
constexpr double kReach = 7;        // x-heights from the mark to its text
constexpr double kLabelReach = 16;  // from a label to its entry
constexpr size_t kMostLabelWords = 3;
constexpr double kSameLevel = 0.6;  // x-heights between their baselines

double height_of(const Line& line, double x) {
  return height_at(line.baseline, x);
}

bool stands_before(const Line& mark, const Line& text, double reach) {
  const double gap = text.box.x0 - mark.box.x1;
  return gap > -0.5 * mark.x_height && gap < reach * mark.x_height &&
         std::abs(height_of(mark, mark.box.x1) - height_of(text, text.box.x0)) <
             kSameLevel * std::min(mark.x_height, text.x_height);
}

// The line after a mark, and its block; null: none.
std::pair<Block*, Line*> text_after(const Line& mark, double reach, Page& page) {
  std::pair<Block*, Line*> nearest{nullptr, nullptr};
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) continue;
    for (Line& line : block.lines) {
      if (&line == &mark || line.words.empty() || line.runs_up_or_down() || line.right_to_left() ||
          !stands_before(mark, line, reach))
        continue;
      if (nearest.second == nullptr || line.box.x0 < nearest.second->box.x0)
        nearest = {&block, &line};
    }
  }
  return nearest;
}

// "PRESENT:", and nothing in the block but such.
bool is_label(const Line& line) {
  const std::string text = line.text();
  return !text.empty() && line.words.size() <= kMostLabelWords && text.back() == ':';
}

bool holds_labels(const Block& block) {
  return !block.lines.empty() && std::all_of(block.lines.begin(), block.lines.end(), is_label);
}

// A number whose point was lost, or has none; 0: it is none.
int bare_number(const std::string& text) {
  const std::vector<char32_t> characters = decode_utf8(text);
  if (characters.empty() || characters.size() > kMostDigits) return 0;
  int number = 0;
  for (const char32_t c : characters) {
    if (c < U'0' || c > U'9') return 0;
    number = 10 * number + static_cast<int>(c - U'0');
  }
  return number;
}

// The numbers that lines of the page begin with, as items do: "7.", "7)" or nothing but 7.
std::set<int> item_numbers(const Page& page) {
  std::set<int> numbers;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) continue;
    for (const Line& line : block.lines) {
      if (line.words.empty()) continue;
      std::string first = line.words.front().text;
      if (is_item_mark(first))
        first.pop_back();
      else if (line.words.size() > 1)
        continue;
      if (const int number = bare_number(first)) numbers.insert(number);
    }
  }
  return numbers;
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
  const std::set<int> numbers = item_numbers(page);
  const auto counts = [&](const std::string& text) {
    if (is_item_mark(text)) return true;
    const int number = bare_number(text);
    return number > 0 && (numbers.count(number - 1) > 0 || numbers.count(number + 1) > 0);
  };
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable) continue;
    const bool labels = holds_labels(block);
    for (size_t i = 0; i < block.lines.size();) {
      const Line& mark = block.lines[i];
      const bool item = mark.words.size() == 1 && counts(mark.text());
      if (mark.runs_up_or_down() || mark.right_to_left() || !(labels || item)) {
        ++i;
        continue;
      }
      const auto [owner, text] = text_after(mark, labels ? kLabelReach : kReach, page);
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
