#include "layout/blocks.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "layout/outlines.h"

namespace burnisher::layout {
namespace {

constexpr double kMostPitch = 1.45;  // of the usual pitch: a wider step starts a new block
constexpr double kMostUnlike = 1.3;  // ratio of x-heights within a block
constexpr double kBolder = 1.3;      // ratio of stroke to x-height: another weight of type
constexpr size_t kWeighable = 6;     // letters
constexpr size_t kFewestLabels = 3, kLabelLines = 2;
constexpr double kLabelWidth = 0.5;  // of the entries' width
constexpr double kSameLine = 0.5;    // x-heights between baselines
constexpr double kUnder = 0.25;      // of the narrower line's width: one stands below the other
// Of the border map, along the white between two lines: where there is more of it than usual, and
// where there is not.
constexpr double kBorderSeen = 0.6, kBorderSure = 0.85;
constexpr double kMoreWhite = 1.08;  // of the usual pitch
constexpr double kUsualPitch = 2.7;  // x-heights, when a page has too few lines to tell

double baseline_of(const LetterLine& line) {
  return (line.baseline.front().y + line.baseline.back().y) / 2;
}

// For every line the next one below it in its column, or -1.
std::vector<int> lines_below(const std::vector<LetterLine>& lines) {
  std::vector<int> below(lines.size(), -1);
  for (size_t i = 0; i < lines.size(); ++i) {
    double nearest = 1e18;
    for (size_t k = 0; k < lines.size(); ++k) {
      const Box &a = lines[i].box, &b = lines[k].box;
      const double step = baseline_of(lines[k]) - baseline_of(lines[i]);
      const double shared = overlap(a.x0, a.x1, b.x0, b.x1);
      if (k == i || step < 0.8 * lines[i].x_height ||
          shared < kUnder * std::min(a.width(), b.width()))
        continue;
      if (step < nearest) {
        nearest = step;
        below[i] = static_cast<int>(k);
      }
    }
  }
  return below;
}

// Whether another line stands on the level of the next one below this line, and below it, too: a
// head over columns, which is part of none of them.
bool parts_below(const std::vector<LetterLine>& lines, size_t line, size_t next) {
  const Box& head = lines[line].box;
  for (size_t k = 0; k < lines.size(); ++k) {
    const Box& b = lines[k].box;
    if (k != line && k != next &&
        std::abs(baseline_of(lines[k]) - baseline_of(lines[next])) <
            kSameLine * lines[next].x_height &&
        overlap(head.x0, head.x1, b.x0, b.x1) >= kUnder * std::min(head.width(), b.width()))
      return true;
  }
  return false;
}

double usual_pitch(const std::vector<LetterLine>& lines, const std::vector<int>& below) {
  std::vector<double> steps;
  for (size_t i = 0; i < lines.size(); ++i) {
    if (below[i] < 0) continue;
    const LetterLine& next = lines[static_cast<size_t>(below[i])];
    const double step = (baseline_of(next) - baseline_of(lines[i])) / lines[i].x_height;
    if (step < 6) steps.push_back(step);
  }
  if (steps.size() < 3) return kUsualPitch;
  auto middle = steps.begin() + static_cast<long>(steps.size() * 4 / 10);
  std::nth_element(steps.begin(), middle, steps.end());
  return *middle;
}

bool same_weight(const LetterLine& a, const LetterLine& b) {
  if (a.letters.size() < kWeighable || b.letters.size() < kWeighable) return true;
  const double p = a.stroke / a.x_height, q = b.stroke / b.x_height;
  return std::max(p, q) < kBolder * std::min(p, q);
}

Line page_line(const LetterLine& from) {
  Line line;
  line.baseline = from.baseline;
  line.x_height = from.x_height;
  line.stroke = from.stroke;
  line.box = from.box;
  line.outline = outline_of(from);
  return line;
}

// How much of a border the network sees between a line and the next one below it.
double border_between(const LetterLine& above, const LetterLine& below, const PageMaps& maps) {
  const Box strip{std::max(above.box.x0, below.box.x0), baseline_of(above),
                  std::min(above.box.x1, below.box.x1), baseline_of(below) - below.x_height};
  return strip.empty() ? 0 : maps.level_ridge(kBorderMap, strip);
}

double baseline_of(const Line& line) {
  return (line.baseline.front().y + line.baseline.back().y) / 2;
}

Box box_of(const Block& block) {
  Box box;
  for (const Line& line : block.lines) box = united(box, line.box);
  return box;
}

// Lines of a block that have a label of their own at the left: one of a column of short ones.
std::vector<size_t> labelled_lines(const Block& block, const std::vector<Block>& all) {
  const Box box = box_of(block);
  std::vector<size_t> labelled;
  for (size_t i = 0; i < block.lines.size(); ++i) {
    const Line& line = block.lines[i];
    const bool found = std::any_of(all.begin(), all.end(), [&](const Block& other) {
      const Box beside = box_of(other);
      return other.lines.size() <= kLabelLines && beside.x1 < box.x0 &&
             beside.width() < kLabelWidth * box.width() &&
             std::abs(baseline_of(other.lines.front()) - baseline_of(line)) <
                 kSameLine * line.x_height;
    });
    if (found) labelled.push_back(i);
  }
  return labelled;
}

// Where a column of labels stands beside a block, each label begins an entry.
void cut_into_entries(std::vector<Block>& blocks) {
  std::vector<Block> cut;
  for (const Block& block : blocks) {
    std::vector<size_t> starts = labelled_lines(block, blocks);
    if (starts.size() < kFewestLabels || starts.size() == block.lines.size()) {
      cut.push_back(block);
      continue;
    }
    if (starts.front() > 0) starts.insert(starts.begin(), 0);
    starts.push_back(block.lines.size());
    for (size_t i = 0; i + 1 < starts.size(); ++i) {
      Block entry;
      entry.lines.assign(block.lines.begin() + static_cast<long>(starts[i]),
                         block.lines.begin() + static_cast<long>(starts[i + 1]));
      cut.push_back(std::move(entry));
    }
  }
  blocks = std::move(cut);
}

}  // namespace

std::vector<Block> blocks_of(const std::vector<LetterLine>& lines, const PageMaps& maps,
                             double text_height) {
  const std::vector<int> below = lines_below(lines);
  const double pitch = usual_pitch(lines, below);
  std::vector<int> above(lines.size(), 0);  // how many call this line their next one
  for (int b : below) {
    if (b >= 0) ++above[static_cast<size_t>(b)];
  }
  std::vector<int> block_of(lines.size(), -1);
  std::vector<size_t> order(lines.size());
  std::iota(order.begin(), order.end(), size_t{0});
  std::sort(order.begin(), order.end(),
            [&](size_t a, size_t b) { return baseline_of(lines[a]) < baseline_of(lines[b]); });
  std::vector<Block> blocks;
  for (size_t i : order) {
    if (block_of[i] < 0) {
      block_of[i] = static_cast<int>(blocks.size());
      blocks.emplace_back();
    }
    blocks[static_cast<size_t>(block_of[i])].lines.push_back(page_line(lines[i]));
    if (below[i] < 0) continue;
    const size_t next = static_cast<size_t>(below[i]);
    const double larger = std::max(lines[i].x_height, lines[next].x_height);
    const double smaller = std::min(lines[i].x_height, lines[next].x_height);
    const double step = (baseline_of(lines[next]) - baseline_of(lines[i])) / larger;
    // Rows of a contents page look like a table's, but are lines of one list.
    const bool list = lines[i].has_leader && lines[next].has_leader;
    const bool even = step < kMostPitch * pitch && larger < kMostUnlike * smaller &&
                      same_weight(lines[i], lines[next]) &&
                      (list || border_between(lines[i], lines[next], maps) <
                                   (step > kMoreWhite * pitch ? kBorderSeen : kBorderSure));
    if (even && above[next] == 1 && block_of[next] < 0 && !parts_below(lines, i, next))
      block_of[next] = block_of[i];
  }
  cut_into_entries(blocks);
  for (Block& block : blocks) {
    const Box box = box_of(block);
    const double margin = 0.2 * text_height;
    block.outline =
        Box{box.x0 - margin, box.y0 - margin, box.x1 + margin, box.y1 + margin}.corners();
  }
  return blocks;
}

Block table_block(const Table& table, double text_height) {
  Block block;
  block.kind = BlockKind::kTable;
  block.cells = table.cells;
  for (const LetterLine& line : table.lines) block.lines.push_back(page_line(line));
  const double margin = 0.2 * text_height;
  block.outline = Box{table.box.x0 - margin, table.box.y0 - margin, table.box.x1 + margin,
                      table.box.y1 + margin}
                      .corners();
  return block;
}

}  // namespace burnisher::layout
