#include "jbig2/shapes.h"

#include <algorithm>

#include "base/multiversion.h"
#include "raster/components.h"

namespace burnisher::jbig2 {
namespace {

// Largest size of a shape, as a share of the page's shorter side: a 60-point letter on A4.
constexpr double kLargest = 0.08;
constexpr int kLargestPixels = 400;  // either way; larger components share nothing
constexpr int kLeastInk = 24;  // pixels; smaller specks cost less where they are (8 to 24 tried)

// Word `word` of row `y` moved right by `dx` pixels; what lies outside is empty.
BURNISHER_INLINE uint64_t moved_word(const Shape& shape, int y, int word, int dx) {
  if (y < 0 || y >= shape.height) return 0;
  const uint64_t* row = shape.rows.data() + static_cast<size_t>(y) * shape.words;
  const auto at = [&](int i) { return i < 0 || i >= shape.words ? uint64_t{0} : row[i]; };
  const int start = 64 * word - dx;  // the pixel of `shape` that comes first
  const int first = start >= 0 ? start / 64 : -((-start + 63) / 64);
  const int shift = start - 64 * first;
  return shift == 0 ? at(first) : at(first) << shift | at(first + 1) >> (64 - shift);
}

// The same where rows are one word: whichever lies further right is moved.
BURNISHER_INLINE int difference_of_words(const Shape& shape, const Shape& other, int dx, int dy,
                                         int limit) {
  const auto row = [](const Shape& s, int y, int by) {
    return y >= 0 && y < s.height ? s.rows[static_cast<size_t>(y)] >> by : uint64_t{0};
  };
  const int top = std::min(0, dy), bottom = std::max(shape.height, other.height + dy);
  int count = 0;
  for (int y = top; y < bottom && count <= limit; ++y) {
    count +=
        __builtin_popcountll(row(shape, y, std::max(0, -dx)) ^ row(other, y - dy, std::max(0, dx)));
  }
  return count;
}

}  // namespace

Parted parted(const Bitonal& page) {
  Parted result;
  const Components found = components_of(page);
  const int limit =
      std::min(kLargestPixels, static_cast<int>(kLargest * std::min(page.width(), page.height())));
  std::vector<int> place(found.list.size(), -1);
  std::vector<bool> taken(found.list.size());
  for (size_t i = 0; i < found.list.size(); ++i) {
    const Component& c = found.list[i];
    if (c.area < kLeastInk || c.width() > limit || c.height() > limit) continue;
    taken[i] = true;
    place[i] = static_cast<int>(result.shapes.size());
    result.shapes.push_back({Shape(c.width(), c.height()), c.x0, c.y0});
    result.shapes.back().shape.ink = c.area;
  }
  for (const Run& run : found.runs) {
    const int at = place[static_cast<size_t>(run.component)];
    if (at < 0) continue;
    Placed& placed = result.shapes[static_cast<size_t>(at)];
    for (int x = run.x0; x < run.x1; ++x) placed.shape.set(x - placed.x, run.y - placed.y);
  }
  result.rest = page.clone();
  erase(found, taken, result.rest);
  return result;
}

BURNISHER_MULTIVERSION int difference(const Shape& shape, const Shape& other, int dx, int dy,
                                      int limit) {
  constexpr int kWord = 64;  // bits
  if (shape.width + std::max(0, -dx) <= kWord && other.width + std::max(0, dx) <= kWord)
    return difference_of_words(shape, other, dx, dy, limit);
  int count = 0;
  // Rows and columns that either of them covers.
  const int top = std::min(0, dy), bottom = std::max(shape.height, other.height + dy);
  const int left = dx < 0 ? -1 : 0;
  const int right = (std::max(shape.width, other.width + dx) + 63) / 64;
  for (int y = top; y < bottom; ++y) {
    for (int w = left; w < right; ++w)
      count += __builtin_popcountll(moved_word(shape, y, w, 0) ^ moved_word(other, y - dy, w, dx));
    if (count > limit) return count;
  }
  return count;
}

}  // namespace burnisher::jbig2
