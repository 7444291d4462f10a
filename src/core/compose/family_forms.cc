// Forms, tickets and index cards: labels with what was entered above, beside or below them.
#include <algorithm>

#include "compose/families.h"

namespace burnisher::compose {
namespace {

// How the fields of one form look.
struct FormStyle {
  Font label, entry;
  double unit = 0;  // x-height of the entries, pixels
  double thin = 1;  // thickness of rules, pixels
  bool boxes = false, numbered = false, dotted = false;
  enum { kAbove, kBeside, kBelow } label_place = kAbove;
  double filled = 0.75;  // share of the fields with an entry
  int next_number = 1;

  double row_height(Random& random) const {
    const double label_line = 2.2 * label.style.x_height;
    return label_place == kBeside ? random.uniform(3, 5.5) * unit
                                  : label_line + random.uniform(2.6, 4.5) * unit;
  }
};

FormStyle draw_style(Desk& desk) {
  Random& random = desk.random;
  FormStyle style;
  style.unit = desk.unit;
  // Labels are printed small: half the size of what is typed beside them is common.
  style.label = desk.font(random.uniform(0.5, 0.95));
  if (random.chance(0.3)) style.label.style.strength = random.uniform(0.6, 1);
  style.entry = random.chance(0.8) ? desk.typewriter() : desk.font();
  style.thin = std::max(1.0, random.uniform(0.05, 0.12) * style.unit);
  style.boxes = random.chance(0.5);
  style.numbered = random.chance(0.35);
  style.dotted = random.chance(0.4);
  const double place = random.uniform();
  style.label_place = place < 0.5    ? FormStyle::kAbove
                      : place < 0.92 ? FormStyle::kBeside
                                     : FormStyle::kBelow;
  if (style.label_place == FormStyle::kBelow) style.boxes = false;
  style.filled = random.uniform(0.5, 1);
  return style;
}

std::vector<Text> fitting(Sheet& sheet, const Font& font, std::vector<Text> words, double width) {
  while (!words.empty() && sheet.width_of(font, words) > width) words.pop_back();
  return words;
}

std::vector<Text> entered(Sheet& sheet, Random& random) {
  return random.chance(0.35) ? std::vector<Text>{amount(random)} : sheet.words(1 + random.index(4));
}

// A field in `box`: its label, the place to write on, and what was written.
void set_field(Sheet& sheet, FormStyle& style, const Box& box, Random& random) {
  const double unit = style.unit, label_x = style.label.style.x_height;
  if (style.boxes) sheet.frame(box, style.thin);
  std::vector<Text> words;
  if (style.numbered) words.push_back(text_of(std::to_string(style.next_number++) + "."));
  for (Text& word : sheet.words(1 + random.index(3))) words.push_back(std::move(word));
  const bool beside = style.label_place == FormStyle::kBeside;
  words = fitting(sheet, style.label, words, (beside ? 0.5 : 0.95) * box.width());
  const double in = style.boxes ? 0.7 * unit : 0;
  const double base = box.y1 - (style.label_place == FormStyle::kBelow ? 2 * label_x : 0) -
                      (style.boxes ? 0.9 : 1.1) * unit;
  const double label_base = style.label_place == FormStyle::kAbove   ? box.y0 + 1.9 * label_x
                            : style.label_place == FormStyle::kBelow ? box.y1
                                                                     : base;
  const auto set_label = [&] {
    sheet.begin(BlockKind::kText);
    return words.empty() ? Box{} : sheet.line(style.label, words, box.x0 + in, label_base);
  };
  Box label;
  if (style.label_place != FormStyle::kBelow) label = set_label();
  const double x = beside ? std::max(label.x1, box.x0) + 1.2 * unit : box.x0 + in;
  if (!style.boxes && x < box.x1) {
    if (style.dotted)
      sheet.dots({x, base + 0.4 * unit}, box.x1, 0.6 * unit, std::max(0.6, 0.07 * unit));
    else
      sheet.rule({x, base + 0.5 * unit}, {box.x1, base + 0.5 * unit}, style.thin);
  }
  const std::vector<Text> filled =
      fitting(sheet, style.entry, entered(sheet, random), box.x1 - x - 0.5 * unit);
  if (!filled.empty() && random.chance(style.filled)) {
    sheet.begin(BlockKind::kText);
    sheet.line(style.entry, filled, x, base);
  }
  if (style.label_place == FormStyle::kBelow) set_label();
}

// One to four fields side by side, of unlike widths more often than not.
double set_fields(Sheet& sheet, FormStyle& style, const Box& rest, double row, Random& random) {
  const int fields = 1 + random.index(4);
  std::vector<double> widths;
  double all = 0;
  const bool alike = random.chance(0.4);
  for (int f = 0; f < fields; ++f) {
    widths.push_back(alike ? 1 : random.uniform(0.5, 1.6));
    all += widths.back();
  }
  double x = rest.x0;
  for (const double width : widths) {
    const double each = width / all * rest.width();
    set_field(sheet, style,
              {x, rest.y0, x + each - (style.boxes ? 0 : 2 * style.unit), rest.y0 + row}, random);
    x += each;
  }
  return rest.y0 + row;
}

// Choices with boxes to tick, in a row or in columns.
double set_choices(Sheet& sheet, const FormStyle& style, const Box& rest, Random& random) {
  const double unit = style.unit, side = random.uniform(1.4, 2) * unit;
  const int columns = 1 + random.index(4), rows = 1 + random.index(4);
  double y = rest.y0;
  if (random.chance(0.5)) {
    sheet.begin(BlockKind::kText);
    sheet.line(style.label, sheet.words(2 + random.index(3)), rest.x0, y + 1.6 * unit);
    y += 2.6 * unit;
  }
  const double pitch = side + random.uniform(0.8, 2) * unit;
  for (int r = 0; r < rows; ++r, y += pitch) {
    for (int c = 0; c < columns; ++c) {
      const double x = rest.x0 + c * rest.width() / columns;
      const Box box{x, y, x + side, y + side};
      sheet.frame(box, style.thin);
      if (random.chance(0.4))
        sheet.scribble({box.x0, box.y0 - 0.3 * unit, box.x1 + 0.5 * unit, box.y1},
                       std::max(0.6, 0.12 * unit));
      const std::vector<Text> words = fitting(sheet, style.label, sheet.words(1 + random.index(3)),
                                              rest.width() / columns - side - 2 * unit);
      if (words.empty()) continue;
      sheet.begin(BlockKind::kText);
      sheet.line(style.label, words, box.x1 + 0.7 * unit, box.y1 - 0.15 * side);
    }
  }
  return y + unit;
}

// Several typed lines under one label, in a box or on lines.
double set_remarks(Sheet& sheet, const FormStyle& style, const Box& rest, Random& random) {
  const double unit = style.unit;
  sheet.begin(BlockKind::kText);
  sheet.line(style.label, sheet.words(1 + random.index(4)), rest.x0, rest.y0 + 1.6 * unit);
  Box box{rest.x0, rest.y0 + 2.4 * unit, rest.x1, 0};
  const int lines = 2 + random.index(5);
  box.y1 = std::min(rest.y1, box.y0 + lines * style.entry.pitch + 2 * unit);
  if (style.boxes) sheet.frame(box, style.thin);
  if (box.height() > style.entry.pitch + 2 * unit && random.chance(style.filled)) {
    sheet.begin(BlockKind::kText);
    ParagraphStyle paragraph;
    paragraph.align = Align::kLeft;
    paragraph.words = 4 + random.index(40);
    const Box inside{box.x0 + unit, box.y0 + 0.5 * unit, box.x1 - unit, box.y1 - unit};
    sheet.paragraph(style.entry, paragraph, inside);
  }
  return box.y1 + unit;
}

double set_section_heading(Sheet& sheet, const FormStyle& style, const Box& rest, Random& random) {
  const double unit = style.unit;
  const Font font = heavier(style.label, random.uniform(1.1, 1.6), random);
  if (random.chance(0.3))
    sheet.reverse({rest.x0, rest.y0, rest.x1, rest.y0 + 2.8 * unit}, random.uniform(0.8, 1));
  sheet.begin(BlockKind::kHeading, 2);
  sheet.line(font, sheet.words(1 + random.index(4)), rest.x0 + unit, rest.y0 + 2 * unit);
  return rest.y0 + 3.6 * unit;
}

}  // namespace

Sheet set_form(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(100, 140), random.uniform(110, 190));
  const double unit = desk.unit;
  FormStyle style = draw_style(desk);
  Box rest{random.uniform(8, 14) * unit, random.uniform(8, 14) * unit,
           sheet.width() - random.uniform(8, 14) * unit, sheet.height() - 10 * unit};
  if (random.chance(0.4)) {  // the form's number
    sheet.begin(BlockKind::kText);
    sheet.line(style.label, sheet.words(2), rest.x1, rest.y0 - 2 * unit, Align::kRight);
  }
  sheet.begin(BlockKind::kHeading, 1);
  ParagraphStyle title;
  title.align = random.chance(0.5) ? Align::kCentred : Align::kLeft;
  title.words = 2 + random.index(5);
  rest.y0 =
      sheet.paragraph(heavier(desk.font(), random.uniform(1.1, 2.2), random), title, rest) + unit;
  if (random.chance(0.4)) {  // how it is to be filled in
    sheet.begin(BlockKind::kText);
    title.words = 6 + random.index(30);
    rest.y0 = sheet.paragraph(style.label, title, rest);
  }
  rest.y0 += 2 * unit;
  const double row = style.row_height(random);
  while (rest.y0 < rest.y1 - 2 * row) {
    const double at = random.uniform();
    if (at < 0.07) {
      rest.y0 = set_section_heading(sheet, style, rest, random);
    } else if (at < 0.14) {
      rest.y0 = set_choices(sheet, style, rest, random);
    } else if (at < 0.19) {
      rest.y0 = set_remarks(sheet, style, rest, random);
    } else if (at < 0.22 && rest.height() > 40 * unit) {
      rest.y0 =
          fill_table(desk, sheet, style.entry, {rest.x0, rest.y0, rest.x1, rest.y0 + 30 * unit}) +
          2 * unit;
    } else {
      rest.y0 = set_fields(sheet, style, rest, row, random);
      if (random.chance(0.1)) rest.y0 += random.uniform(0.5, 2) * unit;
    }
  }
  if (random.chance(0.4)) scribble_somewhere(desk, sheet, rest);
  return sheet;
}

Sheet set_slip(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(60, 110), random.uniform(36, 65));
  const double unit = desk.unit;
  FormStyle style = draw_style(desk);
  if (random.chance(0.7)) style.boxes = false;
  Box rest{3 * unit, 4 * unit, sheet.width() - 3 * unit, sheet.height() - 4 * unit};
  if (random.chance(0.7)) {
    sheet.begin(BlockKind::kHeading, 1);
    const Font font = heavier(desk.font(), random.uniform(1, 2.4), random);
    const bool middle = random.chance(0.5);
    sheet.line(font, sheet.words(1 + random.index(3)), middle ? sheet.width() / 2 : rest.x0,
               rest.y0 + 2.2 * font.style.x_height, middle ? Align::kCentred : Align::kLeft);
    rest.y0 += 3.4 * font.style.x_height;
  }
  const double row = style.row_height(random);
  while (rest.y0 < rest.y1 - row) {
    if (random.chance(0.35)) {
      ParagraphStyle prose;
      prose.align = Align::kLeft;
      prose.indent = random.chance(0.5) ? -3 * unit : 0;
      prose.words = 4 + random.index(20);
      sheet.begin(BlockKind::kText);
      const double end = sheet.paragraph(style.entry, prose, rest);
      if (end <= rest.y0) break;
      rest.y0 = end + 0.7 * style.entry.pitch;
    } else if (random.chance(0.2)) {  // two things at the two ends of a line
      const double base = rest.y0 + 1.7 * unit;
      sheet.begin(BlockKind::kText);
      sheet.line(style.label, sheet.words(1 + random.index(2)), rest.x0, base);
      sheet.begin(BlockKind::kText);
      sheet.line(style.label, sheet.words(1 + random.index(2)), rest.x1, base, Align::kRight);
      rest.y0 += 3 * unit;
    } else {
      rest.y0 = set_fields(sheet, style, rest, row, random) + 0.5 * unit;
    }
  }
  if (random.chance(0.3))
    sheet.stamp(
        {0.6 * sheet.width(), 0.3 * sheet.height(), 0.85 * sheet.width(), 0.8 * sheet.height()},
        0.15 * unit);
  return sheet;
}

}  // namespace burnisher::compose
