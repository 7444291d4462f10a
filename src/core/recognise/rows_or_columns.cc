#include "recognise/rows_or_columns.h"

#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "page/table.h"

namespace burnisher::recognise {
namespace {

// In nats a character, as the habits of spelling are.
constexpr double kOfLabels = 1.5;  // "Date:" in every row
constexpr double kOfFigures = 1.5;
constexpr double kOfAlphabet = 2;
constexpr double kMostRows = 0.6;  // that figures speak for
constexpr double kClearly = 0.6;
constexpr size_t kBefore = 12, kAfter = 8;  // characters at a seam
constexpr size_t kFewestSeams = 5;          // for the language to say anything
constexpr size_t kFewestInOrder = 5;        // lines of a list in alphabetical order
constexpr double kInOrder = 0.85;           // of them, that do not go back
constexpr double kSameLevel = 0.5;          // x-heights between baselines
constexpr double kMostlyLevel = 0.7;        // of the lines of the shorter column
constexpr double kWithin = 0.6;             // of a block's height, beside the first one
constexpr size_t kFewestRows = 2, kFewestTableRows = 4;
constexpr size_t kMostFootRows = 3;  // of columns at the foot of a letter: bank, office hours

// How likely the text goes on so: mean over the first characters after the seam.
double goes_on(const LanguageModel& language, const std::string& before, const std::string& after) {
  const std::vector<char32_t> all = decode_utf8(before), next = decode_utf8(after);
  LanguageModel::Context context = language.start();
  const bool parted = all.size() > 1 && all.back() == U'-';
  const size_t end = all.size() - (parted ? 1 : 0);
  for (size_t i = end - std::min(end, kBefore); i < end; ++i)
    language.step(context, language.symbol_of(folded(all[i])), context);
  if (!parted) language.step(context, language.symbol_of(U' '), context);
  double sum = 0;
  const size_t count = std::min(next.size(), kAfter);
  for (size_t i = 0; i < count; ++i)
    sum += language.step(context, language.symbol_of(folded(next[i])), context);
  return count > 0 ? sum / static_cast<double>(count) : 0;
}

double mean_down(const LanguageModel& language, const std::vector<std::string>& lines) {
  double sum = 0;
  for (size_t i = 1; i < lines.size(); ++i) sum += goes_on(language, lines[i - 1], lines[i]);
  return lines.size() > 1 ? sum / static_cast<double>(lines.size() - 1) : 0;
}

bool is_figure(const std::string& text) {
  size_t digits = 0, letters = 0;
  for (const char32_t c : decode_utf8(text)) {
    digits += is_digit(c);
    letters += is_letter(c);
  }
  return digits > letters;
}

bool is_label(const std::string& text) {
  return !text.empty() && text.back() == ':';
}

bool in_alphabetical_order(const std::vector<std::string>& lines) {
  size_t onwards = 0, pairs = 0;
  std::u32string last;
  for (const std::string& line : lines) {
    std::u32string start;
    for (const char32_t c : decode_utf8(line)) {
      if (start.size() < 3 && is_letter(c)) start += folded(c);
    }
    if (start.empty()) continue;
    if (!last.empty()) {
      ++pairs;
      onwards += last <= start;
    }
    last = start;
  }
  return pairs + 1 >= kFewestInOrder &&
         static_cast<double>(onwards) >= kInOrder * static_cast<double>(pairs);
}

// The blocks from `first` + 1 to before the result stand right of block `first`, beside it.
size_t end_of_beside(const std::vector<Block>& blocks, size_t first) {
  const Box left = bounds(blocks[first].outline);
  size_t end = first + 1;
  for (; end < blocks.size(); ++end) {
    const Block& block = blocks[end];
    const Box box = bounds(block.outline);
    if (block.kind == BlockKind::kTable || block.lines.empty() || box.x0 < left.x1 ||
        overlap(box.y0, box.y1, left.y0, left.y1) < kWithin * box.height())
      break;
  }
  return end;
}

double height_of(const Line& line) {
  return height_at(line.baseline, line.box.centre().x);
}

SideBySide side_by_side(const std::vector<const Line*>& left,
                        const std::vector<const Line*>& right) {
  SideBySide text;
  for (const Line* line : left) text.left.push_back(line->text());
  for (const Line* line : right) text.right.push_back(line->text());
  for (size_t i = 0; i < left.size(); ++i) {
    for (size_t k = 0; k < right.size(); ++k) {
      const double apart = std::abs(height_of(*left[i]) - height_of(*right[k]));
      if (apart < kSameLevel * std::min(left[i]->x_height, right[k]->x_height)) {
        text.pairs.push_back({i, k});
        break;
      }
    }
  }
  return text;
}

bool readable(const Line& line) {
  return !line.words.empty() && !line.runs_up_or_down() && !line.right_to_left();
}

std::vector<const Line*> lines_of(const std::vector<Block>& blocks, size_t first, size_t end) {
  std::vector<const Line*> lines;
  for (size_t i = first; i < end; ++i)
    for (const Line& line : blocks[i].lines) lines.push_back(&line);
  return lines;
}

Polygon outline_of(const std::vector<Line>& lines) {
  Box box;
  for (const Line& line : lines) box = united(box, line.box);
  return box.corners();
}

void join_rows(const Languages& languages, Page& page) {
  for (size_t i = 0; i + 1 < page.blocks.size(); ++i) {
    if (page.blocks[i].kind == BlockKind::kTable) continue;
    const size_t end = end_of_beside(page.blocks, i);
    const std::vector<const Line*> left = lines_of(page.blocks, i, i + 1);
    const std::vector<const Line*> right = lines_of(page.blocks, i + 1, end);
    const auto all_readable = [](const std::vector<const Line*>& lines) {
      return lines.size() >= kFewestRows &&
             std::all_of(lines.begin(), lines.end(), [](const Line* l) { return readable(*l); });
    };
    if (!all_readable(left) || !all_readable(right)) continue;
    const SideBySide text = side_by_side(left, right);
    const auto shorter = static_cast<double>(std::min(left.size(), right.size()));
    if (static_cast<double>(text.pairs.size()) < std::max(2.0, kMostlyLevel * shorter)) continue;
    const auto language = languages.model(page.blocks[i].language());
    if (speaks_for_rows(text, language.get()) < kClearly) continue;
    std::vector<Line> rows;
    std::vector<bool> used(right.size(), false);
    for (size_t k = 0; k < left.size(); ++k) {
      rows.push_back(*left[k]);
      for (const auto& [l, r] : text.pairs) {
        if (l != k || used[r]) continue;
        rows.back() = joined({&rows.back(), right[r]});
        used[r] = true;
      }
    }
    for (size_t r = 0; r < right.size(); ++r)
      if (!used[r]) rows.push_back(*right[r]);
    std::stable_sort(rows.begin(), rows.end(), [](const Line& a, const Line& b) {
      return a.box.centre().y < b.box.centre().y;
    });
    page.blocks[i].lines = std::move(rows);
    page.blocks[i].outline = outline_of(page.blocks[i].lines);
    page.blocks.erase(page.blocks.begin() + static_cast<long>(i) + 1,
                      page.blocks.begin() + static_cast<long>(end));
  }
}

// The lines of each column; nothing where cells go over several or stand in a head, as in no text.
std::vector<std::vector<const Line*>> columns_of(const Block& table) {
  std::vector<std::vector<const Line*>> columns;
  for (const Cell& cell : table.cells) {
    if (cell.header || (cell.columns > 1 && !cell.lines.empty())) return {};
    columns.resize(std::max(columns.size(), static_cast<size_t>(cell.column + cell.columns)));
    for (const int line : cell.lines)
      columns[static_cast<size_t>(cell.column)].push_back(&table.lines[static_cast<size_t>(line)]);
  }
  return columns;
}

bool mostly_figures(const std::vector<const Line*>& lines) {
  const auto figures = std::count_if(lines.begin(), lines.end(),
                                     [](const Line* line) { return is_figure(line->text()); });
  return 2 * figures >= static_cast<long>(lines.size());
}

// Two lines in each column, the upper one no figure: a label over its entry, as in the line of
// references of a letter.
bool is_row_of_labels(const std::vector<std::vector<const Line*>>& columns) {
  return columns.size() > 1 && std::all_of(columns.begin(), columns.end(), [](const auto& column) {
           return column.size() == 2 && !is_figure(column.front()->text());
         });
}

// Labels over their entries; or a few lines in columns, none of them of figures, as at the foot of
// letters; or two columns of a text that clearly goes on downwards.
bool is_text_in_columns(const Languages& languages, const Block& table,
                        const std::vector<std::vector<const Line*>>& columns) {
  size_t most = 0, fewest = columns.empty() ? 0 : columns[0].size();
  for (const std::vector<const Line*>& column : columns) {
    if (!std::all_of(column.begin(), column.end(), [](const Line* l) { return readable(*l); }))
      return false;
    most = std::max(most, column.size());
    fewest = std::min(fewest, column.size());
  }
  if (is_row_of_labels(columns)) return true;
  if (columns.size() > 1 && fewest >= kFewestRows && most <= kMostFootRows)
    return std::none_of(columns.begin(), columns.end(), mostly_figures);
  if (columns.size() != 2 || fewest < kFewestTableRows) return false;
  const auto language = languages.model(table.language());
  return speaks_for_rows(side_by_side(columns[0], columns[1]), language.get()) < -kClearly;
}

void part_columns(const Languages& languages, Page& page) {
  for (size_t i = 0; i < page.blocks.size(); ++i) {
    if (page.blocks[i].kind != BlockKind::kTable) continue;
    const std::vector<std::vector<const Line*>> columns = columns_of(page.blocks[i]);
    if (!is_text_in_columns(languages, page.blocks[i], columns)) continue;
    std::vector<Block> parts;
    for (const std::vector<const Line*>& column : columns) {
      Block block;
      for (const Line* line : column) block.lines.push_back(*line);
      block.outline = outline_of(block.lines);
      parts.push_back(std::move(block));
    }
    page.blocks.erase(page.blocks.begin() + static_cast<long>(i));
    page.blocks.insert(page.blocks.begin() + static_cast<long>(i), parts.begin(), parts.end());
    i += parts.size() - 1;
  }
}

}  // namespace

double speaks_for_rows(const SideBySide& text, const LanguageModel* language) {
  if (text.pairs.empty()) return 0;
  const auto pairs = static_cast<double>(text.pairs.size());
  double labels = 0, figures = 0, times = 0, across = 0;
  for (const auto& [l, r] : text.pairs) {
    labels += is_label(text.left[l]);
    figures += is_figure(text.right[r]) && !is_figure(text.left[l]);
    times += is_figure(text.left[l]) && !is_figure(text.right[r]);
    if (language != nullptr) across += goes_on(*language, text.left[l], text.right[r]);
  }
  // Amounts stand after their items; times before theirs, in every row.
  if (times == pairs) figures = pairs;
  if (figures < kMostRows * pairs) figures = 0;  // one entry among several
  double rows = (kOfLabels * labels + kOfFigures * figures) / pairs;
  if (language != nullptr && text.pairs.size() >= kFewestSeams) {
    const double down = (mean_down(*language, text.left) + mean_down(*language, text.right)) / 2;
    rows += across / pairs - down;
  }
  std::vector<std::string> both = text.left;
  both.insert(both.end(), text.right.begin(), text.right.end());
  if (in_alphabetical_order(both)) rows -= kOfAlphabet;
  return rows;
}

void settle_rows(const Languages& languages, Page& page) {
  part_columns(languages, page);
  join_rows(languages, page);
}

}  // namespace burnisher::recognise
