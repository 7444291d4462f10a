#include "compose/crop.h"

#include <algorithm>
#include <cmath>

#include "base/unicode.h"

namespace burnisher::compose {
namespace {

constexpr double kBeyond = 1;         // x-heights that lines go on beyond the picture
constexpr double kBandSeen = 0.9;     // of the band of a line that must be inside, along most of it
constexpr double kLeastShare = 0.06;  // of a letter that may be cut off without its being lost

// The part of a line between the sides of the picture, in the direction it runs.
Polyline clipped(const Polyline& whole, const Box& to) {
  // Places near enough to each other that some lie inside wherever the line does.
  const double step = 0.25 * std::min(to.x1 - to.x0, to.y1 - to.y0);
  Polyline line = {whole.front()};
  for (size_t i = 1; i < whole.size(); ++i) {
    const Point a = whole[i - 1], d = whole[i] - a;
    const int pieces = std::max(1, static_cast<int>(std::hypot(d.x, d.y) / step) + 1);
    for (int k = 1; k <= pieces; ++k) line.push_back(a + d * (static_cast<double>(k) / pieces));
  }
  Polyline out;
  for (const Point& p : line) {
    if (p.x >= to.x0 && p.x <= to.x1 && p.y >= to.y0 && p.y <= to.y1) out.push_back(p);
  }
  // Where it leaves, up to the side.
  const auto crossing = [&](Point in, Point beyond) {
    double t = 1;
    const Point d = beyond - in;
    if (d.x > 0) t = std::min(t, (to.x1 - in.x) / d.x);
    if (d.x < 0) t = std::min(t, (to.x0 - in.x) / d.x);
    if (d.y > 0) t = std::min(t, (to.y1 - in.y) / d.y);
    if (d.y < 0) t = std::min(t, (to.y0 - in.y) / d.y);
    return in + d * std::max(0.0, t);
  };
  if (out.empty()) return out;
  const auto same = [](Point a, Point b) { return a.x == b.x && a.y == b.y; };
  const auto first =
      std::find_if(line.begin(), line.end(), [&](Point p) { return same(p, out.front()); });
  if (first != line.begin()) out.insert(out.begin(), crossing(*first, *(first - 1)));
  const auto last =
      std::find_if(line.rbegin(), line.rend(), [&](Point p) { return same(p, out.back()); });
  if (last != line.rbegin() && last != line.rend()) out.push_back(crossing(*last, *(last - 1)));
  return out;
}

// Of the points along a line, the share whose band lies in the picture.
double band_seen(const Line& line, const Box& picture) {
  int inside = 0, all = 0;
  for (size_t i = 1; i < line.baseline.size(); ++i) {
    const Point a = line.baseline[i - 1], b = line.baseline[i], d = b - a;
    const double length = std::max(1e-9, std::hypot(d.x, d.y));
    const Point up = Point{d.y, -d.x} * (line.x_height / length);
    const int steps = std::max(1, static_cast<int>(length / std::max(1.0, line.x_height)));
    for (int k = 0; k < steps; ++k) {
      const Point foot = a + d * ((k + 0.5) / steps);
      const Point head = foot + up * 0.98;
      const bool foot_in = picture.contains(foot), head_in = picture.contains(head);
      if (!foot_in && !head_in) continue;  // beyond a side, not cut along its length
      ++all;
      inside += foot_in && head_in;
    }
  }
  return all > 0 ? static_cast<double>(inside) / all : 0;
}

// What remains of a word between the sides, its letters counted as equally wide.
bool cut_to(const Box& picture, Word& word) {
  const Box seen{std::max(word.box.x0, picture.x0), std::max(word.box.y0, picture.y0),
                 std::min(word.box.x1, picture.x1), std::min(word.box.y1, picture.y1)};
  if (seen.empty()) return false;
  const bool level = word.box.width() >= word.box.height();
  const double from = level ? word.box.x0 : word.box.y0,
               size = level ? word.box.width() : word.box.height();
  const std::u32string letters = [&] {
    const auto decoded = decode_utf8(word.text);
    return std::u32string(decoded.begin(), decoded.end());
  }();
  const double each = size / std::max<size_t>(1, letters.size());
  const double start = (level ? seen.x0 : seen.y0) - from, end = (level ? seen.x1 : seen.y1) - from;
  std::vector<char32_t> kept;
  for (size_t i = 0; i < letters.size(); ++i) {
    const double a = i * each, b = a + each;
    if (overlap(a, b, start, end) >= (1 - kLeastShare) * each) kept.push_back(letters[i]);
  }
  if (kept.empty()) return false;
  if (kept.size() < letters.size()) word.text = encode_utf8(kept);
  word.box = seen;
  return true;
}

}  // namespace

Box draw_window(const ComposedPage& page, double x_height, Random& random) {
  std::vector<const Line*> lines;
  for (const Block& block : page.truth.blocks) {
    for (const Line& line : block.lines) lines.push_back(&line);
  }
  if (lines.empty()) return {};
  const Line& line = *lines[static_cast<size_t>(random.index(static_cast<int>(lines.size())))];
  const double kind = random.uniform();
  const auto margin = [&](double least, double most) {
    return random.uniform(least, most) * x_height;
  };
  if (kind < 0.25 && !line.runs_up_or_down()) {  // one line or word, cropped close
    Box box = line.box;
    if (random.chance(0.5)) {
      const Word& word =
          line.words[static_cast<size_t>(random.index(static_cast<int>(line.words.size())))];
      box = {word.box.x0, line.box.y0, word.box.x1, line.box.y1};
      if (box.width() < 2 * x_height) box = line.box;
    }
    const double foot = line.baseline.front().y + 0.5 * line.x_height,
                 head = line.baseline.front().y - 1.7 * line.x_height;
    return {box.x0 - margin(0.1, 3), std::min(box.y0, head) - margin(0.05, 1),
            box.x1 + margin(0.1, 3), std::max(box.y1, foot) + margin(0.05, 1)};
  }
  const double width = std::exp(random.uniform(std::log(12.0), std::log(100.0))) * x_height;
  const double height = std::exp(random.uniform(std::log(5.0), std::log(60.0))) * x_height;
  const Point at = line.box.centre();
  Box box{at.x - width * random.uniform(), at.y - height * random.uniform(), 0, 0};
  box.x1 = box.x0 + width;
  box.y1 = box.y0 + height;
  if (random.chance(0.5)) {  // sides at the block's own
    Box block;
    for (const Block& b : page.truth.blocks) {
      for (const Line& l : b.lines)
        if (&l == &line) block = bounds(b.outline);
    }
    if (!block.empty()) {
      box.x0 = block.x0 - margin(0, 1.5);
      if (random.chance(0.7)) box.x1 = std::max(box.x0 + 8 * x_height, block.x1 + margin(0, 1.5));
      if (random.chance(0.4)) box.y0 = block.y0 - margin(0, 1.5);
      if (random.chance(0.4)) box.y1 = std::max(box.y0 + 5 * x_height, block.y1 + margin(0, 1.5));
    }
  }
  return box;
}

void keep_visible(ComposedPage& page) {
  const Box picture{0, 0, static_cast<double>(page.truth.width),
                    static_cast<double>(page.truth.height)};
  std::vector<Block> blocks;
  for (Block& block : page.truth.blocks) {
    Block kept = block;
    kept.lines.clear();
    kept.cells.clear();
    std::vector<int> place(block.lines.size(), -1);
    for (size_t i = 0; i < block.lines.size(); ++i) {
      Line line = block.lines[i];
      if (band_seen(line, picture) < kBandSeen) continue;
      std::vector<Word> words;
      for (Word& word : line.words)
        if (cut_to(picture, word)) words.push_back(std::move(word));
      const double more = kBeyond * line.x_height;
      line.baseline = clipped(line.baseline, {picture.x0 - more, picture.y0 - more,
                                              picture.x1 + more, picture.y1 + more});
      if (words.empty() || line.baseline.size() < 2) continue;
      line.words = std::move(words);
      line.box = {std::max(line.box.x0, picture.x0), std::max(line.box.y0, picture.y0),
                  std::min(line.box.x1, picture.x1), std::min(line.box.y1, picture.y1)};
      for (Point& p : line.outline)
        p = {std::clamp(p.x, picture.x0 - more, picture.x1 + more),
             std::clamp(p.y, picture.y0 - more, picture.y1 + more)};
      place[i] = static_cast<int>(kept.lines.size());
      kept.lines.push_back(std::move(line));
    }
    for (const Cell& cell : block.cells) {
      Cell seen = cell;
      seen.lines.clear();
      for (const int at : cell.lines)
        if (place[static_cast<size_t>(at)] >= 0)
          seen.lines.push_back(place[static_cast<size_t>(at)]);
      if (!seen.lines.empty()) kept.cells.push_back(std::move(seen));
    }
    for (Point& p : kept.outline)
      p = {std::clamp(p.x, picture.x0, picture.x1), std::clamp(p.y, picture.y0, picture.y1)};
    const Box left = bounds(kept.outline);
    if (kept.lines.empty() && (block.kind != BlockKind::kPicture || left.empty())) continue;
    blocks.push_back(std::move(kept));
  }
  // Rows and columns that are left are counted anew.
  for (Block& block : blocks) {
    int first_row = 1 << 30, first_column = 1 << 30;
    for (const Cell& cell : block.cells) {
      first_row = std::min(first_row, cell.row);
      first_column = std::min(first_column, cell.column);
    }
    for (Cell& cell : block.cells) {
      cell.row -= first_row;
      cell.column -= first_column;
    }
  }
  page.truth.blocks = std::move(blocks);
}

Shade draw_shade(Random& random) {
  Shade shade;
  if (random.chance(0.5)) return shade;
  double* const sides[] = {&shade.left, &shade.right, &shade.top, &shade.bottom};
  *sides[random.index(4)] = random.uniform(0.1, 0.65);
  if (random.chance(0.3)) *sides[random.index(4)] = random.uniform(0.1, 0.5);
  shade.reach = random.uniform(0.04, 0.6);
  if (random.chance(0.25)) shade.fold = random.uniform(1, 14);
  return shade;
}

void add_shade(const Shade& shade, FloatImage& seen) {
  const double w = seen.width(), h = seen.height();
  const double most = std::max({shade.left, shade.right, shade.top, shade.bottom});
  if (most <= 0) return;
  for (int y = 0; y < seen.height(); ++y) {
    for (int x = 0; x < seen.width(); ++x) {
      const auto dark = [&](double strength, double away, double size) {
        if (strength <= 0) return 0.0;
        if (strength == most && away < shade.fold) return 0.97;
        return strength * std::exp(-away / (shade.reach * size));
      };
      const double left_over = (1 - dark(shade.left, x, w)) *
                               (1 - dark(shade.right, w - 1 - x, w)) * (1 - dark(shade.top, y, h)) *
                               (1 - dark(shade.bottom, h - 1 - y, h));
      float& v = seen.row(y)[x];
      v = static_cast<float>(1 - (1 - v) * left_over);
    }
  }
}

}  // namespace burnisher::compose
