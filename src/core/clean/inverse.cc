#include "clean/inverse.h"

#include <algorithm>

#include "raster/components.h"

namespace burnisher::clean {
namespace {

constexpr double kLeastWidth = 4, kLeastHeight = 1.6;  // text heights
constexpr double kSolid = 0.5;                         // share of its box that is ink
constexpr double kLowest = 0.4, kHighest = 6;          // text heights of its letters
constexpr int kFewestLetters = 4;                      // holes like letters; fewer are a drawing's
constexpr double kInRows = 0.7;                        // share of the letters with one beside them
constexpr double kLeastShare = 0.03, kMostShare = 0.45;  // of the box that letters take

bool beside(const Component& a, const Component& b) {
  const double gap = std::max(a.x0, b.x0) - std::min(a.x1, b.x1);
  return gap < 1.5 * std::max(a.height(), b.height()) &&
         overlap(a.y0, a.y1, b.y0, b.y1) > 0.5 * std::min(a.height(), b.height());
}

// The letters among the holes of the block; none when they don't look like print.
std::vector<int> letters_of(const Components& holes, int width, int height, double text_height) {
  std::vector<int> letters;
  double area = 0;
  for (size_t i = 0; i < holes.list.size(); ++i) {
    const Component& c = holes.list[i];
    const bool inside = c.x0 > 0 && c.y0 > 0 && c.x1 < width && c.y1 < height;
    if (!inside || c.height() < kLowest * text_height || c.height() > kHighest * text_height ||
        c.width() > 4 * c.height())
      continue;
    letters.push_back(static_cast<int>(i));
    area += c.area;
  }
  const auto in_row = std::count_if(letters.begin(), letters.end(), [&](int i) {
    return std::any_of(letters.begin(), letters.end(), [&](int k) {
      return k != i &&
             beside(holes.list[static_cast<size_t>(i)], holes.list[static_cast<size_t>(k)]);
    });
  });
  const double share = area / (static_cast<double>(width) * height);
  const bool print = static_cast<int>(letters.size()) >= kFewestLetters &&
                     static_cast<double>(in_row) >= kInRows * static_cast<double>(letters.size()) &&
                     share > kLeastShare && share < kMostShare;
  if (!print) letters.clear();
  return letters;
}

}  // namespace

int turn_inverse_blocks(double text_height, Bitonal& ink) {
  if (text_height <= 0) return 0;
  const Components found = components_of(ink);
  int turned = 0;
  for (size_t i = 0; i < found.list.size(); ++i) {
    const Component& c = found.list[i];
    const int width = c.width(), height = c.height();
    if (width < kLeastWidth * text_height || height < kLeastHeight * text_height ||
        c.area < kSolid * width * height)
      continue;
    Bitonal block(width, height);
    for (const Run& run : found.runs) {
      if (run.component != static_cast<int>(i)) continue;
      for (int x = run.x0; x < run.x1; ++x) block.set_ink(x - c.x0, run.y - c.y0, true);
    }
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) block.set_ink(x, y, !block.ink(x, y));
    }
    const Components holes = components_of(block);
    const std::vector<int> letters = letters_of(holes, width, height, text_height);
    if (letters.empty()) continue;
    ++turned;
    // All holes but those that open to the outside: marks and dots belong to the letters.
    for (int y = c.y0; y < c.y1; ++y) {
      for (int x = c.x0; x < c.x1; ++x) ink.set_ink(x, y, false);
    }
    for (const Run& run : holes.runs) {
      const Component& hole = holes.list[static_cast<size_t>(run.component)];
      if (hole.x0 == 0 || hole.y0 == 0 || hole.x1 == width || hole.y1 == height) continue;
      for (int x = run.x0; x < run.x1; ++x) ink.set_ink(c.x0 + x, c.y0 + run.y, true);
    }
  }
  return turned;
}

}  // namespace burnisher::clean
