// What strokes make on a sheet: engravings, frames, handwriting, stamps.
#include <algorithm>
#include <cmath>

#include "compose/sheet.h"

namespace burnisher::compose {

// Light and shade by lines side by side, level, upright or slanting, more or less wavy, as woodcuts
// and steel engravings have them; some within a frame.
void Sheet::engraving(const Box& box) {
  const int x0 = static_cast<int>(box.x0), y0 = static_cast<int>(box.y0);
  const int w = static_cast<int>(box.width()), h = static_cast<int>(box.height());
  const double size = std::min(w, h);
  const FloatImage form = soft_noise(w, h, size * random_.uniform(0.06, 0.3), random_);
  const double pitch = std::max(3.0, size * std::exp(random_.uniform(-4.4, -2.9)));
  const double thick = pitch * random_.uniform(0.08, 0.25);
  const double wave = random_.chance(0.6) ? pitch * random_.uniform(0.1, 0.5) : 0;
  const double length = pitch * random_.uniform(2, 8), contrast = random_.uniform(0.05, 0.3);
  const double shade = random_.uniform(-0.3, 0.9);
  const int layers = random_.chance(0.3) ? 2 : 1;
  double heading = random_.chance(0.5) ? 0 : random_.uniform(0, 3.14159);
  for (int layer = 0; layer < layers; ++layer, heading += random_.uniform(0.6, 1.6)) {
    const Point along{std::cos(heading), std::sin(heading)}, across{-along.y, along.x};
    const Point middle{x0 + w / 2.0, y0 + h / 2.0};
    const double reach = std::hypot(w, h) / 2, step = std::max(1.0, thick);
    for (double off = -reach; off < reach; off += pitch) {
      double drift = 0;
      for (double at = -reach; at < reach; at += step) {
        if (random_.chance(step / length)) drift = wave * random_.normal();
        const Point p =
            middle + along * at + across * (off + drift * std::sin(at / length * 6.2832));
        const int x = static_cast<int>(p.x) - x0, y = static_cast<int>(p.y) - y0;
        if (x < 0 || y < 0 || x >= w || y >= h) continue;
        const double tone = shade + form.row(y)[x];
        if (tone < 0) continue;
        stroke(ink_, p, p, std::max(0.4, thick * (1 + contrast * tone)), 1);
      }
    }
  }
  if (random_.chance(0.5)) frame_of_strokes(box, std::max(0.6, thick));
}

void Sheet::frame_of_strokes(const Box& box, double radius) {
  const Polygon corners =
      Box{std::floor(box.x0), std::floor(box.y0), std::floor(box.x1) - 1, std::floor(box.y1) - 1}
          .corners();
  for (size_t side = 0; side < 4; ++side)
    stroke(ink_, corners[side], corners[(side + 1) % 4], radius, 1);
}

void Sheet::scribble(const Box& box, double thickness) {
  const float strength = static_cast<float>(random_.uniform(0.5, 1));
  const double size = box.height();
  Point p{box.x0, box.y0 + 0.6 * size};
  double phase = 0;
  const double slope = random_.uniform(-0.15, 0.05), pace = random_.uniform(0.1, 0.3);
  while (p.x < box.x1) {
    phase += random_.uniform(0.4, 0.9);
    const double swing = size * (random_.chance(0.15) ? 0.5 : 0.22);
    Point q{p.x + size * pace * random_.uniform(-0.2, 0.6),
            box.y0 + 0.6 * size + slope * (p.x - box.x0) + swing * std::sin(phase * 3.1)};
    stroke(tone_, p, q, thickness, strength);
    p = q;
    if (random_.chance(0.05)) p.x += size * 0.4;
  }
  page_.marks.push_back(box.corners());
}

void Sheet::stamp(const Box& box, double thickness) {
  const float strength = static_cast<float>(random_.uniform(0.35, 0.9));
  const Point centre = box.centre();
  Point before{};
  for (int i = 0; i <= 40; ++i) {
    const double a = i * 6.2832 / 40;
    const Point p{centre.x + box.width() / 2 * std::cos(a),
                  centre.y + box.height() / 2 * std::sin(a)};
    if (i > 0) stroke(tone_, before, p, thickness, strength);
    before = p;
  }
  const double inner = box.height() * 0.12;
  for (int row = -1; row <= 1; ++row) {
    for (double x = centre.x - box.width() * 0.3; x < centre.x + box.width() * 0.3; x += inner) {
      const double y = centre.y + row * box.height() * 0.2;
      stroke(tone_, {x, y - inner / 2}, {x + random_.uniform(-0.5, 0.5) * inner, y + inner / 2},
             thickness, strength);
    }
  }
  page_.marks.push_back(box.corners());
}

}  // namespace burnisher::compose
