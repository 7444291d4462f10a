#include "page/table.h"

#include <algorithm>
#include <cmath>

namespace burnisher {

int row_count(const Block& table) {
  int rows = 0;
  for (const Cell& cell : table.cells) rows = std::max(rows, cell.row + cell.rows);
  return rows;
}

int column_count(const Block& table) {
  int columns = 0;
  for (const Cell& cell : table.cells) columns = std::max(columns, cell.column + cell.columns);
  return columns;
}

std::string text_of(const Block& block) {
  std::string text;
  for (const Line& line : block.lines) {
    if (!text.empty()) text += ' ';
    text += line.text();
  }
  return text;
}

std::string text_of(const Block& table, const Cell& cell) {
  std::string text;
  for (int index : cell.lines) {
    const std::string line = table.lines[static_cast<size_t>(index)].text();
    if (!text.empty() && !line.empty()) text += ' ';
    text += line;
  }
  return text;
}

int printed_row(const Block& table, const Cell& cell) {
  if (cell.rows == 1 || cell.lines.empty()) return cell.row;
  const auto height_of = [&](const Cell& c) {
    Box ink;
    for (const int index : c.lines) ink = united(ink, table.lines[static_cast<size_t>(index)].box);
    return ink.centre().y;
  };
  int row = cell.row;
  double nearest = 1e18;
  for (const Cell& other : table.cells) {
    const bool beside = other.rows == 1 && !other.lines.empty() && other.row >= cell.row &&
                        other.row < cell.row + cell.rows;
    const double away = beside ? std::abs(height_of(other) - height_of(cell)) : 1e18;
    if (away >= nearest) continue;
    nearest = away;
    row = other.row;
  }
  return row;
}

std::vector<std::vector<std::string>> texts_of(const Block& table) {
  std::vector<std::vector<std::string>> rows(
      static_cast<size_t>(row_count(table)),
      std::vector<std::string>(static_cast<size_t>(column_count(table))));
  for (const Cell& cell : table.cells) {
    std::string& place =
        rows[static_cast<size_t>(printed_row(table, cell))][static_cast<size_t>(cell.column)];
    const std::string text = text_of(table, cell);
    if (!place.empty() && !text.empty()) place += ' ';
    place += text;
  }
  return rows;
}

std::vector<std::vector<const Line*>> printed_lines(const Block& table) {
  std::vector<std::vector<const Line*>> printed;
  for (int row = 0; row < row_count(table); ++row) {
    std::vector<const Line*> lines;
    bool single = true;
    for (const Cell& cell : table.cells) {
      if (printed_row(table, cell) != row) continue;
      single = single && cell.lines.size() < 2;
      for (int index : cell.lines) lines.push_back(&table.lines[static_cast<size_t>(index)]);
    }
    if (lines.empty()) continue;
    std::stable_sort(lines.begin(), lines.end(),
                     [](const Line* a, const Line* b) { return a->box.x0 < b->box.x0; });
    if (single) {
      printed.push_back(lines);
      continue;
    }
    // Cells of several lines are read one after the other.
    for (const Cell& cell : table.cells) {
      if (printed_row(table, cell) != row) continue;
      for (int index : cell.lines) printed.push_back({&table.lines[static_cast<size_t>(index)]});
    }
  }
  return printed;
}

Line joined(const std::vector<const Line*>& lines) {
  Line whole = **std::max_element(lines.begin(), lines.end(), [](const Line* a, const Line* b) {
    return a->words.size() < b->words.size();
  });
  whole.words.clear();
  whole.baseline.clear();
  whole.box = {};
  if (lines.size() > 1) whole.outline.clear();
  double confidence = 0, count = 0;
  for (const Line* line : lines) {
    whole.words.insert(whole.words.end(), line->words.begin(), line->words.end());
    whole.baseline.insert(whole.baseline.end(), line->baseline.begin(), line->baseline.end());
    whole.box = united(whole.box, line->box);
    confidence += line->confidence * static_cast<double>(line->words.size());
    count += static_cast<double>(line->words.size());
  }
  if (count > 0) whole.confidence = confidence / count;
  return whole;
}

}  // namespace burnisher
