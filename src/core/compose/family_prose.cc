// Pages of prose: books, spreads, articles.
#include <algorithm>
#include <cmath>

#include "base/unicode.h"
#include "compose/families.h"

namespace burnisher::compose {
namespace {

std::string number_text(int n) {
  return std::to_string(n);
}

Text text_of(const std::string& ascii) {
  return Text(ascii.begin(), ascii.end());
}

void set_running_head(Desk& desk, Sheet& sheet, const Font& font, const Box& area, double y) {
  Random& random = desk.random;
  const Font small = font.sized(random.uniform(0.8, 1));
  if (random.chance(0.6)) {
    sheet.begin(BlockKind::kRunningHead);
    const double at = random.uniform();
    const Align align = at < 0.5 ? Align::kCentred : at < 0.75 ? Align::kLeft : Align::kRight;
    const double x = align == Align::kCentred ? (area.x0 + area.x1) / 2
                     : align == Align::kLeft  ? area.x0
                                              : area.x1;
    sheet.line(small, sheet.words(2 + random.index(4)), x, y, align);
    if (random.chance(0.5)) {
      sheet.begin(BlockKind::kPageNumber);
      sheet.line(small, {text_of(number_text(1 + random.index(600)))},
                 align == Align::kRight ? area.x0 : area.x1, y,
                 align == Align::kRight ? Align::kLeft : Align::kRight);
    }
    if (random.chance(0.3)) {
      sheet.rule({area.x0, y + desk.unit}, {area.x1, y + desk.unit},
                 std::max(1.0, 0.08 * desk.unit));
    }
  }
}

void set_foot(Desk& desk, Sheet& sheet, const Font& font, const Box& area, double foot) {
  Random& random = desk.random;
  if (!random.chance(0.5)) return;
  sheet.begin(BlockKind::kPageNumber);
  const bool middle = random.chance(0.6);
  std::vector<Text> words = {text_of(number_text(1 + random.index(600)))};
  if (random.chance(0.2)) words = {text_of("-"), words[0], text_of("-")};
  sheet.line(font.sized(0.9), words, middle ? (area.x0 + area.x1) / 2 : area.x1, foot,
             middle ? Align::kCentred : Align::kRight);
}

// Footnotes at the foot of `area`; returns the height left above them.
double set_footnotes(Desk& desk, Sheet& sheet, const Font& font, const Box& area,
                     std::vector<std::function<void()>>& later) {
  Random& random = desk.random;
  if (!random.chance(0.3)) return area.y1;
  const double height = random.uniform(6, 24) * desk.unit;
  const Box notes{area.x0, area.y1 - height, area.x1, area.y1};
  if (random.chance(0.6)) {
    sheet.rule({notes.x0, notes.y0}, {notes.x0 + random.uniform(0.15, 1) * notes.width(), notes.y0},
               std::max(1.0, 0.07 * desk.unit));
  }
  const Font small = font.sized(random.uniform(0.72, 0.9));
  later.push_back([&sheet, &random, notes, small, unit = desk.unit] {
    double y = notes.y0 + 0.8 * unit;
    for (int i = 1; y < notes.y1 - 2 * small.style.x_height; ++i) {
      sheet.begin(BlockKind::kFootnote);
      std::vector<Text> words = sheet.words(8 + random.index(40));
      words.insert(words.begin(), text_of(std::to_string(i)));
      const double end = sheet.paragraph(small, {}, {notes.x0, y, notes.x1, notes.y1}, words);
      if (end <= y) break;
      y = end;
    }
  });
  return notes.y0 - 0.8 * desk.unit;
}

void set_verse(Sheet& sheet, const Font& font, Box& rest, Random& random) {
  sheet.begin(BlockKind::kText);
  const double left = rest.x0 + random.uniform(0.05, 0.3) * rest.width();
  const int lines = 4 + random.index(10);
  double y = rest.y0 + 1.6 * font.style.x_height;
  for (int i = 0; i < lines && y < rest.y1; ++i, y += font.pitch) {
    const double in = i % 2 == 1 && random.chance(0.5) ? 2 * font.style.x_height : 0;
    sheet.line(font, sheet.words(4 + random.index(4)), left + in, y);
  }
  rest.y0 = y;
}

void set_drama(Sheet& sheet, const Font& font, Box& rest, Random& random) {
  const int speeches = 2 + random.index(5);
  for (int i = 0; i < speeches && rest.y0 < rest.y1 - font.pitch; ++i) {
    sheet.begin(BlockKind::kText);
    ParagraphStyle style;
    style.indent = -2.5 * font.style.x_height;
    style.words = 6 + random.index(50);
    rest.y0 = sheet.paragraph(font, style, rest) + random.uniform(0, 0.5) * font.pitch;
  }
}

// A paragraph that begins with a capital as high as several lines.
void set_with_initial(Sheet& sheet, const Font& font, Box& rest, Random& random) {
  const int deep = 2 + random.index(2);
  const double cap = 1.45;  // height of capitals, x-heights: of most faces
  const double tall = (deep - 1) * font.pitch + cap * font.style.x_height;
  Font large = font.sized(tall / (cap * font.style.x_height));
  const std::vector<Text> word = sheet.words(1);
  if (word.empty()) return;
  const char32_t letter = to_upper(word.front().front());
  sheet.begin(BlockKind::kDropCapital);
  const Box ink =
      sheet.line(large, {{letter}}, rest.x0, rest.y0 + tall + 0.15 * font.style.x_height);
  if (ink.empty()) return;  // a sign that the face lacks
  sheet.begin(BlockKind::kText);
  ParagraphStyle style;
  style.words = 60 + random.index(60);
  style.hole = {rest.x0 - 1, rest.y0, ink.x1 + 0.5 * font.style.x_height,
                rest.y0 + deep * font.pitch - 0.5 * font.style.x_height};
  rest.y0 = sheet.paragraph(font, style, rest);
}

void set_margin_note(Desk& desk, Sheet& sheet, const Font& font, const Box& at) {
  sheet.begin(BlockKind::kMarginNote);
  ParagraphStyle style;
  style.align = Align::kLeft;
  style.words = 2 + desk.random.index(8);
  sheet.paragraph(font.sized(0.75), style, at);
}

// One page of a book in `area`.
void fill_book(Desk& desk, Sheet& sheet, const Font& font, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  Box text{area.x0 + random.uniform(6, 16) * unit, area.y0 + random.uniform(12, 22) * unit,
           area.x1 - random.uniform(6, 16) * unit, area.y1 - random.uniform(10, 22) * unit};
  const bool notes_beside = random.chance(0.15);
  const bool notes_right = random.chance(0.5);
  const double beside = random.uniform(10, 15) * unit;
  if (notes_beside)
    (notes_right ? text.x1 : text.x0) += (notes_right ? -1 : 1) * (beside - 5 * unit);
  set_running_head(desk, sheet, font, text, text.y0 - random.uniform(2.5, 5) * unit);
  std::vector<std::function<void()>> later;
  const double foot = text.y1;
  text.y1 = set_footnotes(desk, sheet, font, text, later);
  Box rest = text;
  if (random.chance(0.2)) {  // a chapter opens
    rest.y0 += random.uniform(4, 30) * unit;
    sheet.begin(BlockKind::kHeading, 1);
    const Font large = heavier(font, random.uniform(1.3, 2.4), random);
    ParagraphStyle style;
    style.align = random.chance(0.7) ? Align::kCentred : Align::kLeft;
    style.words = 2 + random.index(6);
    rest.y0 = sheet.paragraph(large, style, rest) + random.uniform(1.5, 5) * unit;
    const bool initials = desk.text.script != "Arab" && desk.text.script != "Deva";
    if (initials && random.chance(0.4)) set_with_initial(sheet, font, rest, random);
  }
  const double kind = random.uniform();
  const bool short_page = random.chance(0.15);
  if (short_page) rest.y1 = rest.y0 + random.uniform(0.15, 0.7) * rest.height();
  while (rest.y0 < rest.y1 - 2 * font.style.x_height) {
    const double before = rest.y0;
    if (kind < 0.1 && random.chance(0.5)) {
      set_verse(sheet, font, rest, random);
    } else if (kind > 0.9) {
      set_drama(sheet, font, rest, random);
    } else {
      const double top = rest.y0;
      const double end = fill_column(
          desk, sheet, font,
          {rest.x0, rest.y0, rest.x1, std::min(rest.y1, rest.y0 + random.uniform(20, 70) * unit)},
          0.05);
      rest.y0 = end;
      if (notes_beside && random.chance(0.5)) {
        const double x0 = notes_right ? text.x1 + 1.5 * unit : text.x0 - beside;
        set_margin_note(desk, sheet, font, {x0, top, x0 + beside - 1.5 * unit, end});
      }
    }
    if (rest.y0 <= before) break;
  }
  for (const auto& task : later) task();
  set_foot(desk, sheet, font, text, foot + random.uniform(3, 6) * unit);
}

}  // namespace

void set_picture_with_caption(Desk& desk, Sheet& sheet, const Font& font, const Box& area) {
  Random& random = desk.random;
  const double caption = random.chance(0.75) ? random.uniform(2.5, 8) * desk.unit : 0;
  sheet.picture({area.x0, area.y0, area.x1, area.y1 - caption - 0.5 * desk.unit});
  if (caption <= 0) return;
  sheet.begin(BlockKind::kCaption);
  ParagraphStyle style;
  style.align = random.chance(0.5) ? Align::kLeft : Align::kCentred;
  style.words = 3 + random.index(25);
  sheet.paragraph(font.sized(random.uniform(0.75, 0.95)), style,
                  {area.x0, area.y1 - caption, area.x1, area.y1});
}

double fill_column(Desk& desk, Sheet& sheet, const Font& font, const Box& area,
                   double picture_chance) {
  Random& random = desk.random;
  const double unit = font.style.x_height;
  Box rest = area;
  const double indent = random.chance(0.6) ? random.uniform(1, 4) * unit : 0;
  const double between = indent > 0 && random.chance(0.7) ? 0 : random.uniform(0.2, 1) * font.pitch;
  const Align align = random.chance(0.7) ? Align::kJustified : Align::kLeft;
  while (rest.y0 < rest.y1 - 2.2 * unit) {
    const double at = random.uniform();
    if (at < picture_chance && rest.height() > 25 * unit) {
      const double height = random.uniform(0.3, 0.9) * rest.width() + 4 * unit;
      if (height < rest.height() - 4 * unit) {
        rest.y0 += unit;
        set_picture_with_caption(desk, sheet, font, {rest.x0, rest.y0, rest.x1, rest.y0 + height});
        rest.y0 += height + 1.5 * unit;
        continue;
      }
    }
    if (at > 0.88 && rest.height() > 12 * unit) {
      rest.y0 += random.uniform(0.3, 1.5) * font.pitch;
      sheet.begin(BlockKind::kHeading, 2);
      ParagraphStyle style;
      style.align = random.chance(0.5) ? Align::kLeft : Align::kCentred;
      style.words = 1 + random.index(6);
      rest.y0 = sheet.paragraph(heavier(font, random.uniform(1, 1.4), random), style, rest) +
                random.uniform(0, 0.6) * font.pitch;
    }
    sheet.begin(BlockKind::kText);
    ParagraphStyle style;
    style.align = align;
    style.indent = indent;
    style.words = 8 + random.index(110);
    const double end = sheet.paragraph(font, style, rest) + between;
    if (end <= rest.y0) break;
    rest.y0 = end;
  }
  return std::min(rest.y0, area.y1);
}

Sheet set_book(Desk& desk) {
  const double width = desk.random.uniform(75, 135),
               height = width * desk.random.uniform(1.25, 1.65);
  Sheet sheet = desk.sheet(width, height);
  fill_book(desk, sheet, desk.font(), {0, 0, sheet.width(), sheet.height()});
  return sheet;
}

Sheet set_spread(Desk& desk) {
  const double width = desk.random.uniform(80, 105),
               height = width * desk.random.uniform(1.3, 1.55);
  Sheet sheet = desk.sheet(2 * width, height);
  const Font font = desk.font();
  fill_book(desk, sheet, font, {0, 0, sheet.width() / 2, sheet.height()});
  fill_book(desk, sheet, font, {sheet.width() / 2, 0, sheet.width(), sheet.height()});
  sheet.page().truth.part = 0;
  return sheet;
}

Sheet set_article(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(125, 150), random.uniform(170, 210));
  const Font font = desk.font();
  const double unit = desk.unit;
  Box area{random.uniform(8, 16) * unit, random.uniform(14, 22) * unit,
           sheet.width() - random.uniform(8, 16) * unit,
           sheet.height() - random.uniform(12, 20) * unit};
  set_running_head(desk, sheet, font, area, area.y0 - random.uniform(3, 5) * unit);
  if (random.chance(0.5)) {
    ParagraphStyle centred;
    centred.align = random.chance(0.7) ? Align::kCentred : Align::kLeft;
    sheet.begin(BlockKind::kHeading, 1);
    centred.words = 4 + random.index(9);
    area.y0 =
        sheet.paragraph(heavier(font, random.uniform(1.4, 2.2), random), centred, area) + unit;
    sheet.begin(BlockKind::kText);
    centred.words = 2 + random.index(6);
    area.y0 = sheet.paragraph(font, centred, area) + 2 * unit;
    if (random.chance(0.6)) {
      const double in = random.uniform(0, 0.12) * area.width();
      sheet.begin(BlockKind::kText);
      ParagraphStyle style;
      style.words = 50 + random.index(80);
      area.y0 =
          sheet.paragraph(font.sized(0.9), style, {area.x0 + in, area.y0, area.x1 - in, area.y1}) +
          2 * unit;
    }
  }
  std::vector<std::function<void()>> later;
  const double foot = area.y1;
  area.y1 = set_footnotes(desk, sheet, font, area, later);
  if (random.chance(0.3)) {
    const double height = random.uniform(25, 55) * unit;
    if (random.chance(0.5))
      set_picture_with_caption(desk, sheet, font, {area.x0, area.y0, area.x1, area.y0 + height});
    else
      fill_table(desk, sheet, font.sized(0.9), {area.x0, area.y0, area.x1, area.y0 + height});
    area.y0 += height + 2 * unit;
  }
  const int columns = 1 + random.index(3);
  const double gap = random.uniform(1.8, 4.5) * unit;
  const double each = (area.width() - (columns - 1) * gap) / columns;
  for (int c = 0; c < columns; ++c) {
    const double x = area.x0 + c * (each + gap);
    if (c > 0 && random.chance(0.1))
      sheet.rule({x - gap / 2, area.y0}, {x - gap / 2, area.y1}, std::max(1.0, 0.07 * unit));
    fill_column(desk, sheet, font, {x, area.y0, x + each, area.y1}, 0.06);
  }
  for (const auto& task : later) task();
  set_foot(desk, sheet, font, area, foot + random.uniform(3, 6) * unit);
  return sheet;
}

}  // namespace burnisher::compose
