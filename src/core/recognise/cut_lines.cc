#include "recognise/cut_lines.h"

#include <algorithm>
#include <cmath>

namespace burnisher::recognise {
namespace {

constexpr double kWhole = 0.92;         // of the x-height that must be on the picture
constexpr double kAtFoot = 0.06;        // x-heights from the edge: a baseline there is the edge's
constexpr double kMostOf = 0.6;         // of a line's length
constexpr double kReadsClearly = 0.85;  // confidence: a line cropped to its very ink stays
constexpr int kPlaces = 24;             // along a line where it is looked at

bool on_picture(const Page& page, Point p) {
  if (p.x < 0 || p.y < 0 || p.x > page.width || p.y > page.height) return false;
  const Geometry& g = page.geometry;
  if (g.scan_width <= 0 || g.scan_height <= 0) return true;
  const Point s = g.to_scan(p);
  return s.x >= 0 && s.y >= 0 && s.x <= g.scan_width && s.y <= g.scan_height;
}

// The x-height of most text of the page (by length); 0: there is none.
double usual_x_height(const Page& page) {
  std::vector<std::pair<double, double>> sizes;
  double all = 0, below = 0;
  for (const Block& block : page.blocks) {
    for (const Line& line : block.lines) {
      sizes.emplace_back(line.x_height, line.box.width());
      all += line.box.width();
    }
  }
  std::sort(sizes.begin(), sizes.end());
  for (const auto& [size, width] : sizes)
    if ((below += width) >= all / 2) return size;
  return 0;
}

// `usual`: x-height of the page. What is left of a cut line looks smaller than it was set.
bool cut_along(const Page& page, Line line, double usual) {
  if (line.baseline.size() < 2 || line.x_height <= 0) return false;
  line.x_height = std::max(line.x_height, usual);
  const Point a = line.baseline.front(), b = line.baseline.back(), d = b - a;
  const double length = std::max(1e-9, std::hypot(d.x, d.y));
  const Point up = Point{d.y, -d.x} * (line.x_height / length);
  int seen = 0, cut = 0;
  for (int i = 0; i < kPlaces; ++i) {
    Point foot = a + d * ((i + 0.5) / kPlaces);
    if (!line.runs_up_or_down()) foot.y = height_at(line.baseline, foot.x);
    const bool middle = on_picture(page, foot + up * 0.5);
    const bool head = on_picture(page, foot + up * kWhole),
               below = on_picture(page, foot - up * kAtFoot);
    if (!middle && !head && !below) continue;  // it goes on beyond the side
    ++seen;
    cut += !head || !below;
  }
  return seen > 0 && cut > kMostOf * seen;
}

}  // namespace

int set_cut_lines_aside(Page& page) {
  std::vector<Block> blocks;
  int count = 0;
  const double usual = usual_x_height(page);
  for (Block& block : page.blocks) {
    if (block.kind == BlockKind::kTable || block.kind == BlockKind::kNoise || block.lines.empty()) {
      blocks.push_back(std::move(block));
      continue;
    }
    Block cut;
    cut.kind = BlockKind::kNoise;
    std::vector<Line> whole;
    for (Line& line : block.lines) {
      const bool aside = line.confidence < kReadsClearly && cut_along(page, line, usual);
      (aside ? cut.lines : whole).push_back(std::move(line));
    }
    count += static_cast<int>(cut.lines.size());
    const auto outline_of = [](const Block& of) {
      Box box;
      for (const Line& line : of.lines) box = united(box, line.box);
      return box.corners();
    };
    block.lines = std::move(whole);
    if (!cut.lines.empty()) {
      if (!block.lines.empty()) block.outline = outline_of(block);
      cut.outline = outline_of(cut);
    }
    if (!block.lines.empty()) blocks.push_back(std::move(block));
    if (!cut.lines.empty()) blocks.push_back(std::move(cut));
  }
  page.blocks = std::move(blocks);
  return count;
}

}  // namespace burnisher::recognise
