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

// Runs of ink in one row.
void append_runs(const Bitonal& ink, int y, std::vector<Run>& runs) {
  const uint8_t* row = ink.row(y);
  int start = -1;
  for (int b = 0; b < ink.stride(); ++b) {
    const uint8_t byte = row[b];
    if (byte == 0 && start < 0) continue;
    if (byte == 0xff && start >= 0) continue;
    for (int i = 0; i < 8; ++i) {
      const bool on = (byte >> (7 - i)) & 1;
      if (on && start < 0) start = b * 8 + i;
      if (!on && start >= 0) {
        runs.push_back({y, start, b * 8 + i, 0});
        start = -1;
      }
    }
  }
  if (start >= 0) runs.push_back({y, start, ink.width(), 0});
}

}  // namespace

Components components_of(const Bitonal& ink) {
  Components found;
  std::vector<Run>& runs = found.runs;
  std::vector<int> parent;
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
