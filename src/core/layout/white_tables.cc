#include <algorithm>
#include <cmath>

#include "base/statistics.h"
#include "layout/tables.h"

namespace burnisher::layout {
namespace {

// All in text heights.
constexpr double kCellGap = 1.0;  // between two cells of a row; words stand nearer
constexpr double kWordGap = 0.3;
constexpr double kNarrowStripe = 0.45;  // where a row comes close to the next column
constexpr size_t kFewestStripes = 3;    // that a close row must keep to
constexpr double kFewestLetters = 1.6;  // in a cell of a table with many columns
constexpr double kManyColumns = 8;
constexpr double kStripe = 0.7;     // white left between two columns over all rows
constexpr double kMostPitch = 4.2;  // from row to row
constexpr double kHeadPitch = 6;    // from the head to the first row: a rule is between
constexpr double kOneLevel = 0.5;
constexpr double kScrap = 1.5;       // width
constexpr double kContinued = 1.75;  // pitch up to which a lone piece may go on the row above
constexpr double kProseWidth = 14;
constexpr double kProseFill = 0.8;
constexpr double kMostFilled = 0.72;
constexpr double kBothWide = 11;  // of two columns: rather text than cells
constexpr double kNumbering = 4;  // width of a column of item numbers
constexpr double kLowDot = 0.35;  // of the line's height
constexpr size_t kLeader = 5;     // dots
constexpr int kFewestRows = 3, kFewestRowsOfTwo = 4;

struct Span {
  double from, to;
  double width() const { return to - from; }
};

struct Piece {
  Span span;
  std::vector<Component> letters, marks;
};

struct Row {
  std::vector<size_t> lines;  // places in the page's lines; several that stand on one level
  Box box;
  std::vector<Piece> words;   // parts with less white between them than cells have
  std::vector<Piece> pieces;  // parts of the row that may be cells
  bool leader = false;
};

std::vector<Piece> pieces_of(const LetterLine& line, double gap) {
  std::vector<std::pair<Component, bool>> parts;
  for (const Component& c : line.letters) parts.emplace_back(c, true);
  for (const Component& c : line.marks) parts.emplace_back(c, false);
  std::sort(parts.begin(), parts.end(),
            [](const auto& a, const auto& b) { return a.first.x0 < b.first.x0; });
  std::vector<Piece> pieces;
  for (const auto& [c, letter] : parts) {
    if (pieces.empty() || c.x0 - pieces.back().span.to > gap)
      pieces.push_back({{static_cast<double>(c.x0), static_cast<double>(c.x1)}, {}, {}});
    Piece& piece = pieces.back();
    piece.span.to = std::max<double>(piece.span.to, c.x1);
    (letter ? piece.letters : piece.marks).push_back(c);
  }
  return pieces;
}

Row row_of(const LetterLine& line, size_t index, double h) {
  Row row;
  row.lines = {index};
  row.box = line.box;
  row.words = pieces_of(line, kWordGap * h);
  row.pieces = pieces_of(line, kCellGap * h);
  return row;
}

// Dots on the row's level in the white between two of its pieces.
bool has_leader(const Row& row, const std::vector<Component>& marks, double h) {
  for (size_t i = 1; i < row.pieces.size(); ++i) {
    const Span white{row.pieces[i - 1].span.to, row.pieces[i].span.from};
    size_t dots = 0;
    double first = white.to, last = white.from;
    for (const Component& c : marks) {
      if (c.height() > kLowDot * row.box.height() || c.y0 < row.box.y0 ||
          c.y1 > row.box.y1 + 0.5 * h || c.x0 < white.from - 0.2 * h || c.x1 > white.to + 0.2 * h)
        continue;
      ++dots;
      first = std::min<double>(first, c.x0);
      last = std::max<double>(last, c.x1);
    }
    if (dots >= kLeader && last - first > 0.4 * white.width()) return true;
  }
  return false;
}

std::vector<Span> gaps_of(const Row& row) {
  std::vector<Span> gaps;
  for (size_t i = 1; i < row.pieces.size(); ++i)
    gaps.push_back({row.pieces[i - 1].span.to, row.pieces[i].span.from});
  return gaps;
}

// What of the stripes stays white when the row is printed over them.
std::vector<Span> still_white(const std::vector<Span>& stripes, const Row& row, double h) {
  std::vector<Span> left;
  for (const Span& stripe : stripes) {
    double at = stripe.from;
    for (const Piece& piece : row.pieces) {
      if (piece.span.to <= at || piece.span.from >= stripe.to) continue;
      if (piece.span.from - at >= kStripe * h) left.push_back({at, piece.span.from});
      at = std::max(at, piece.span.to);
    }
    if (stripe.to - at >= kStripe * h) left.push_back({at, stripe.to});
  }
  return left;
}

// Stripes that the row crosses with one of its pieces.
size_t crossed(const std::vector<Span>& stripes, const Row& row) {
  return static_cast<size_t>(std::count_if(stripes.begin(), stripes.end(), [&](const Span& s) {
    return std::any_of(row.pieces.begin(), row.pieces.end(),
                       [&](const Piece& p) { return p.span.from < s.from && p.span.to > s.to; });
  }));
}

// The row cut in the white that most overlaps each of the stripes; a stripe without such white
// stays crossed.
std::vector<Piece> cut_at(const std::vector<Span>& stripes, const std::vector<Piece>& words,
                          double h) {
  std::vector<bool> cut(words.size(), false);
  for (const Span& s : stripes) {
    size_t best = 0;
    double most = kNarrowStripe * h;
    for (size_t i = 1; i < words.size(); ++i) {
      const double white = overlap(s.from, s.to, words[i - 1].span.to, words[i].span.from);
      if (white > most) {
        most = white;
        best = i;
      }
    }
    if (best > 0) cut[best] = true;
  }
  std::vector<Piece> pieces;
  for (size_t i = 0; i < words.size(); ++i) {
    if (i == 0 || cut[i]) {
      pieces.push_back(words[i]);
      continue;
    }
    Piece& piece = pieces.back();
    piece.span.to = std::max(piece.span.to, words[i].span.to);
    piece.letters.insert(piece.letters.end(), words[i].letters.begin(), words[i].letters.end());
    piece.marks.insert(piece.marks.end(), words[i].marks.begin(), words[i].marks.end());
  }
  return pieces;
}

struct RunOfRows {
  std::vector<Row> rows;
  std::vector<Span> stripes;
  Box box;
};

class Search {
 public:
  Search(const std::vector<Component>& rules, const std::vector<Component>& marks, double h,
         const std::vector<LetterLine>& lines)
      : rules_(rules), h_(h) {
    for (size_t i = 0; i < lines.size(); ++i) {
      rows_.push_back(row_of(lines[i], i, h));
      rows_.back().leader = rows_.back().pieces.size() > 1 && has_leader(rows_.back(), marks, h);
    }
    std::sort(rows_.begin(), rows_.end(),
              [](const Row& a, const Row& b) { return a.box.centre().y < b.box.centre().y; });
    used_.resize(rows_.size(), false);
    used_line_.resize(lines.size(), false);
  }

  std::vector<Table> tables() {
    std::vector<Table> found;
    for (size_t i = 0; i < rows_.size(); ++i) {
      if (used_[i] || rows_[i].pieces.size() < 2 || rows_[i].leader) continue;
      RunOfRows run = grown_from(i);
      if (!is_table(run)) continue;
      add_head(i, run);
      for (const Row& row : run.rows) {
        for (size_t line : row.lines) used_line_[line] = true;
      }
      for (size_t k = 0; k < rows_.size(); ++k) used_[k] = used_line_[rows_[k].lines.front()];
      found.push_back(table_of(run));
    }
    return found;
  }

  const std::vector<bool>& lines_used() const { return used_line_; }

 private:
  // Tries to read a row that comes too near its neighbours as one that keeps to the stripes.
  bool fit_into(const std::vector<Span>& stripes, Row& row) const {
    if (stripes.size() < kFewestStripes || row.leader) return false;
    std::vector<Piece> pieces = cut_at(stripes, row.words, h_);
    if (pieces.size() < stripes.size() + 1) return false;
    row.pieces = std::move(pieces);
    return true;
  }

  // A row on the level of the last one, in columns that the last one leaves empty, is part of it.
  bool completes(const RunOfRows& run, const Row& row) const {
    const Row& last = run.rows.back();
    if (row.box.centre().y - last.box.centre().y > kOneLevel * h_ || crossed(run.stripes, row) > 0)
      return false;
    return std::none_of(row.pieces.begin(), row.pieces.end(), [&](const Piece& p) {
      return std::any_of(last.pieces.begin(), last.pieces.end(),
                         [&](const Piece& q) { return column_of(run, p) == column_of(run, q); });
    });
  }

  RunOfRows grown_from(size_t first) const {
    RunOfRows run;
    run.rows = {rows_[first]};
    run.stripes = gaps_of(rows_[first]);
    run.box = rows_[first].box;
    for (size_t k = first + 1; k < rows_.size(); ++k) {
      Row row = rows_[k];
      const double step = row.box.centre().y - run.rows.back().box.centre().y;
      if (step > kMostPitch * h_) break;
      const double shared = overlap(row.box.x0, row.box.x1, run.box.x0, run.box.x1);
      if (used_[k] || shared < 0.3 * row.box.width()) continue;
      if (completes(run, row)) {
        Row& last = run.rows.back();
        last.pieces.insert(last.pieces.end(), row.pieces.begin(), row.pieces.end());
        std::sort(last.pieces.begin(), last.pieces.end(),
                  [](const Piece& a, const Piece& b) { return a.span.from < b.span.from; });
        last.lines.insert(last.lines.end(), row.lines.begin(), row.lines.end());
        last.box = united(last.box, row.box);
        run.box = united(run.box, row.box);
        continue;
      }
      std::vector<Span> white = still_white(run.stripes, row, h_);
      if ((white.size() < run.stripes.size() || crossed(run.stripes, row) > 0) &&
          fit_into(run.stripes, row))
        white = run.stripes;
      const bool lone = row.pieces.size() == 1;
      const size_t wanted = lone ? run.stripes.size() : (run.stripes.size() * 3 + 4) / 5;
      if (row.leader || white.empty() || white.size() < wanted || crossed(run.stripes, row) > 0 ||
          (lone && step > kContinued * h_ && !next_completes(run, k))) {
        if (row.box.width() < kScrap * h_) continue;  // dirt between two rows
        if (run.rows.size() < 2 || row.leader || !goes_on_after(run, k)) break;
        row.pieces = cut_at(run.stripes, row.words, h_);
        white = run.stripes;
      }
      run.box = united(run.box, row.box);
      run.rows.push_back(std::move(row));
      run.stripes = white;
    }
    while (run.rows.size() > 1 && run.rows.back().pieces.size() == 1) {
      const Row& last = run.rows.back();
      const Row& before = run.rows[run.rows.size() - 2];
      if (last.box.x0 > run.stripes.front().from &&
          last.box.centre().y - before.box.centre().y < kContinued * h_)
        break;
      run.rows.pop_back();
    }
    run.box = {};
    for (const Row& row : run.rows) run.box = united(run.box, row.box);
    return run;
  }

  // A row with a blot or a crowded cell between rows that keep to the stripes.
  bool goes_on_after(const RunOfRows& run, size_t k) const {
    for (size_t next = k + 1; next < rows_.size(); ++next) {
      const Row& row = rows_[next];
      const double step = row.box.centre().y - rows_[k].box.centre().y;
      if (step > kMostPitch * h_) return false;
      if (used_[next] || step < kOneLevel * h_ || row.pieces.size() < 2) continue;
      return crossed(run.stripes, row) == 0 &&
             still_white(run.stripes, row, h_).size() >= run.stripes.size();
    }
    return false;
  }

  // A lone piece far below may be the first of a row whose others come next.
  bool next_completes(const RunOfRows& run, size_t k) const {
    RunOfRows longer;
    longer.rows = {rows_[k]};
    longer.stripes = run.stripes;
    return k + 1 < rows_.size() && !used_[k + 1] && completes(longer, rows_[k + 1]);
  }

  int column_of(const RunOfRows& run, const Piece& piece) const {
    const double centre = (piece.span.from + piece.span.to) / 2;
    int column = 0;
    for (const Span& s : run.stripes) column += centre > (s.from + s.to) / 2;
    return column;
  }

  bool is_table(const RunOfRows& run) const {
    const int columns = static_cast<int>(run.stripes.size()) + 1;
    int full = 0;
    std::vector<double> widest(static_cast<size_t>(columns)), sum(widest), count(widest);
    for (const Row& row : run.rows) {
      full += row.pieces.size() >= 2;
      for (const Piece& p : row.pieces) {
        const auto c = static_cast<size_t>(column_of(run, p));
        widest[c] = std::max(widest[c], p.span.width());
        sum[c] += p.span.width();
        ++count[c];
      }
    }
    double letters = 0, pieces = 0;
    for (const Row& row : run.rows) {
      pieces += static_cast<double>(row.pieces.size());
      for (const Piece& p : row.pieces) letters += static_cast<double>(p.letters.size());
    }
    // Lines of text on their side make columns of single letters.
    if (columns > kManyColumns && letters < kFewestLetters * pieces) return false;
    int prose = 0;
    for (size_t c = 0; c < widest.size(); ++c) {
      prose += widest[c] > kProseWidth * h_ && count[c] > 2 &&
               sum[c] / count[c] > kProseFill * widest[c];
    }
    const bool framed = rules_beside(run);
    if (full < kFewestRows || prose >= 2) return false;
    // Loosely set lines of a paragraph may have white above white, but are full of text.
    if (!framed && filled(run) > kMostFilled) return false;
    const auto mean = [&](size_t c) { return sum[c] / std::max(1.0, count[c]); };
    const bool both_wide = columns == 2 && std::min(mean(0), mean(1)) > kBothWide * h_;
    if (both_wide) return false;
    if (columns > 2 || framed) return true;
    const bool items = widest[0] < kNumbering * h_ && widest[1] > kProseWidth * h_;
    return full >= kFewestRowsOfTwo && prose == 0 && !items;
  }

  // Mean share of the rows' width that is print.
  static double filled(const RunOfRows& run) {
    double sum = 0;
    for (const Row& row : run.rows) {
      double print = 0;
      for (const Piece& p : row.pieces) print += p.span.width();
      sum += print / std::max(1.0, row.box.width());
    }
    return sum / static_cast<double>(run.rows.size());
  }

  // Level rules that reach over most of the rows' width right above, between or below them.
  bool rules_beside(const RunOfRows& run) const {
    int count = 0;
    for (const Component& c : rules_) {
      const double y = (c.y0 + c.y1) / 2.0;
      count += c.width() > c.height() && y > run.box.y0 - 2.5 * h_ && y < run.box.y1 + 2.5 * h_ &&
               overlap(c.x0, c.x1, run.box.x0, run.box.x1) > 0.7 * run.box.width();
    }
    return count >= 2;
  }

  // Rows right above whose pieces stand over one or several whole columns.
  void add_head(size_t first, RunOfRows& run) const {
    for (size_t k = first; k-- > 0;) {
      Row row = rows_[k];
      const double step = run.rows.front().box.centre().y - row.box.centre().y;
      if (step > kHeadPitch * h_) return;
      if (overlap(row.box.x0, row.box.x1, run.box.x0, run.box.x1) < 0.3 * row.box.width()) continue;
      fit_into(run.stripes, row);
      if (used_[k] || row.leader || row.pieces.size() < 2 || row.box.x0 < run.box.x0 - h_ ||
          row.box.x1 > run.box.x1 + h_)
        return;
      run.box = united(run.box, row.box);
      run.rows.insert(run.rows.begin(), std::move(row));
    }
  }

  // Rows of the table above its first inner rule are its head.
  int head_rows(const RunOfRows& run, const std::vector<int>& row_numbers) const {
    double first = 1e18;
    for (const Component& c : rules_) {
      const double y = (c.y0 + c.y1) / 2.0;
      if (c.width() > c.height() && y > run.rows.front().box.y1 && y < run.box.y1 &&
          overlap(c.x0, c.x1, run.box.x0, run.box.x1) > 0.6 * run.box.width())
        first = std::min(first, y);
    }
    int head = 0;
    for (size_t i = 0; i < run.rows.size(); ++i) {
      if (run.rows[i].box.centre().y < first) head = row_numbers[i] + 1;
    }
    return first < 1e18 && head <= 3 ? head : 0;
  }

  Table table_of(const RunOfRows& run) const {
    // A lone piece close below another row goes on a cell of it.
    std::vector<int> number;
    int at = -1;
    for (size_t i = 0; i < run.rows.size(); ++i) {
      const Row& row = run.rows[i];
      const bool goes_on = i > 0 && row.pieces.size() == 1 && column_of(run, row.pieces[0]) > 0 &&
                           row.box.centre().y - run.rows[i - 1].box.centre().y < kContinued * h_;
      at += !goes_on;
      number.push_back(at);
    }
    const int head = head_rows(run, number);
    Table table;
    table.box = run.box;
    for (size_t i = 0; i < run.rows.size(); ++i) {
      for (const Piece& piece : run.rows[i].pieces) add_piece(run, piece, number[i], table);
    }
    for (Cell& cell : table.cells) cell.header = cell.row < head;
    place_cells(run, table);
    return table;
  }

  void add_piece(const RunOfRows& run, const Piece& piece, int row, Table& table) const {
    int first = 0, last = 0;
    for (const Span& s : run.stripes) {
      const bool covered = piece.span.from < s.from && piece.span.to > s.to;
      const bool left = (s.from + s.to) / 2 < (piece.span.from + piece.span.to) / 2;
      first += left && !covered;
      last += left || covered;
    }
    LetterLine line;
    line.letters = piece.letters;
    line.marks = piece.marks;
    if (line.letters.empty()) line.letters.swap(line.marks);
    for (const auto* parts : {&line.letters, &line.marks}) {
      for (const Component& c : *parts) line.box = united(line.box, c.box());
    }
    const int index = static_cast<int>(table.lines.size());
    auto same = std::find_if(table.cells.begin(), table.cells.end(), [&](const Cell& c) {
      return c.row == row && c.column <= last && c.column + c.columns > first;
    });
    if (same == table.cells.end()) {
      Cell cell;
      cell.row = row;
      cell.column = first;
      cell.columns = last - first + 1;
      table.cells.push_back(cell);
      same = table.cells.end() - 1;
    }
    same->lines.push_back(index);
    table.lines.push_back(std::move(line));
  }

  // Cells get the room up to the middle of the white around them.
  void place_cells(const RunOfRows& run, Table& table) const {
    const int rows = table.cells.back().row + 1;
    std::vector<double> top(static_cast<size_t>(rows), 1e18), bottom(static_cast<size_t>(rows), 0);
    for (const Cell& cell : table.cells) {
      for (int l : cell.lines) {
        const Box& box = table.lines[static_cast<size_t>(l)].box;
        top[static_cast<size_t>(cell.row)] = std::min(top[static_cast<size_t>(cell.row)], box.y0);
        bottom[static_cast<size_t>(cell.row)] =
            std::max(bottom[static_cast<size_t>(cell.row)], box.y1);
      }
    }
    const auto x = [&](int line) {
      if (line == 0) return table.box.x0;
      if (line > static_cast<int>(run.stripes.size())) return table.box.x1;
      const Span& s = run.stripes[static_cast<size_t>(line - 1)];
      return (s.from + s.to) / 2;
    };
    const auto y = [&](int line) {
      if (line == 0) return table.box.y0;
      if (line == rows) return table.box.y1;
      return (bottom[static_cast<size_t>(line - 1)] + top[static_cast<size_t>(line)]) / 2;
    };
    for (Cell& cell : table.cells)
      cell.box = {x(cell.column), y(cell.row), x(cell.column + cell.columns), y(cell.row + 1)};
  }

  const std::vector<Component>& rules_;
  double h_;
  std::vector<Row> rows_;   // from the top down
  std::vector<bool> used_;  // by rows
  std::vector<bool> used_line_;
};

}  // namespace

std::vector<Table> white_tables(const std::vector<Component>& rules,
                                const std::vector<Component>& marks, double text_height,
                                std::vector<LetterLine>& lines) {
  Search search(rules, marks, text_height, lines);
  std::vector<Table> tables = search.tables();
  const std::vector<bool> used = search.lines_used();
  std::vector<LetterLine> rest;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (!used[i]) rest.push_back(std::move(lines[i]));
  }
  lines = std::move(rest);
  return tables;
}

}  // namespace burnisher::layout
