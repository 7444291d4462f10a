// Newspapers and magazines: stories side by side, boxes, pictures that text flows round.
#include <algorithm>

#include "compose/families.h"

namespace burnisher::compose {
namespace {

// A boxed advertisement or notice.
void set_box(Desk& desk, Sheet& sheet, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const Box inner{area.x0 + 1.5 * unit, area.y0 + 1.5 * unit, area.x1 - 1.5 * unit, area.y1 - unit};
  if (inner.width() < 8 * unit || inner.height() < 5 * unit) return;
  const double look = random.uniform();
  if (look < 0.6)
    sheet.frame(area, std::max(1.0, random.uniform(0.06, 0.25) * unit));
  else if (look < 0.85)
    sheet.tint(area, random.uniform(0.08, 0.3));
  else
    sheet.reverse(area, random.uniform(0.75, 1));
  Font font = desk.font(random.uniform(0.85, 1.1));
  double y = inner.y0;
  const Align align = random.chance(0.6) ? Align::kCentred : Align::kLeft;
  sheet.begin(BlockKind::kHeading, 3);
  ParagraphStyle style;
  style.align = align;
  style.words = 1 + random.index(5);
  y = sheet.paragraph(heavier(font, random.uniform(1.1, 2), random), style, inner) + 0.5 * unit;
  while (y < inner.y1 - 2 * unit) {
    sheet.begin(BlockKind::kText);
    style.words = 4 + random.index(30);
    style.align = random.chance(0.5) ? align : Align::kJustified;
    const double end = sheet.paragraph(font, style, {inner.x0, y, inner.x1, inner.y1});
    if (end <= y) break;
    y = end + random.uniform(0.2, 1.5) * unit;
  }
}

struct Grid {
  double left, column, gap;
  double x0(int c) const { return left + c * (column + gap); }
  double x1(int c) const { return x0(c) + column; }
};

// One story over columns `first` to `last`: headline, byline, then column by column.
void set_story(Desk& desk, Sheet& sheet, const Font& font, const Grid& grid, int first, int last,
               double top, double foot, bool rules) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const int columns = last - first + 1;
  Box area{grid.x0(first), top, grid.x1(last), foot};
  if (random.chance(0.85)) {
    sheet.begin(BlockKind::kHeading, 1);
    ParagraphStyle style;
    style.align = random.chance(0.6) ? Align::kLeft : Align::kCentred;
    style.words = 3 + random.index(3 + 2 * columns);
    area.y0 = sheet.paragraph(heavier(desk.random.chance(0.5) ? font : desk.font(),
                                      random.uniform(1.3, 1.6 + 0.6 * columns), random),
                              style, area) +
              random.uniform(0.5, 1.5) * unit;
    if (random.chance(0.3)) {
      sheet.begin(BlockKind::kText);
      style.words = 2 + random.index(4);
      area.y0 = sheet.paragraph(font, style, area) + 0.7 * unit;
    }
  }
  if (area.height() < 6 * unit) return;
  for (int c = first; c <= last; ++c) {
    if (rules && c > first) {
      const double x = grid.x0(c) - grid.gap / 2;
      sheet.rule({x, area.y0}, {x, area.y1}, std::max(1.0, 0.06 * unit),
                 random.chance(0.3) ? 0.2 : 0);
    }
  }
  const int picture_columns = columns > 1 && random.chance(0.3) ? 1 + random.index(columns) : 0;
  std::vector<double> tops(static_cast<size_t>(columns), area.y0);
  if (picture_columns > 0) {
    const int at = random.index(columns - picture_columns + 1);
    const double wide = grid.x1(first + at + picture_columns - 1) - grid.x0(first + at);
    const double high = std::min(0.55 * area.height(), random.uniform(0.45, 0.8) * wide + 4 * unit);
    set_picture_with_caption(
        desk, sheet, font,
        {grid.x0(first + at), area.y0, grid.x0(first + at) + wide, area.y0 + high});
    for (int c = at; c < at + picture_columns; ++c)
      tops[static_cast<size_t>(c)] += high + 1.5 * unit;
  }
  for (int c = first; c <= last; ++c) {
    fill_column(desk, sheet, font,
                {grid.x0(c), tops[static_cast<size_t>(c - first)], grid.x1(c), area.y1}, 0.03);
  }
}

}  // namespace

Sheet set_news(Desk& desk) {
  Random& random = desk.random;
  const int columns = 2 + random.index(6);
  const double column = random.uniform(24, 38), gap = random.uniform(1.2, 3.2);
  const double margin = random.uniform(5, 12);
  const double width = columns * column + (columns - 1) * gap + 2 * margin;
  Sheet sheet = desk.sheet(width, std::min(280.0, width * random.uniform(1.1, 1.6)));
  const double unit = desk.unit;
  const Font font = desk.font();
  const bool rules = random.chance(0.55);
  const Grid grid{margin * unit, column * unit, gap * unit};
  double y = margin * unit;
  const double foot = sheet.height() - margin * unit;
  if (random.chance(0.5)) {  // the paper's name
    sheet.begin(BlockKind::kHeading, 1);
    ParagraphStyle style;
    style.align = Align::kCentred;
    style.words = 2 + random.index(2);
    y = sheet.paragraph(heavier(desk.font(), random.uniform(3, 5.5), random), style,
                        {grid.x0(0), y, grid.x1(columns - 1), foot}) +
        unit;
    sheet.rule({grid.x0(0), y}, {grid.x1(columns - 1), y}, std::max(1.0, 0.1 * unit));
    sheet.begin(BlockKind::kRunningHead);
    sheet.line(font, sheet.words(4), sheet.width() / 2, y + 2.4 * unit, Align::kCentred);
    y += 3.4 * unit;
    sheet.rule({grid.x0(0), y}, {grid.x1(columns - 1), y}, std::max(1.0, 0.1 * unit));
    y += 1.5 * unit;
  } else if (random.chance(0.6)) {
    sheet.begin(BlockKind::kRunningHead);
    sheet.line(font, sheet.words(3 + random.index(4)), sheet.width() / 2, y, Align::kCentred);
    y += 2 * unit;
  }
  // Bands of stories side by side; a column beside them may go from top to foot.
  int left = 0, right = columns - 1;
  const auto long_column = [&](int c) { set_story(desk, sheet, font, grid, c, c, y, foot, rules); };
  const bool last_long = columns > 3 && random.chance(0.2);
  if (columns > 3 && random.chance(0.15)) long_column(left++);
  if (last_long) --right;
  const double bands = y;
  while (foot - y > 18 * unit) {
    double band = random.uniform(25, 100) * unit;
    if (foot - y - band < 25 * unit) band = foot - y;
    for (int c = left; c <= right;) {
      const int wide = std::min(right + 1 - c, 1 + random.index(columns > 4 ? 4 : columns));
      double top = y;
      if (random.chance(0.12)) {
        set_box(desk, sheet, {grid.x0(c), top, grid.x1(c + wide - 1), y + band - unit});
      } else {
        const double end = y + band - 1.5 * unit;
        const double boxed = random.chance(0.12) ? random.uniform(12, 30) * unit : 0;
        set_story(desk, sheet, font, grid, c, c + wide - 1, top, end - boxed, rules);
        if (boxed > 0)
          set_box(desk, sheet, {grid.x0(c), end - boxed + unit, grid.x1(c + wide - 1), end});
      }
      c += wide;
      if (c <= right && (rules || random.chance(0.2))) {
        const double x = grid.x0(c) - grid.gap / 2;
        sheet.rule({x, y}, {x, y + band - unit}, std::max(1.0, 0.07 * unit));
      }
    }
    y += band;
    if (y < foot && random.chance(0.4))
      sheet.rule({grid.x0(left), y - 0.6 * unit}, {grid.x1(right), y - 0.6 * unit},
                 std::max(1.0, 0.08 * unit));
  }
  if (last_long) {
    y = bands;
    long_column(columns - 1);
  }
  return sheet;
}

Sheet set_magazine(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(110, 145), random.uniform(150, 200));
  const double unit = desk.unit;
  const Font font = desk.font();
  Box area{random.uniform(6, 14) * unit, random.uniform(8, 18) * unit,
           sheet.width() - random.uniform(6, 14) * unit,
           sheet.height() - random.uniform(10, 16) * unit};
  if (random.chance(0.3)) {
    const double height = random.uniform(20, 70) * unit;
    set_picture_with_caption(desk, sheet, font, {area.x0, area.y0, area.x1, area.y0 + height});
    area.y0 += height + 2 * unit;
  }
  if (random.chance(0.5)) {
    sheet.begin(BlockKind::kHeading, 1);
    ParagraphStyle style;
    style.align = random.chance(0.5) ? Align::kLeft : Align::kCentred;
    style.words = 2 + random.index(6);
    area.y0 = sheet.paragraph(heavier(desk.font(), random.uniform(2, 4), random), style, area) +
              1.5 * unit;
  }
  const int columns = 1 + random.index(3);
  const double gap = random.uniform(2, 4.5) * unit;
  const double each = (area.width() - (columns - 1) * gap) / columns;
  const bool sidebar = columns > 1 && random.chance(0.3);
  Box hole;
  const bool flows_round = columns > 1 && random.chance(0.4);
  if (flows_round) {  // a picture or a pull quote over the edge of two columns
    const int c = random.index(columns - 1);
    const double middle = area.x0 + (c + 1) * (each + gap) - gap / 2;
    const double half = random.uniform(0.25, 0.45) * each + gap / 2;
    const double top = area.y0 + random.uniform(0.2, 0.5) * area.height();
    hole = {middle - half, top, middle + half, top + random.uniform(0.12, 0.3) * area.height()};
  }
  const auto fill_hole = [&] {
    const Box inner{hole.x0 + unit, hole.y0 + unit, hole.x1 - unit, hole.y1 - unit};
    if (random.chance(0.5)) {
      sheet.picture(inner);
    } else {
      sheet.begin(BlockKind::kText);
      ParagraphStyle style;
      style.align = Align::kCentred;
      style.words = 10 + random.index(12);
      sheet.paragraph(heavier(font, random.uniform(1.3, 1.7), random), style, inner);
    }
  };
  for (int c = 0; c < columns; ++c) {
    const double x = area.x0 + c * (each + gap);
    Box column{x, area.y0, x + each, area.y1};
    if (sidebar && c == columns - 1) {
      if (random.chance(0.5))
        sheet.tint({column.x0 - unit, column.y0, column.x1 + unit, column.y1},
                   random.uniform(0.08, 0.3));
      else
        sheet.frame({column.x0 - unit, column.y0, column.x1 + unit, column.y1},
                    std::max(1.0, 0.1 * unit));
      column = {column.x0 + unit, column.y0 + unit, column.x1 - unit, column.y1 - unit};
      fill_column(desk, sheet, desk.font(0.9), column, 0.1);
      continue;
    }
    while (column.height() > 4 * unit) {
      if (hole.empty() && random.chance(0.08) && column.height() > 25 * unit) {
        const double height = random.uniform(12, 24) * unit;
        set_box(desk, sheet, {column.x0, column.y0 + unit, column.x1, column.y0 + height});
        column.y0 += height + unit;
        continue;
      }
      sheet.begin(BlockKind::kText);
      ParagraphStyle style;
      style.words = 30 + random.index(90);
      style.indent = 1.5 * unit;
      style.hole = hole;
      const double end = sheet.paragraph(font, style, column);
      if (end <= column.y0) break;
      column.y0 = end + random.uniform(0, 0.5) * font.pitch;
    }
    if (flows_round && hole.x0 < column.x1 && hole.x1 > column.x1) fill_hole();
  }
  if (random.chance(0.25)) {  // a credit that runs up the edge
    sheet.begin(BlockKind::kCaption);
    sheet.upright_line(font.sized(0.8), sheet.words(3), 1.5 * unit, 0.4 * sheet.height(),
                       random.chance(0.7));
  }
  return sheet;
}

}  // namespace burnisher::compose
