// Papers of the office: typescript, letters, till rolls, and sheets with nothing on them.
#include <algorithm>
#include <cmath>

#include "compose/families.h"

namespace burnisher::compose {

// Columns set with the tabulator: rows, now and then in groups. Returns where they end.
double fill_tabulated(Sheet& sheet, const Font& font, double pitch, double em, const Box& area,
                      Random& random) {
  const int rows = random.chance(0.3) ? 10 + random.index(40) : 2 + random.index(8);
  const int stops = 2 + random.index(3);
  const bool figures = random.chance(0.7), groups = random.chance(0.3);
  const double step = std::floor(area.width() * random.uniform(0.6, 1) / stops / em) * em;
  double y = area.y0;
  sheet.begin(BlockKind::kTable);
  for (int row = 0; row < rows && y < area.y1 - pitch; ++row, y += pitch) {
    if (groups && random.chance(0.2)) y += pitch;
    for (int stop = 0; stop < stops; ++stop) {
      std::vector<Text> words = figures && stop > 0 && random.chance(0.6)
                                    ? std::vector<Text>{amount(random)}
                                    : sheet.words(1 + random.index(3));
      while (!words.empty() && sheet.width_of(font, words) > step - 2 * em) words.pop_back();
      const size_t at = sheet.block().lines.size();
      const double x = area.x0 + stop * step;
      const Box ink = sheet.line(font, words, x, y + 0.8 * pitch);
      if (!ink.empty()) sheet.cell(row, stop, at, ink);
    }
  }
  return y;
}

Sheet set_typed(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(110, 140), random.uniform(150, 190));
  const double unit = desk.unit;
  Font font = desk.typewriter();
  const double single = 2.05 * unit * random.uniform(1, 1.25);
  const double spacing = random.chance(0.4) ? 2 : random.chance(0.3) ? 1.5 : 1;
  font.pitch = single * spacing;
  Box rest{random.uniform(10, 22) * unit, random.uniform(10, 30) * unit,
           sheet.width() - random.uniform(6, 18) * unit,
           sheet.height() - random.uniform(10, 24) * unit};
  const double em = sheet.width_of(font, {text_of("mmmmmmmmmm")}) / 10;
  const bool spread_out = random.chance(0.15);
  while (rest.y0 < rest.y1 - 2 * unit) {
    const double at = random.uniform();
    const double before = rest.y0;
    if (at < 0.12) {  // a heading, often underlined
      sheet.begin(BlockKind::kHeading, 2);
      const bool middle = random.chance(0.6);
      const Box ink = sheet.line(font, sheet.words(1 + random.index(5)),
                                 middle ? (rest.x0 + rest.x1) / 2 : rest.x0, rest.y0 + 1.6 * unit,
                                 middle ? Align::kCentred : Align::kLeft);
      if (!ink.empty() && random.chance(0.6))
        sheet.rule({ink.x0, rest.y0 + 2.1 * unit}, {ink.x1, rest.y0 + 2.1 * unit},
                   std::max(1.0, 0.1 * unit));
      rest.y0 += 2 * single;
    } else if (at < 0.24) {
      rest.y0 = fill_tabulated(sheet, font, single, em, rest, random) + single;
    } else {
      sheet.begin(BlockKind::kText);
      ParagraphStyle style;
      style.align = spread_out ? Align::kJustified : Align::kLeft;
      style.indent = random.chance(0.5) ? 5 * em : 0;
      style.words = 10 + random.index(90);
      Box column = rest;
      if (random.chance(0.12)) {
        column.x0 += 8 * em;
        column.x1 -= 6 * em;
      }
      rest.y0 = sheet.paragraph(font, style, column) + (spacing < 2 ? single : 0);
    }
    if (rest.y0 <= before || random.chance(0.02)) break;
  }
  if (random.chance(0.25))
    scribble_somewhere(desk, sheet, {rest.x0, 0.1 * sheet.height(), rest.x1, sheet.height()});
  if (random.chance(0.1)) {
    const double size = random.uniform(14, 26) * unit, x = random.uniform(0.1, 0.7) * sheet.width();
    const double y = random.uniform(0.1, 0.8) * sheet.height();
    sheet.stamp({x, y, x + size, y + size * random.uniform(0.5, 1)}, 0.15 * unit);
  }
  return sheet;
}

Sheet set_letter(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(133, random.uniform(170, 190));
  const double unit = desk.unit;
  const Font font = random.chance(0.3) ? desk.typewriter() : desk.font();
  Box area{random.uniform(10, 18) * unit, random.uniform(8, 14) * unit,
           sheet.width() - random.uniform(8, 18) * unit,
           sheet.height() - random.uniform(8, 12) * unit};
  ParagraphStyle style;
  style.align = random.chance(0.5) ? Align::kCentred : Align::kLeft;
  style.words = 2 + random.index(3);
  sheet.begin(BlockKind::kHeading, 1);
  double y =
      sheet.paragraph(heavier(desk.font(), random.uniform(1.4, 3), random), style, area) + unit;
  sheet.begin(BlockKind::kText);
  style.words = 5 + random.index(8);
  y = sheet.paragraph(font.sized(0.8), style, {area.x0, y, area.x1, area.y1});
  if (random.chance(0.5)) sheet.rule({area.x0, y}, {area.x1, y}, std::max(1.0, 0.1 * unit));
  y += random.uniform(3, 9) * unit;
  sheet.begin(BlockKind::kText);  // the address
  const int rows = 3 + random.index(3);
  const double address = y;
  for (int r = 0; r < rows; ++r, y += font.pitch)
    sheet.line(font, sheet.words(2 + random.index(2)), area.x0, y + 1.6 * unit);
  sheet.begin(BlockKind::kText);  // the date
  sheet.line(font, sheet.words(3), area.x1, (random.chance(0.5) ? address : y + unit) + 1.6 * unit,
             Align::kRight);
  y += random.uniform(3, 6) * unit;
  const double footer = random.chance(0.6) ? area.y1 - random.uniform(7, 12) * unit : area.y1;
  const double body_end = footer - random.uniform(14, 60) * unit;
  const Align body = random.chance(0.4) ? Align::kJustified : Align::kLeft;
  while (y < body_end) {
    sheet.begin(BlockKind::kText);
    style.align = body;
    style.words = 2 + random.index(70);
    y = sheet.paragraph(font, style, {area.x0, y, area.x1, body_end}) + 0.8 * font.pitch;
  }
  sheet.begin(BlockKind::kText);
  sheet.line(font, sheet.words(2), area.x0, y + 1.6 * unit);
  if (random.chance(0.8))
    sheet.scribble({area.x0, y + 3 * unit, area.x0 + random.uniform(15, 35) * unit,
                    y + random.uniform(7, 10) * unit},
                   std::max(0.6, 0.12 * unit));
  sheet.begin(BlockKind::kText);
  sheet.line(font, sheet.words(2), area.x0, y + 12 * unit);
  if (footer < area.y1) {  // columns at the foot, one after the other
    const int columns = 2 + random.index(3);
    const double each = area.width() / columns;
    const Font small = font.sized(random.uniform(0.65, 0.8));
    if (random.chance(0.4))
      sheet.rule({area.x0, footer - unit}, {area.x1, footer - unit}, std::max(1.0, 0.06 * unit));
    for (int c = 0; c < columns; ++c) {
      sheet.begin(BlockKind::kText);
      double line = footer;
      for (int r = 0; r < 3 + random.index(2); ++r, line += small.pitch)
        sheet.line(small, sheet.words(1 + random.index(2)), area.x0 + c * each, line + unit);
    }
  }
  return sheet;
}

Sheet set_receipt(Desk& desk) {
  Random& random = desk.random;
  if (random.chance(0.5)) return set_slip(desk);
  Sheet sheet = desk.sheet(random.uniform(40, 55), random.uniform(70, 150));
  const double unit = desk.unit;
  const Font font = random.chance(0.7) ? desk.typewriter() : desk.font();
  const double left = 3 * unit, right = sheet.width() - 3 * unit, foot = sheet.height() - 4 * unit;
  double y = 5 * unit;
  for (int i = 0; i < 1 + random.index(3); ++i, y += font.pitch) {
    sheet.begin(BlockKind::kHeading, 1);
    sheet.line(font, sheet.words(2), sheet.width() / 2, y, Align::kCentred);
  }
  y += unit;
  sheet.begin(BlockKind::kTable);
  const bool quantities = random.chance(0.3);
  int row = 0;
  for (; y < foot - 10 * unit; y += font.pitch) {
    std::vector<Text> words = sheet.words(1 + random.index(3));
    while (words.size() > 1 && sheet.width_of(font, words) > 0.6 * (right - left)) words.pop_back();
    if (sheet.width_of(font, words) > 0.62 * (right - left)) continue;
    size_t at = sheet.block().lines.size();
    const Box item = sheet.line(font, words, left, y);
    if (item.empty()) continue;
    sheet.cell(row, 0, at, item);
    const Box price = sheet.line(font, {amount(random)}, right, y, Align::kRight);
    if (!price.empty()) sheet.cell(row, 1, at + 1, price);
    ++row;
    if (random.chance(0.05)) {
      sheet.rule({left, y + 0.6 * unit}, {right, y + 0.6 * unit}, std::max(1.0, 0.08 * unit),
                 random.chance(0.5) ? 0.5 : 0);
      y += 0.4 * unit;
    }
    if (!quantities || !random.chance(0.4)) continue;
    y += font.pitch;
    at = sheet.block().lines.size();
    const Box quantity = sheet.line(
        font, {text_of(std::to_string(2 + random.index(8))), text_of("x"), amount(random)},
        left + unit * random.index(3), y);
    if (!quantity.empty()) sheet.cell(row++, 0, at, quantity);
  }
  sheet.begin(BlockKind::kText);
  sheet.line(font, sheet.words(2), sheet.width() / 2, y + font.pitch, Align::kCentred);
  return sheet;
}

Sheet set_blank(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(90, 140), random.uniform(120, 190));
  const double unit = desk.unit;
  const double thin = std::max(0.8, random.uniform(0.03, 0.09) * unit);
  const double kind = random.uniform();
  if (kind < 0.35) {  // ruled paper, with or without a margin
    const double pitch = random.uniform(3, 6) * unit;
    for (double y = random.uniform(5, 20) * unit; y < sheet.height() - 3 * unit; y += pitch)
      sheet.rule({0, y}, {sheet.width(), y}, thin, random.chance(0.1) ? 0.1 : 0);
    if (random.chance(0.5)) sheet.rule({12 * unit, 0}, {12 * unit, sheet.height()}, thin);
  } else if (kind < 0.5) {  // squared
    const double pitch = random.uniform(2, 4) * unit;
    for (double y = pitch; y < sheet.height(); y += pitch)
      sheet.rule({0, y}, {sheet.width(), y}, thin);
    for (double x = pitch; x < sheet.width(); x += pitch)
      sheet.rule({x, 0}, {x, sheet.height()}, thin);
  }
  if (random.chance(0.2)) scribble_somewhere(desk, sheet, {0, 0, sheet.width(), sheet.height()});
  if (random.chance(0.3)) {  // holes
    for (const double at : {0.4, 0.6}) {
      const double y = at * sheet.height(), r = 1.8 * unit;
      for (double d = 0; d < r; d += 0.5) sheet.dots({3 * unit, y}, 3 * unit + 0.1, 1, d + 0.5);
    }
  }
  return sheet;
}

}  // namespace burnisher::compose
