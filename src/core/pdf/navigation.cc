#include "pdf/navigation.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <sstream>

#include "base/error.h"
#include "base/files.h"
#include "base/roman.h"
#include "base/unicode.h"
#include "page/table.h"

namespace burnisher::pdf {
namespace {

constexpr int kMostLevels = 9;       // of bookmarks
constexpr int kMostPages = 1000000;  // that a label may name

std::string lower(std::string text) {
  for (char& c : text) c = c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
  return text;
}

bool all_digits(const std::string& text) {
  return !text.empty() && text.find_first_not_of("0123456789") == std::string::npos;
}

// 0 when it is no page number from 1 on.
int number_of(const std::string& text) {
  if (!all_digits(text) || text.size() > 7) return 0;
  const int value = std::stoi(text);
  return value <= kMostPages ? value : 0;
}

// The label that a range begins with.
LabelRange range_from(int first, const std::string& label) {
  LabelRange range;
  range.first = first;
  if (const int value = roman_value(lower(label)); value > 0) {
    range.style = label == lower(label) ? 'r' : 'R';
    range.start = value;
    return range;
  }
  const size_t digits = label.find_last_not_of("0123456789") + 1;  // npos + 1 is 0
  range.prefix = label.substr(0, digits);
  range.start = number_of(label.substr(digits));
  if (range.start == 0) {
    range.style = 0;
    range.prefix = label;
  }
  return range;
}

}  // namespace

std::vector<Bookmark> read_bookmarks(const std::string& path) {
  const auto bytes = read_file(path);
  std::istringstream lines(std::string(bytes.begin(), bytes.end()));
  std::vector<Bookmark> bookmarks;
  int number = 0;
  for (std::string line; std::getline(lines, line);) {
    ++number;
    if (!line.empty() && line.back() == '\r') line.pop_back();
    if (line.find_first_not_of(" \t") == std::string::npos || line[0] == '#') continue;
    std::vector<std::string> fields;
    std::istringstream parts(line);
    for (std::string field; std::getline(parts, field, '\t');) fields.push_back(field);
    Bookmark bookmark;
    bookmark.title = to_nfc(fields[0]);
    bookmark.page = fields.size() > 1 ? number_of(fields[1]) : 0;
    bookmark.level = fields.size() > 2 ? number_of(fields[2]) : 1;
    if (fields.size() > 3 || bookmark.title.empty() || bookmark.page == 0 || bookmark.level == 0 ||
        bookmark.level > kMostLevels) {
      throw FormatError(
          fmt::format("{}, line {}: expected title, page and level (1 to {}), parted by tabs", path,
                      number, kMostLevels));
    }
    bookmarks.push_back(bookmark);
  }
  return bookmarks;
}

std::vector<LabelRange> labels_named(const std::string& text) {
  std::vector<LabelRange> ranges;
  std::istringstream parts(text);
  int next = 1;
  for (std::string part; std::getline(parts, part, ',');) {
    const size_t colon = part.find(':');
    const std::string pages = part.substr(0, colon);
    const size_t dash = pages.find('-');
    const int first = number_of(pages.substr(0, dash));
    const bool open = dash != std::string::npos && dash + 1 == pages.size();
    const int last = dash == std::string::npos ? first
                     : open                    ? kMostPages
                                               : number_of(pages.substr(dash + 1));
    if (colon == std::string::npos || colon + 1 == part.size() || first < next || last < first) {
      throw SettingsError("labels",
                          text +
                              ": expected pages in order and the label of the first of them, as in "
                              "1-6:i,7-:1");
    }
    // Pages between two ranges keep their ordinal numbers.
    if (first > next) ranges.push_back({next, 'D', "", next});
    ranges.push_back(range_from(first, part.substr(colon + 1)));
    next = last + 1;
  }
  if (ranges.empty()) throw SettingsError("labels", "expected: something like 1-6:i,7-:1");
  if (next <= kMostPages) ranges.push_back({next, 'D', "", next});
  return ranges;
}

std::vector<LabelRange> labels_read(const std::vector<PageNumber>& numbers) {
  // Pages whose number and place differ by the same amount belong together.
  const int count = static_cast<int>(numbers.size());
  struct Anchor {
    int page, start;
    bool roman;
    int last;  // page of the same run
  };
  const auto fits = [&](int page, int other) {
    const PageNumber &a = numbers[static_cast<size_t>(page)],
                     &b = numbers[static_cast<size_t>(other)];
    return a.value > 0 && b.value > 0 && a.roman == b.roman && a.value - page == b.value - other;
  };
  std::vector<Anchor> anchors;
  int before = -1;
  for (int page = 0; page < count; ++page) {
    const PageNumber& number = numbers[static_cast<size_t>(page)];
    if (number.value <= 0) continue;
    bool confirmed = before >= 0 && fits(page, before);
    for (int next = page + 1; next < count && !confirmed; ++next) {
      if (numbers[static_cast<size_t>(next)].value <= 0) continue;
      confirmed = fits(page, next);
      break;
    }
    if (!confirmed) continue;  // a confusion
    if (before < 0 || !fits(page, before))
      anchors.push_back({page, number.value, number.roman, page});
    anchors.back().last = page;
    before = page;
  }
  std::vector<LabelRange> ranges;
  int covered = 0;
  for (const Anchor& anchor : anchors) {
    // Back to number one, as far as pages are free.
    const int first = std::max(covered, anchor.page - anchor.start + 1);
    for (int page = covered; page < first; ++page)
      ranges.push_back({page + 1, 0, fmt::format("[{}]", page + 1), 1});
    ranges.push_back(
        {first + 1, anchor.roman ? 'r' : 'D', "", anchor.start - (anchor.page - first)});
    covered = anchor.last + 1;
  }
  return ranges;
}

std::string label_of(const std::vector<LabelRange>& ranges, int page) {
  const LabelRange* range = nullptr;
  for (const LabelRange& r : ranges) {
    if (r.first <= page) range = &r;
  }
  if (range == nullptr) return std::to_string(page);
  const int value = range->start + page - range->first;
  switch (range->style) {
    case 0:
      return range->prefix;
    case 'r':
      return range->prefix + roman_text(value);
    case 'R': {
      std::string text = roman_text(value);
      for (char& c : text) c = static_cast<char>(c - 'a' + 'A');
      return range->prefix + text;
    }
    default:
      return range->prefix + std::to_string(value);
  }
}

int page_labelled(const std::vector<LabelRange>& ranges, int pages, const std::string& label) {
  for (int page = 1; page <= pages; ++page) {
    if (label_of(ranges, page) == label) return page;
  }
  return 0;
}

std::vector<ContentsLine> contents_of(const Page& page) {
  constexpr size_t kFewest = 3;        // numbers in one sequence that make it one
  constexpr double kLeastShare = 0.5;  // of the page's lines
  std::vector<ContentsLine> found;
  size_t lines = 0;
  int before = 0;
  bool in_order = true;
  const auto look_at = [&](const Line& line) {
    ++lines;
    if (line.words.size() < 2) return;
    const std::string label = lower(line.words.back().text);
    const int value = std::max(number_of(label), roman_value(label));
    const auto head = decode_utf8(line.words.front().text);
    if (value == 0 || std::none_of(head.begin(), head.end(), is_letter)) return;
    // Roman numbers before arabic ones begin anew.
    if (all_digits(label) && value < before) in_order = false;
    before = all_digits(label) ? value : 0;
    found.push_back({line.box, label});
  };
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable && !block.cells.empty()) {
      for (const auto& row : printed_lines(block)) look_at(joined(row));
    } else if (block.kind == BlockKind::kText) {
      for (const Line& line : block.lines) look_at(line);
    }
  }
  const bool contents =
      found.size() >= kFewest && in_order &&
      static_cast<double>(found.size()) >= kLeastShare * static_cast<double>(lines);
  return contents ? found : std::vector<ContentsLine>();
}

}  // namespace burnisher::pdf
