#include "testing/composed_page.h"

#include <algorithm>
#include <cmath>

#include "base/random.h"
#include "page/block_kind.h"

namespace burnisher::testing {
namespace {

constexpr int kWidth = 1654, kHeight = 2339;  // A4 at 200 dpi
constexpr double kXHeightShare = 0.459;       // of the em, Liberation Serif
constexpr double kCharacterShare = 0.43;      // mean advance, of the em
constexpr double kSafeShare = 0.5;            // the same of the widest lines

class Composer {
 public:
  explicit Composer(uint64_t seed)
      : random_(seed),
        out_{PrintedPage(kWidth, kHeight), {}, 0},
        size_(std::floor(random_.uniform(26, 36))),
        pitch_(size_ * random_.uniform(1.2, 1.45)) {
    out_.x_height = size_ * kXHeightShare;
  }

  ComposedPage take() { return std::move(out_); }
  double pitch() const { return pitch_; }
  double size() const { return size_; }
  Random& random() { return random_; }

  void line(const std::string& text, double x, double baseline, double size, BlockKind kind,
            int row = -1, int column = -1) {
    out_.page.print({text, x, baseline, size});
    const double width = static_cast<double>(text.size()) * kCharacterShare * size;
    out_.lines.push_back({kind, x, x + width, baseline, size, row, column});
  }

  // Lines of prose; returns the baseline after the last.
  double prose_block(int count, double x, double width, double baseline, double size,
                     BlockKind kind) {
    const double step = pitch_ * size / size_;
    const int characters = std::max(4, static_cast<int>(width / (kSafeShare * size)));
    const auto lines = prose(count + 60, characters);
    const auto first = static_cast<size_t>(random_.index(60));
    for (int i = 0; i < count; ++i) {
      line(lines[first + static_cast<size_t>(i)], x, baseline, size, kind);
      baseline += step;
    }
    return baseline;
  }

  void rule(double x0, double y0, double x1, double y1) { out_.page.rule(x0, y0, x1, y1, 3); }

  void picture(double x, double y, double width, double height) {
    for (int i = 0; i < 60; ++i) {
      out_.page.disc(x + random_.uniform(0.1, 0.9) * width, y + random_.uniform(0.1, 0.9) * height,
                     0.1 * std::min(width, height));
    }
  }

  void head_and_number() {
    line(std::to_string(2 + random_.index(300)), 790, 2230, size_, BlockKind::kPageNumber);
  }

 private:
  Random random_;
  ComposedPage out_;
  double size_, pitch_;
};

const char* const kTitles[] = {"The Lamp and its Keeper", "Relief in Winter", "Oil and Wicks",
                               "Stores of the Light",     "The North Tower",  "Signals by Night"};

std::string title(Random& random) {
  return kTitles[random.index(std::size(kTitles))];
}

void compose_book(Composer& c) {
  c.line("Skerrow Light Board", 640, 170, 0.95 * c.size(), BlockKind::kRunningHead);
  double y = 170 + 2.4 * c.pitch();
  const double left = 200, width = 1254;
  c.line(title(c.random()), left + 300, y, 1.5 * c.size(), BlockKind::kHeading);
  y = c.prose_block(8 + c.random().index(6), left, width, y + 2.4 * c.pitch(), c.size(),
                    BlockKind::kText);
  c.line(title(c.random()), left, y + c.pitch(), 1.28 * c.size(), BlockKind::kHeading);
  c.prose_block(9 + c.random().index(5), left, width, y + 3 * c.pitch(), c.size(),
                BlockKind::kText);
  c.prose_block(3, left, width, 2000, 0.75 * c.size(), BlockKind::kFootnote);
  c.head_and_number();
}

void compose_columns(Composer& c) {
  const int columns = 2 + c.random().index(2);
  const double left = 150, gap = 70, all = 1354, width = (all - gap * (columns - 1)) / columns;
  c.line("The Skerrow Courier and Tide Table", left + 100, 220, 2.1 * c.size(),
         BlockKind::kHeading);
  for (int k = 0; k < columns; ++k) {
    c.prose_block(22 + c.random().index(6), left + k * (width + gap), width, 380, 0.9 * c.size(),
                  BlockKind::kText);
  }
}

void compose_pictures(Composer& c) {
  const double left = 200, width = 1254;
  double y = c.prose_block(7, left, width, 220, c.size(), BlockKind::kText);
  const double top = y + 0.4 * c.pitch(), height = 430;
  c.picture(left + 200, top, 850, height);
  c.line("The tower from the landing", left + 320, top + height + 1.1 * c.pitch(), 0.85 * c.size(),
         BlockKind::kCaption);
  c.prose_block(12, left, width, top + height + 4 * c.pitch(), c.size(), BlockKind::kText);
  c.head_and_number();
}

double compose_cells(Composer& c, int rows, const std::vector<double>& xs, double y) {
  static const char* const kThings[] = {"Lamp oil", "Wicks", "Rope", "Coal", "Paint", "Flags"};
  for (int r = 0; r < rows; ++r) {
    for (size_t k = 0; k + 1 < xs.size(); ++k) {
      std::string text = k == 0 ? kThings[r % 6] : std::to_string(11 + c.random().index(980));
      if (r == 0) text = k == 0 ? "Stores" : "Qty";
      c.line(text, xs[k] + 14, y, c.size(), BlockKind::kTable, r, static_cast<int>(k));
    }
    y += 1.35 * c.pitch();
  }
  return y;
}

void compose_table(Composer& c, bool ruled) {
  const double left = 200, width = 1254;
  double y = c.prose_block(6, left, width, 220, c.size(), BlockKind::kText) + 2 * c.pitch();
  const int rows = 5 + c.random().index(6), columns = 3 + c.random().index(3);
  std::vector<double> xs;
  for (int k = 0; k <= columns; ++k) xs.push_back(left + width * k / columns);
  const double top = y - 0.95 * c.pitch();
  y = compose_cells(c, rows, xs, y);
  if (ruled) {
    for (double x : xs) c.rule(x, top, x, top + 1.35 * c.pitch() * rows);
    for (int r = 0; r <= rows; ++r) {
      const double at = top + 1.35 * c.pitch() * r;
      c.rule(left, at, left + width, at);
    }
  } else if (c.random().chance(0.5)) {
    c.rule(left, top, left + width, top);
    c.rule(left, top + 1.35 * c.pitch(), left + width, top + 1.35 * c.pitch());
    c.rule(left, top + 1.35 * c.pitch() * rows, left + width, top + 1.35 * c.pitch() * rows);
  }
  c.prose_block(8, left, width, y + 1.5 * c.pitch(), c.size(), BlockKind::kText);
}

void compose_notes(Composer& c) {
  const double left = 500, width = 950;
  c.prose_block(26, left, width, 260, c.size(), BlockKind::kText);
  c.prose_block(3, 130, 270, 260 + 5 * c.pitch(), 0.72 * c.size(), BlockKind::kMarginNote);
  c.prose_block(2, 130, 270, 260 + 15 * c.pitch(), 0.72 * c.size(), BlockKind::kMarginNote);
  c.head_and_number();
}

struct Result {
  const Line* line;
  const Block* block;
  const Cell* cell;
};

std::vector<Result> results_of(const Page& page) {
  std::vector<Result> results;
  for (const Block& block : page.blocks) {
    if (block.kind == BlockKind::kNoise) continue;
    for (size_t i = 0; i < block.lines.size(); ++i) {
      const Cell* home = nullptr;
      for (const Cell& cell : block.cells) {
        if (std::find(cell.lines.begin(), cell.lines.end(), static_cast<int>(i)) !=
            cell.lines.end())
          home = &cell;
      }
      results.push_back({&block.lines[i], &block, home});
    }
  }
  return results;
}

bool covers(const Line& line, const TrueLine& truth) {
  const double middle = truth.baseline - 0.25 * truth.size;
  return line.box.y0 < middle && line.box.y1 > middle &&
         overlap(line.box.x0, line.box.x1, truth.x0, truth.x1) > 0.3 * (truth.x1 - truth.x0);
}

}  // namespace

const char* name_of(Composition composition) {
  switch (composition) {
    case Composition::kBook:
      return "book page";
    case Composition::kColumns:
      return "columns";
    case Composition::kPictures:
      return "picture";
    case Composition::kRuledTable:
      return "ruled table";
    case Composition::kWhiteTable:
      return "table";
    case Composition::kNotes:
      break;
  }
  return "margin notes";
}

ComposedPage composed(Composition composition, uint64_t seed) {
  Composer composer(seed);
  switch (composition) {
    case Composition::kBook:
      compose_book(composer);
      break;
    case Composition::kColumns:
      compose_columns(composer);
      break;
    case Composition::kPictures:
      compose_pictures(composer);
      break;
    case Composition::kRuledTable:
      compose_table(composer, true);
      break;
    case Composition::kWhiteTable:
      compose_table(composer, false);
      break;
    case Composition::kNotes:
      compose_notes(composer);
      break;
  }
  return composer.take();
}

void LayoutScore::add(const LayoutScore& more) {
  lines += more.lines;
  found += more.found;
  surplus += more.surplus;
  kinds += more.kinds;
  in_order += more.in_order;
  neighbours += more.neighbours;
  cells += more.cells;
  cells_found += more.cells_found;
  cells_surplus += more.cells_surplus;
}

LayoutScore score(const ComposedPage& truth, const Page& page, std::vector<std::string>* confused) {
  LayoutScore score;
  const std::vector<Result> results = results_of(page);
  std::vector<int> taken(results.size(), 0);
  std::vector<int> at;  // result of every composed line, or -1
  for (const TrueLine& line : truth.lines) {
    int hits = 0, first = -1;
    for (size_t r = 0; r < results.size(); ++r) {
      if (!covers(*results[r].line, line)) continue;
      ++taken[r];
      ++hits;
      first = static_cast<int>(r);
    }
    at.push_back(hits == 1 ? first : -1);
  }
  for (size_t i = 0; i < truth.lines.size(); ++i) {
    const TrueLine& line = truth.lines[i];
    const bool found = at[i] >= 0 && taken[static_cast<size_t>(at[i])] == 1;
    const Result* result = found ? &results[static_cast<size_t>(at[i])] : nullptr;
    if (line.kind == BlockKind::kTable) {
      ++score.cells;
      score.cells_found += found && result->cell != nullptr && result->cell->row == line.row &&
                           result->cell->column == line.column;
      continue;
    }
    ++score.lines;
    score.found += found;
    score.kinds += found && result->block->kind == line.kind;
    if (found && result->block->kind != line.kind && confused != nullptr) {
      confused->push_back(std::string(burnisher::name_of(line.kind)) + ">" +
                          burnisher::name_of(result->block->kind));
    }
    if (i > 0 && at[i - 1] >= 0 && at[i] >= 0 && line.kind != BlockKind::kMarginNote &&
        truth.lines[i - 1].kind != BlockKind::kMarginNote) {
      ++score.neighbours;
      score.in_order += at[i - 1] < at[i];
    }
  }
  for (size_t r = 0; r < results.size(); ++r) {
    const bool cell = results[r].cell != nullptr;
    score.surplus += taken[r] == 0 && !cell;
    score.cells_surplus += taken[r] == 0 && cell;
  }
  return score;
}

}  // namespace burnisher::testing
