#include "clean/painting.h"

#include <algorithm>
#include <cmath>

namespace burnisher::clean {
namespace {

constexpr double kHoleMargin = 1.25;  // of a hole's radius, filled round it

// Fills discs of the page's picture with the paper around them.
template <typename Dense>
void fill_disc(Point centre, double radius, Dense& picture) {
  constexpr int n = Dense::channels;
  int sums[n] = {}, count = 0;
  for (int i = 0; i < 24; ++i) {
    const double angle = i * 0.2618;
    const int x = static_cast<int>(centre.x + 1.3 * radius * std::cos(angle)),
              y = static_cast<int>(centre.y + 1.3 * radius * std::sin(angle));
    if (x < 0 || y < 0 || x >= picture.width() || y >= picture.height()) continue;
    for (int c = 0; c < n; ++c) sums[c] += picture.row(y)[x * n + c];
    ++count;
  }
  if (count == 0) return;
  for (int y = std::max(0, static_cast<int>(centre.y - radius));
       y < std::min<double>(picture.height(), centre.y + radius); ++y) {
    for (int x = std::max(0, static_cast<int>(centre.x - radius));
         x < std::min<double>(picture.width(), centre.x + radius); ++x) {
      if (std::hypot(x + 0.5 - centre.x, y + 0.5 - centre.y) > radius) continue;
      for (int c = 0; c < n; ++c) picture.row(y)[x * n + c] = static_cast<uint8_t>(sums[c] / count);
    }
  }
}

void fill_disc(Point centre, double radius, Bitonal& picture) {
  for (int y = std::max(0, static_cast<int>(centre.y - radius));
       y < std::min<double>(picture.height(), centre.y + radius); ++y) {
    for (int x = std::max(0, static_cast<int>(centre.x - radius));
         x < std::min<double>(picture.width(), centre.x + radius); ++x) {
      if (std::hypot(x + 0.5 - centre.x, y + 0.5 - centre.y) <= radius)
        picture.set_ink(x, y, false);
    }
  }
}

}  // namespace

int fill_holes(const Measure& m, const PlaneMap& page_to_part, double dpi, Picture& picture) {
  const std::vector<Hole> holes = holes_of(m.small, dpi);
  for (const Hole& hole : holes) {
    const Point centre = page_to_part.back(hole.centre);
    std::visit([&](auto& p) { fill_disc(centre, kHoleMargin * hole.radius, p); }, picture);
  }
  return static_cast<int>(holes.size());
}

void take_out(const Bitonal& pixels, Bitonal& ink) {
  for (int y = 0; y < ink.height(); ++y) {
    for (int i = 0; i < ink.stride(); ++i)
      ink.row(y)[i] = static_cast<uint8_t>(ink.row(y)[i] & ~pixels.row(y)[i]);
  }
}

// Rules' pixels become paper: each takes the lightest grey a little way across.
void paint_over(const Bitonal& pixels, const PlaneMap& to_gray, double thickness, Gray& gray) {
  const int reach = std::max(2, static_cast<int>(thickness + 2));
  const Gray before = gray.clone();
  const auto lightest = [&](int x, int y) {
    uint8_t best = 0;
    // Where rules cross, only the diagonals lead to paper.
    for (const auto& [dx, dy] : {std::pair{0, reach},
                                 {0, -reach},
                                 {reach, 0},
                                 {-reach, 0},
                                 {reach, reach},
                                 {-reach, reach},
                                 {reach, -reach},
                                 {-reach, -reach}}) {
      const int u = std::clamp(x + dx, 0, gray.width() - 1),
                v = std::clamp(y + dy, 0, gray.height() - 1);
      best = std::max(best, before.row(v)[u]);
    }
    return best;
  };
  for (int y = 0; y < pixels.height(); ++y) {
    for (int k = 0; k < pixels.stride(); ++k) {
      if (pixels.row(y)[k] == 0) continue;
      for (int x = 8 * k; x < std::min(pixels.width(), 8 * k + 8); ++x) {
        if (!pixels.ink(x, y)) continue;
        const Point p = to_gray({x + 0.5, y + 0.5});
        const int cx = static_cast<int>(p.x), cy = static_cast<int>(p.y);
        // A pixel more all round: the rule's soft edge.
        for (int v = cy - 1; v <= cy + 1; ++v) {
          for (int u = cx - 1; u <= cx + 1; ++u) {
            if (u < 0 || v < 0 || u >= gray.width() || v >= gray.height()) continue;
            gray.row(v)[u] = std::max(gray.row(v)[u], lightest(u, v));
          }
        }
      }
    }
  }
}

// The pixels that lie in upright rules.
Bitonal upright_only(const Bitonal& pixels, const std::vector<Component>& rules) {
  Bitonal kept(pixels.width(), pixels.height());
  for (const Component& c : rules) {
    if (c.width() >= c.height()) continue;
    for (int y = std::max(0, c.y0 - 2); y < std::min(pixels.height(), c.y1 + 2); ++y) {
      for (int x = std::max(0, c.x0 - 2); x < std::min(pixels.width(), c.x1 + 2); ++x) {
        if (pixels.ink(x, y)) kept.set_ink(x, y, true);
      }
    }
  }
  return kept;
}

}  // namespace burnisher::clean
