#include "score/layout_score.h"

#include <algorithm>
#include <cmath>

namespace burnisher::score {
namespace {

constexpr int kSamples = 15;      // points along a line
constexpr double kCovered = 0.8;  // of them, from which on a line is covered
// Of a line's core, in x-heights above its baseline; a result line runs through a point when it
// lies between these heights over it.
constexpr double kMiddle = 0.5, kLeast = -0.25, kMost = 1.25;

struct FlatLine {
  const Line* line;
  const Block* block;
  const Cell* cell = nullptr;
  bool first_of_cell = false;
};

std::vector<FlatLine> flat(const Page& page) {
  std::vector<FlatLine> all;
  for (const Block& block : page.blocks) {
    const size_t start = all.size();
    for (const Line& line : block.lines) {
      if (line.baseline.size() > 1) all.push_back({&line, &block});
    }
    for (const Cell& cell : block.cells) {
      for (const int at : cell.lines) {
        for (size_t i = start; i < all.size(); ++i) {
          if (all[i].line != &block.lines[static_cast<size_t>(at)]) continue;
          all[i].cell = &cell;
          all[i].first_of_cell = at == cell.lines.front();
        }
      }
    }
  }
  return all;
}

double length_of(const Polyline& line) {
  double sum = 0;
  for (size_t i = 1; i < line.size(); ++i)
    sum += std::hypot(line[i].x - line[i - 1].x, line[i].y - line[i - 1].y);
  return sum;
}

// Evenly along the middle of the line's core.
std::vector<Point> samples_of(const Line& line) {
  std::vector<Point> points;
  const double step = length_of(line.baseline) / kSamples;
  double next = step / 2, passed = 0;
  for (size_t i = 1; i < line.baseline.size(); ++i) {
    const Point a = line.baseline[i - 1], d = line.baseline[i] - a;
    const double length = std::hypot(d.x, d.y);
    if (length <= 0) continue;
    for (; next <= passed + length && points.size() < kSamples; next += step) {
      const Point on = a + d * ((next - passed) / length);
      points.push_back(on + Point{d.y, -d.x} * (kMiddle * line.x_height / length));
    }
    passed += length;
  }
  return points;
}

// Whether the line, read along its baseline, runs through `p`.
bool runs_through(const Line& line, Point p) {
  const Box near = bounds(line.baseline);
  const double reach = 2 * line.x_height;
  if (p.x < near.x0 - reach || p.x > near.x1 + reach || p.y < near.y0 - reach ||
      p.y > near.y1 + reach)
    return false;
  for (size_t i = 1; i < line.baseline.size(); ++i) {
    const Point a = line.baseline[i - 1], d = line.baseline[i] - a;
    const double length = std::hypot(d.x, d.y);
    const double along = ((p.x - a.x) * d.x + (p.y - a.y) * d.y) / std::max(1e-9, length);
    const double slack = 0.5 * line.x_height;
    if (along < (i == 1 ? -slack : 0) ||
        along > length + (i + 1 == line.baseline.size() ? slack : 0))
      continue;
    const double over = ((p.x - a.x) * d.y - (p.y - a.y) * d.x) / std::max(1e-9, length);
    if (over >= kLeast * line.x_height && over <= kMost * line.x_height) return true;
  }
  return false;
}

double f1(int found, int there, int surplus) {
  const int sum = there + found + surplus;
  return sum > 0 ? 2.0 * found / sum : 1;
}

double share(int part, int whole) {
  return whole > 0 ? static_cast<double>(part) / whole : 1;
}

constexpr double kBendStep = 3;  // x-heights between points of a baseline in the scan

}  // namespace

void LayoutScore::add(const LayoutScore& more) {
  lines += more.lines;
  found += more.found;
  surplus += more.surplus;
  kinds += more.kinds;
  for (const auto& [pair, count] : more.mistaken) mistaken[pair] += count;
  neighbours += more.neighbours;
  in_order += more.in_order;
  cells += more.cells;
  cells_found += more.cells_found;
  cells_surplus += more.cells_surplus;
}

double LayoutScore::line_f1() const {
  return f1(found, lines, surplus);
}
double LayoutScore::kind_share() const {
  return share(kinds, found);
}
double LayoutScore::order_share() const {
  return share(in_order, neighbours);
}
double LayoutScore::cell_f1() const {
  return f1(cells_found, cells, cells_surplus);
}

LayoutScore score_layout(const Page& truth, const Page& result) {
  const std::vector<FlatLine> wanted = flat(truth), got = flat(result);
  LayoutScore score;
  std::vector<int> covers(got.size(), 0);  // truth lines that a result line covers
  std::vector<int> at(wanted.size(), -1);  // the result line that covers a truth line
  for (size_t i = 0; i < wanted.size(); ++i) {
    const std::vector<Point> points = samples_of(*wanted[i].line);
    for (size_t r = 0; r < got.size(); ++r) {
      const auto met = std::count_if(points.begin(), points.end(),
                                     [&](Point p) { return runs_through(*got[r].line, p); });
      if (static_cast<double>(met) < kCovered * static_cast<double>(points.size())) continue;
      ++covers[r];
      at[i] = static_cast<int>(r);
    }
  }
  int last = -1;
  for (size_t i = 0; i < wanted.size(); ++i) {
    ++score.lines;
    score.cells += wanted[i].first_of_cell;
    if (at[i] < 0 || covers[static_cast<size_t>(at[i])] != 1) continue;
    const FlatLine& line = got[static_cast<size_t>(at[i])];
    ++score.found;
    const BlockKind right = wanted[i].block->kind;
    if (line.block->kind == right)
      ++score.kinds;
    else
      ++score.mistaken[{right, line.block->kind}];
    if (last >= 0) {
      ++score.neighbours;
      score.in_order += at[i] > last;
    }
    last = at[i];
    score.cells_found += wanted[i].first_of_cell && line.cell != nullptr &&
                         line.cell->row == wanted[i].cell->row &&
                         line.cell->column == wanted[i].cell->column;
  }
  for (size_t r = 0; r < got.size(); ++r) {
    score.surplus += covers[r] == 0;
    score.cells_surplus += covers[r] == 0 && got[r].first_of_cell;
  }
  return score;
}

namespace {

// What is straight on the page may be bent in the scan.
Polyline bent(const Polyline& line, double step, const PlaneMap& map) {
  Polyline result;
  for (size_t i = 0; i < line.size(); ++i) {
    const Point from = line[i > 0 ? i - 1 : 0], to = line[i];
    const double length = std::hypot(to.x - from.x, to.y - from.y);
    const int pieces = std::max(1, static_cast<int>(length / std::max(1.0, step)));
    for (int k = 1; k <= pieces; ++k)
      result.push_back(map(from + (to - from) * (double(k) / pieces)));
  }
  return result;
}

}  // namespace

Page in_scan_frame(const Page& page) {
  Page out = page;
  const PlaneMap& map = page.geometry.to_scan;
  for (Block& block : out.blocks) {
    for (Point& p : block.outline) p = map(p);
    for (Line& line : block.lines) {
      if (!line.baseline.empty()) line.x_height *= map.scale(line.baseline.front());
      line.baseline =
          bent(line.baseline, map.displacement() ? kBendStep * line.x_height : 1e9, map);
      line.box = placed(line.box, page, Positions::kScan);
      for (Word& word : line.words) word.box = placed(word.box, page, Positions::kScan);
    }
    for (Cell& cell : block.cells) cell.box = placed(cell.box, page, Positions::kScan);
  }
  return out;
}

}  // namespace burnisher::score
