#include "raster/components.h"

#include <algorithm>

namespace burnisher {
namespace {

int root_of(std::vector<int>& parent, int i) {
  while (parent[static_cast<size_t>(i)] != i) {
    int& up = parent[static_cast<size_t>(i)];
    up = parent[static_cast<size_t>(up)];
    i = up;
  }
  return i;
}

void join(std::vector<int>& parent, int a, int b) {
  a = root_of(parent, a);
  b = root_of(parent, b);
  if (a < b)
    parent[static_cast<size_t>(b)] = a;
  else
    parent[static_cast<size_t>(a)] = b;
}

// Eight bytes of a row from byte `b` on, the first pixel in the highest bit; paper beyond its end.
uint64_t pixels_from(const uint8_t* row, int b, int stride) {
  uint64_t word = 0;
  const int bytes = std::min(8, stride - b);
  for (int i = 0; i < 8; ++i) word = word << 8 | (i < bytes ? row[b + i] : 0);
  return word;
}

// Runs of ink in one row.
void append_runs(const Bitonal& ink, int y, std::vector<Run>& runs) {
  const uint8_t* row = ink.row(y);
  int start = -1;
  for (int b = 0; b < ink.stride(); b += 8) {
    const uint64_t word = pixels_from(row, b, ink.stride());
    // What is left of the word from pixel `at` on, as ink or, inside of a run, as paper.
    for (int at = 0; at < 64;) {
      const uint64_t left = (start < 0 ? word : ~word) << at;
      if (left == 0) break;
      at += __builtin_clzll(left);
      if (start < 0) {
        start = b * 8 + at;
      } else {
        runs.push_back({y, start, b * 8 + at, 0});
        start = -1;
      }
    }
  }
  if (start >= 0) runs.push_back({y, start, ink.width(), 0});
}

// Every run has one first pixel.
size_t count_runs(const Bitonal& ink) {
  size_t count = 0;
  for (int y = 0; y < ink.height(); ++y) {
    uint64_t last = 0;  // the pixel before the word
    for (int b = 0; b < ink.stride(); b += 8) {
      const uint64_t word = pixels_from(ink.row(y), b, ink.stride());
      count += static_cast<size_t>(__builtin_popcountll(word & ~(word >> 1 | last << 63)));
      last = word & 1;
    }
  }
  return count;
}

}  // namespace

Components components_of(const Bitonal& ink) {
  Components found;
  std::vector<Run>& runs = found.runs;
  std::vector<int> parent;
  const size_t count = count_runs(ink);
  runs.reserve(count);
  parent.reserve(count);
  size_t above = 0, above_end = 0;
  for (int y = 0; y < ink.height(); ++y) {
    const size_t first = runs.size();
    append_runs(ink, y, runs);
    for (size_t i = first; i < runs.size(); ++i) parent.push_back(static_cast<int>(i));
    size_t a = above;
    for (size_t i = first; i < runs.size(); ++i) {
      while (a < above_end && runs[a].x1 < runs[i].x0) ++a;
      // Corners touch, too: runs that end where the other starts are neighbours.
      for (size_t k = a; k < above_end && runs[k].x0 <= runs[i].x1; ++k) {
        join(parent, static_cast<int>(k), static_cast<int>(i));
      }
    }
    above = first;
    above_end = runs.size();
  }
  std::vector<int> number(runs.size(), -1);
  for (size_t i = 0; i < runs.size(); ++i) {
    const size_t root = static_cast<size_t>(root_of(parent, static_cast<int>(i)));
    if (number[root] < 0) {
      number[root] = static_cast<int>(found.list.size());
      found.list.push_back({runs[i].x0, runs[i].y, runs[i].x1, runs[i].y + 1, 0});
    }
    runs[i].component = number[root];
    Component& c = found.list[static_cast<size_t>(number[root])];
    c.x0 = std::min(c.x0, runs[i].x0);
    c.x1 = std::max(c.x1, runs[i].x1);
    c.y1 = std::max(c.y1, runs[i].y + 1);
    c.area += runs[i].x1 - runs[i].x0;
  }
  return found;
}

void erase(const Components& components, const std::vector<bool>& gone, Bitonal& ink) {
  for (const Run& run : components.runs) {
    if (!gone[static_cast<size_t>(run.component)]) continue;
    for (int x = run.x0; x < run.x1; ++x) ink.set_ink(x, run.y, false);
  }
}

}  // namespace burnisher
