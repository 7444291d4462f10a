#include "compose/sheet.h"

#include <algorithm>
#include <cmath>

#include "base/unicode.h"

namespace burnisher::compose {
namespace {

constexpr double kPalePages = 0.08;  // share of pages with pale words in their text, as links are
constexpr double kDescent = 0.45, kAscent = 1.6;  // of a line's outline, x-heights

void darken(FloatImage& on, int x, int y, float strength) {
  if (x < 0 || y < 0 || x >= on.width() || y >= on.height()) return;
  float& to = on.row(y)[x];
  to = std::max(to, strength);
}

// The middle of a line's ink is told by its outline: a band round the baseline.
Polygon band(const Polyline& baseline, double x_height) {
  const Point a = baseline.front(), b = baseline.back();
  const double length = std::max(1e-6, std::hypot(b.x - a.x, b.y - a.y));
  const Point along = (b - a) * (1 / length), up{along.y, -along.x};
  return {a + up * (kAscent * x_height), b + up * (kAscent * x_height),
          b - up * (kDescent * x_height), a - up * (kDescent * x_height)};
}

void mirror_rows(FloatImage& picture) {
  for (int y = 0; y < picture.height(); ++y)
    std::reverse(picture.row(y), picture.row(y) + picture.width());
}

Box mirrored(const Box& box, double width) {
  return {width - box.x1, box.y0, width - box.x0, box.y1};
}

// Corners keep their order: the first two are the upper ones of an upright outline.
Polygon mirrored(Polygon outline, double width) {
  for (Point& p : outline) p.x = width - p.x;
  std::reverse(outline.begin(), outline.end());
  std::rotate(outline.begin(), outline.begin() + static_cast<long>(outline.size() / 2),
              outline.end());
  return outline;
}

void mirror_line(Line& line, double width) {
  for (Point& p : line.baseline) p.x = width - p.x;
  // An upright line runs the way it ran; a level one from left to right, whatever its script.
  const Point along = line.baseline.back() - line.baseline.front();
  if (along.x < 0 && std::abs(along.x) > std::abs(along.y))
    std::reverse(line.baseline.begin(), line.baseline.end());
  line.outline = mirrored(line.outline, width);
  line.box = mirrored(line.box, width);
  for (Word& word : line.words) word.box = mirrored(word.box, width);
}

void grow_outline(Block& block, const Polygon& outline) {
  Polygon all = block.outline;
  all.insert(all.end(), outline.begin(), outline.end());
  block.outline = bounds(all).corners();
}

}  // namespace

Font Font::sized(double factor) const {
  Font other = *this;
  other.style.x_height *= factor;
  other.pitch *= factor;
  return other;
}

Sheet::Sheet(int width, int height, const PageText& text, Random& random)
    : random_(random), text_(text), ink_(width, height), tone_(width, height) {
  page_.truth.width = width;
  page_.truth.height = height;
  page_.sheet = Box{0, 0, static_cast<double>(width), static_cast<double>(height)}.corners();
  Random apart = random;  // a page stays as it is but for its pale words
  apart.uniform();
  if (apart.chance(kPalePages)) pale_words_ = apart.uniform(0.03, 0.15);
  pale_ = apart.uniform(0.4, 0.7);
}

void Sheet::begin(BlockKind kind, int level) {
  if (!page_.truth.blocks.empty() && block().lines.empty() && block().kind != BlockKind::kPicture)
    page_.truth.blocks.pop_back();  // nothing found room in it
  page_.truth.blocks.emplace_back();
  block().kind = kind;
  block().level = level;
}

Cell& Sheet::cell(int row, int column, size_t first_line, const Box& box) {
  Cell cell;
  cell.row = row;
  cell.column = column;
  cell.box = box;
  for (size_t i = first_line; i < block().lines.size(); ++i)
    cell.lines.push_back(static_cast<int>(i));
  block().cells.push_back(cell);
  return block().cells.back();
}

std::vector<Text> Sheet::words(int count) {
  std::vector<Text> out;
  while (static_cast<int>(out.size()) < count) {
    if (spare_.empty()) {
      const Text text = text_.words(200, random_);
      spare_.emplace_back();
      for (char32_t c : text) {
        if (c != U' ')
          spare_.back().push_back(c);
        else if (!spare_.back().empty())
          spare_.emplace_back();
      }
      if (spare_.back().empty()) spare_.pop_back();
      std::reverse(spare_.begin(), spare_.end());
      if (spare_.empty()) break;
    }
    out.push_back(std::move(spare_.back()));
    spare_.pop_back();
  }
  return out;
}

Text Sheet::cleaned(const Font& font, const Text& word) const {
  Text out;
  for (char32_t c : word) {
    if (font.face->has(c)) out.push_back(c);
  }
  return out;
}

SetLine Sheet::set(const Font& font, const Text& text) {
  return set_line({font.face, nullptr}, text, text_.right_to_left, font.style, random_);
}

double Sheet::width_of(const Font& font, const std::vector<Text>& words) {
  double width = 0;
  const double space = set(font, {U' '}).width;
  for (const Text& w : words) {
    width += set(font, cleaned(font, w)).width + space;
  }
  return std::max(0.0, width - space);
}

Box Sheet::line(const Font& font, const std::vector<Text>& words, double x, double baseline,
                Align align, double justified_to) {
  std::vector<SetLine> pieces;
  std::vector<Text> kept;
  double width = 0;
  for (const Text& w : words) {
    Text clean = cleaned(font, w);
    if (clean.empty()) continue;
    pieces.push_back(set(font, clean));
    Random apart = random_;
    if (pale_words_ > 0 && apart.chance(pale_words_)) {
      for (SetGlyph& glyph : pieces.back().glyphs) glyph.strength *= pale_;
    }
    width += pieces.back().width;
    kept.push_back(std::move(clean));
  }
  if (pieces.empty()) return {};
  const double gaps = static_cast<double>(pieces.size()) - 1;
  double space = set(font, {U' '}).width;
  if (justified_to > 0 && gaps > 0) space = (justified_to - width) / gaps;
  width += gaps * space;
  if (align == Align::kRight) x -= width;
  if (align == Align::kCentred) x -= width / 2;

  Line line;
  line.x_height = font.style.x_height;
  line.baseline = {{x, baseline}, {x + width, baseline}};
  line.outline = band(line.baseline, line.x_height);
  Box ink;
  for (size_t i = 0; i < pieces.size(); ++i) {
    const Box box = print_line(pieces[i], font.style, x, baseline, ink_, text_.right_to_left);
    x += pieces[i].width + space;
    if (box.empty()) continue;
    Word word;
    word.text = encode_utf8(kept[i]);
    word.box = box;
    line.words.push_back(std::move(word));
    ink = united(ink, box);
  }
  if (line.words.empty()) return {};
  line.box = ink;
  grow_outline(block(), line.outline);
  block().lines.push_back(std::move(line));
  return ink;
}

double Sheet::paragraph(const Font& font, const ParagraphStyle& style, const Box& column) {
  return paragraph(font, style, column, words(style.words));
}

double Sheet::paragraph(const Font& font, const ParagraphStyle& style, const Box& column,
                        const std::vector<Text>& words) {
  const double space = set(font, {U' '}).width;
  double y = column.y0 + kAscent * font.style.x_height;
  size_t next = 0;
  bool first = true;
  while (next < words.size() && y + kDescent * font.style.x_height <= column.y1) {
    double left = column.x0 + (first ? std::max(0.0, style.indent) : std::max(0.0, -style.indent));
    double right = column.x1;
    const Box& hole = style.hole;
    if (overlap(y - kAscent * font.style.x_height, y + kDescent * font.style.x_height, hole.y0,
                hole.y1) > 0) {
      if (hole.x0 - left > right - hole.x1)
        right = hole.x0;
      else
        left = std::max(left, hole.x1);
    }
    const double room = right - left;
    if (room < 6 * font.style.x_height) {  // too narrow beside the hole
      y += font.pitch;
      continue;
    }
    std::vector<Text> now;
    double width = 0;
    while (next < words.size()) {
      const double w = set(font, cleaned(font, words[next])).width;
      if (!now.empty() && width + space + w > room) break;
      width += (now.empty() ? 0 : space) + w;
      now.push_back(words[next++]);
      if (width > room) break;  // a word wider than its column stands alone and is cut below
    }
    if (width > room && now.size() == 1) {
      Text& word = now[0];
      word.resize(std::max<size_t>(
          1, static_cast<size_t>(static_cast<double>(word.size()) * room / width * 0.95)));
    }
    const bool last = next >= words.size();
    switch (style.align) {
      case Align::kJustified:
        line(font, now, left, y, Align::kLeft, last || now.size() < 2 ? 0 : room);
        break;
      case Align::kLeft:
        line(font, now, left, y);
        break;
      case Align::kRight:
        line(font, now, right, y, Align::kRight);
        break;
      case Align::kCentred:
        line(font, now, (left + right) / 2, y, Align::kCentred);
        break;
    }
    y += font.pitch;
    first = false;
  }
  return y - kAscent * font.style.x_height;
}

void Sheet::upright_line(const Font& font, const std::vector<Text>& words, double x, double y,
                         bool up) {
  // Set level on a slip of its own, which is then turned.
  const int length = static_cast<int>(width_of(font, words)) + 4;
  const int breadth = static_cast<int>(2.4 * font.style.x_height) + 2;
  FloatImage slip(length, breadth);
  Text all;
  for (const Text& w : words) {
    if (!all.empty()) all.push_back(U' ');
    const Text clean = cleaned(font, w);
    all.insert(all.end(), clean.begin(), clean.end());
  }
  const SetLine slip_text = set(font, all);
  const double at = 1.7 * font.style.x_height;
  print_line(slip_text, font.style, 2, at, slip);
  const int left = static_cast<int>(x), top = static_cast<int>(y);
  const auto place = [&](double along, double across) {
    if (text_.right_to_left) across = breadth - across;  // its own mirror image
    return up ? Point{left + across, top + length - along}
              : Point{left + breadth - across, top + along};
  };
  for (int v = 0; v < breadth; ++v) {
    for (int u = 0; u < length; ++u) {
      const Point p = place(u + 0.5, v + 0.5);
      darken(ink_, static_cast<int>(p.x), static_cast<int>(p.y), slip.row(v)[u]);
    }
  }
  Line line;
  line.x_height = font.style.x_height;
  line.baseline = {place(2, at), place(2 + slip_text.width, at)};
  line.outline = band(line.baseline, line.x_height);
  line.box = bounds(line.outline);
  Word word;
  word.text = encode_utf8(all);
  word.box = line.box;
  line.words.push_back(std::move(word));
  grow_outline(block(), line.outline);
  block().lines.push_back(std::move(line));
}

void Sheet::rule(Point from, Point to, double thickness, double gaps) {
  const double length = std::hypot(to.x - from.x, to.y - from.y);
  const Point along = (to - from) * (1 / std::max(1e-6, length)), across{-along.y, along.x};
  bool on = true;
  double until = 0;
  for (double at = 0; at < length; at += 0.5) {
    if (gaps > 0 && at >= until) {
      on = !random_.chance(gaps);
      until = at + random_.uniform(0.5, 3) * 10 * thickness;
    }
    if (!on) continue;
    for (double side = 0.25; side < thickness; side += 0.5) {
      const Point p = from + along * at + across * side;
      darken(ink_, static_cast<int>(p.x), static_cast<int>(p.y), 1.f);
    }
  }
  const Point w = across * thickness;
  page_.rules.push_back({from, to, to + w, from + w});
}

void Sheet::frame(const Box& b, double thickness, double gaps) {
  rule({b.x0, b.y0}, {b.x1, b.y0}, thickness, gaps);
  rule({b.x0, b.y1}, {b.x1, b.y1}, thickness, gaps);
  rule({b.x0, b.y0}, {b.x0, b.y1}, thickness, gaps);
  rule({b.x1, b.y0}, {b.x1, b.y1}, thickness, gaps);
}

void Sheet::dots(Point from, double to_x, double pitch, double radius) {
  for (double x = from.x; x < to_x; x += pitch) stroke(ink_, {x, from.y}, {x, from.y}, radius, 1);
}

void Sheet::stroke(FloatImage& on, Point a, Point b, double radius, float strength) const {
  const double length = std::hypot(b.x - a.x, b.y - a.y);
  const int steps = static_cast<int>(length / std::max(0.5, radius)) + 1;
  const int reach = static_cast<int>(radius + 1);
  for (int i = 0; i <= steps; ++i) {
    const Point c = a + (b - a) * (static_cast<double>(i) / steps);
    for (int y = static_cast<int>(c.y) - reach; y <= static_cast<int>(c.y) + reach; ++y) {
      for (int x = static_cast<int>(c.x) - reach; x <= static_cast<int>(c.x) + reach; ++x) {
        const double d = std::hypot(x + 0.5 - c.x, y + 0.5 - c.y);
        const double cover = std::clamp(radius + 0.5 - d, 0.0, 1.0);
        if (cover > 0) darken(on, x, y, static_cast<float>(cover * strength));
      }
    }
  }
}

void Sheet::picture(const Box& box) {
  begin(BlockKind::kPicture);
  block().outline = box.corners();
  const int x0 = std::max(0, static_cast<int>(box.x0)), y0 = std::max(0, static_cast<int>(box.y0));
  const int w = std::min(ink_.width() - x0, static_cast<int>(box.width()));
  const int h = std::min(ink_.height() - y0, static_cast<int>(box.height()));
  if (w < 4 || h < 4) return;
  const double size = std::min(w, h);
  const double kind = random_.uniform();
  if (kind < 0.25) {
    engraving(box);
  } else if (kind < 0.7) {  // a photograph, smooth or screened into dots
    const FloatImage form = soft_noise(w, h, size * random_.uniform(0.05, 0.25), random_);
    const double screen = random_.chance(0.5) ? random_.uniform(2.5, 6) : 0;
    const float mean = static_cast<float>(random_.uniform(0.3, 0.7));
    const double turn = random_.uniform(0, 1.5);
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) {
        float v = std::clamp(mean + 0.22f * form.row(y)[x], 0.02f, 0.98f);
        if (screen > 0) {
          const double u = (x * std::cos(turn) + y * std::sin(turn)) * 6.2832 / screen;
          const double t = (y * std::cos(turn) - x * std::sin(turn)) * 6.2832 / screen;
          v = static_cast<float>(v + 0.25 * (std::cos(u) + std::cos(t))) > 0.5f ? 0.95f : 0.03f;
        }
        darken(tone_, x0 + x, y0 + y, v);
      }
    }
  } else {  // a drawing of lines, now and then with words, as maps and plans have them
    const double thin = std::max(0.5, size * random_.uniform(0.002, 0.006));
    const int strokes = 6 + random_.index(30);
    for (int i = 0; i < strokes; ++i) {
      Point p{x0 + random_.uniform(0, w), y0 + random_.uniform(0, h)};
      double heading = random_.uniform(0, 6.2832), bend = 0.15 * random_.normal();
      const int pieces = 4 + random_.index(20);
      for (int k = 0; k < pieces; ++k) {
        Point q{p.x + 0.04 * size * std::cos(heading), p.y + 0.04 * size * std::sin(heading)};
        q = {std::clamp(q.x, double(x0), double(x0 + w)),
             std::clamp(q.y, double(y0), double(y0 + h))};
        stroke(ink_, p, q, thin, 1);
        p = q;
        heading += bend;
      }
    }
    if (random_.chance(0.5))
      frame_of_strokes({double(x0), double(y0), double(x0 + w), double(y0 + h)}, thin);
  }
}

void Sheet::tint(const Box& box, double strength) {
  for (int y = static_cast<int>(box.y0); y < box.y1; ++y) {
    for (int x = static_cast<int>(box.x0); x < box.x1; ++x)
      darken(tone_, x, y, static_cast<float>(strength));
  }
}

void Sheet::reverse(const Box& box, double strength) {
  reversed_.push_back({box, static_cast<float>(strength)});
}

FloatImage Sheet::printed(double x_height, const ScanDamage& damage) {
  press(ink_, x_height, damage, random_);
  for (const ReversedBox& r : reversed_) {
    for (int y = std::max(0, int(r.box.y0)); y < std::min<double>(ink_.height(), r.box.y1); ++y) {
      for (int x = std::max(0, int(r.box.x0)); x < std::min<double>(ink_.width(), r.box.x1); ++x) {
        float& v = ink_.row(y)[x];
        v = r.strength * (1 - v);
      }
    }
  }
  for (size_t i = 0; i < ink_.samples().size(); ++i)
    ink_.samples()[i] = std::max(ink_.samples()[i], tone_.samples()[i]);
  if (!page_.truth.blocks.empty() && block().lines.empty() && block().kind != BlockKind::kPicture)
    page_.truth.blocks.pop_back();
  if (text_.right_to_left) mirror();
  return std::move(ink_);
}

Box Sheet::printed_place(const Box& box) const {
  return text_.right_to_left ? mirrored(box, ink_.width()) : box;
}

void Sheet::mirror() {
  const double width = ink_.width();
  mirror_rows(ink_);
  for (Block& block : page_.truth.blocks) {
    block.outline = mirrored(block.outline, width);
    for (Line& line : block.lines) mirror_line(line, width);
    for (Cell& cell : block.cells) cell.box = mirrored(cell.box, width);
  }
  for (std::vector<Polygon>* outlines : {&page_.rules, &page_.marks})
    for (Polygon& outline : *outlines) outline = mirrored(outline, width);
  page_.right_to_left = true;
}

}  // namespace burnisher::compose
