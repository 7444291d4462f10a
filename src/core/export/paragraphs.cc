#include "export/paragraphs.h"

#include <algorithm>
#include <cmath>

#include "base/pattern.h"
#include "base/roman.h"
#include "base/statistics.h"
#include "base/unicode.h"

namespace burnisher::exporting {
namespace {

constexpr double kIndent = 0.8;  // x-heights from which on a line is indented
constexpr double kShortLine =
    0.12;  // of the block's width: a line that ends so early ends something

// Of the column's width: white left after a line, beyond what the next word needs, that was meant.
constexpr double kMeantBreak = 0.2;

constexpr double kPartingWhite = 1.5;  // x-heights between the ink of two blocks
constexpr size_t kFewLines = 4;        // too few to say how a block is set
constexpr double kLineByLine = 0.4;    // of a block's lines
constexpr double kWiderPitch = 1.15;   // beside the block's: white that parts paragraphs

const char* const kBullets[] = {"\u2022", "\u00B7", "\u25AA", "\u25CF", "-", "\u2013", "*"};

// White left after `line`, beyond what the next word needs.
double room_after(const Line& line, const Line& next, double column_end) {
  return next.words.empty() ? 0 : column_end - line.box.x1 - next.words.front().box.width();
}

// Logs, lists, verse: many of its lines end although the next word had room.
bool is_line_by_line(const std::vector<Line>& lines, double right) {
  if (lines.size() < kFewLines) return false;
  size_t roomy = 0;
  for (size_t i = 1; i < lines.size(); ++i)
    roomy += room_after(lines[i - 1], lines[i], right) > lines[i].x_height;
  return static_cast<double>(roomy) > kLineByLine * static_cast<double>(lines.size() - 1);
}

double foot_of(const Line& line) {
  return line.baseline.size() < 2 ? line.box.y1 : height_at(line.baseline, line.baseline.front().x);
}

// From line to line, upright pages; 0 for a single line.
double usual_pitch(const std::vector<Line>& lines) {
  std::vector<double> steps;
  for (size_t i = 1; i < lines.size(); ++i)
    steps.push_back(foot_of(lines[i]) - foot_of(lines[i - 1]));
  return steps.empty() ? 0 : median(steps);
}

// Dots that lead to a page number, Arabic or Roman.
bool leads_to_number(const std::string& text) {
  const size_t last = text.rfind(' ');
  if (last == std::string::npos) return false;
  const std::string number = text.substr(last + 1);
  if (number.find_first_not_of("0123456789") != std::string::npos && roman_value(number) == 0)
    return false;
  const std::string before = text.substr(0, last);
  const size_t word = before.find_last_not_of(". ");
  const size_t from = word == std::string::npos ? 0 : word + 1;
  return std::count(before.begin() + static_cast<long>(from), before.end(), '.') >= 3;
}

}  // namespace

char32_t first_of(const std::string& text) {
  const auto characters = decode_utf8(text);
  return characters.empty() ? 0 : characters.front();
}

bool ends_sentence(const std::string& text) {
  auto characters = decode_utf8(text);
  static const std::u32string kClosing = U"\"'\u2019\u201D\u00BB)]";
  while (!characters.empty() && kClosing.find(characters.back()) != std::u32string::npos)
    characters.pop_back();
  static const std::u32string kEnds = U".!?:;";
  return !characters.empty() && kEnds.find(characters.back()) != std::u32string::npos;
}

bool begins_small(const std::string& text) {
  const char32_t c = first_of(text);
  return is_letter(c) && !is_upper(c);
}

std::pair<std::string, size_t> marker_of(const std::string& text) {
  for (const std::string bullet : kBullets) {
    if (text.size() > bullet.size() + 1 && text.compare(0, bullet.size(), bullet) == 0 &&
        text[bullet.size()] == ' ')
      return {"-", bullet.size() + 1};
  }
  static const Pattern kNumbered(R"((\(?(?:[0-9]{1,3}|[a-z])[.)]) .*)");
  if (const auto groups = kNumbered.groups(text); !groups.empty())
    return {groups[1], groups[1].size() + 1};
  return {"", 0};
}

Box ink_of(const Block& block) {
  Box box;
  for (const Line& line : block.lines) box = united(box, line.box);
  return box;
}

double column_right(const Block& block, const std::vector<Block>& blocks) {
  const Box own = ink_of(block);
  double right = own.x1, limit = 1e18;
  for (const Block& other : blocks) {
    if (other.lines.empty() || other.kind == BlockKind::kNoise) continue;
    const Box box = ink_of(other);
    const bool same_edge = std::fabs(box.x0 - own.x0) < 2 * block.lines.front().x_height;
    if (other.kind == BlockKind::kText && same_edge) right = std::max(right, box.x1);
    if (overlap(box.y0, box.y1, own.y0, own.y1) > 0 && box.x0 >= own.x1)
      limit = std::min(limit, box.x0);
  }
  return std::min(right, limit);
}

bool breaks_on_purpose(const Line& line, const Line& next, double column_left, double column_end) {
  return room_after(line, next, column_end) > kMeantBreak * (column_end - column_left);
}

bool parted_by_white(const Line& line, const Block& below, const std::vector<Block>& blocks) {
  const Box upper = line.box, lower = ink_of(below);
  const double from = std::max(upper.x0, lower.x0), to = std::min(upper.x1, lower.x1);
  if (to <= from || lower.y0 - upper.y1 < kPartingWhite * line.x_height) return false;
  return std::none_of(blocks.begin(), blocks.end(), [&](const Block& other) {
    const Box box = bounds(other.outline);
    return other.kind != BlockKind::kNoise && box.y0 >= upper.y1 && box.y1 <= lower.y0 &&
           overlap(box.x0, box.x1, from, to) > 0;
  });
}

std::vector<bool> beginnings(const Block& block, double column_end) {
  const auto& lines = block.lines;
  std::vector<bool> begins(lines.size(), false);
  double left = lines.front().box.x0, right = lines.front().box.x1;
  for (const Line& line : lines) {
    left = std::min(left, line.box.x0);
    right = std::max(right, line.box.x1);
  }
  const auto indented = [&](const Line& line) {
    return line.box.x0 - left > kIndent * line.x_height;
  };
  const size_t count = static_cast<size_t>(std::count_if(lines.begin(), lines.end(), indented));
  const double pitch = usual_pitch(lines);
  const bool line_by_line = is_line_by_line(lines, right);
  const bool hanging = 2 * count > lines.size();  // what stands out begins, as in indexes
  for (size_t i = 0; i < lines.size(); ++i) {
    if (i > 0 && leads_to_number(lines[i - 1].text())) {
      begins[i] = true;
      continue;
    }
    if (line_by_line) {
      begins[i] = i > 0 && (indented(lines[i]) != indented(lines[i - 1]) ||
                            room_after(lines[i - 1], lines[i], right) > lines[i].x_height);
      continue;
    }
    const bool stands_out = hanging ? !indented(lines[i]) : indented(lines[i]);
    const bool after_short = i > 0 && right - lines[i - 1].box.x1 > kShortLine * (right - left) &&
                             ends_sentence(lines[i - 1].text());
    const bool listed = !marker_of(lines[i].text()).first.empty() &&
                        (i == 0 || ends_sentence(lines[i - 1].text()) ||
                         right - lines[i - 1].box.x1 > kShortLine * (right - left));
    const bool meant = i > 0 && breaks_on_purpose(lines[i - 1], lines[i], left, column_end);
    const bool spaced = i > 0 && ends_sentence(lines[i - 1].text()) &&
                        foot_of(lines[i]) - foot_of(lines[i - 1]) > kWiderPitch * pitch;
    begins[i] = (count > 0 && stands_out) || after_short || listed || meant || spaced;
  }
  return begins;
}

}  // namespace burnisher::exporting
