// What stands on screens: menus, lists of files and mail, conversations, dialogs.
#include <algorithm>
#include <cmath>

#include "compose/families.h"

namespace burnisher::compose {
namespace {

Font interface_font(Desk& desk, double size = 1) {
  Font font = desk.font(size);
  for (int tries = 0; tries < 40 && font.face->klass() != "sans"; ++tries) font = desk.font(size);
  font.style.condense = 1;
  font.style.word_space = 1;
  return font;
}

void set_icon(Sheet& sheet, const Box& at, Random& random) {
  if (random.chance(0.5))
    sheet.tint(at, random.uniform(0.2, 0.9));
  else
    sheet.frame(at, std::max(1.0, 0.1 * at.height()));
}

std::string drawn_size(Random& random) {
  static const char* const units[] = {"KB", "MB", "GB", "kB", "B"};
  const std::string number = random.chance(0.4) ? std::to_string(random.index(90) + 1) + "." +
                                                      std::to_string(random.index(10))
                                                : std::to_string(random.index(900) + 1);
  return number + " " + units[random.index(5)];
}

std::string drawn_date(Random& random) {
  const std::string day = std::to_string(1 + random.index(28));
  const std::string month = std::to_string(1 + random.index(12));
  switch (random.index(3)) {
    case 0:
      return day + "/" + month + "/20" + std::to_string(10 + random.index(20));
    case 1:
      return std::to_string(10 + random.index(14)) + ":" + std::to_string(10 + random.index(50));
    default:
      return "20" + std::to_string(10 + random.index(20)) + "-" + month + "-" + day;
  }
}

std::vector<Text> spaced(const std::string& words) {
  std::vector<Text> out(1);
  for (const char c : words) {
    if (c == ' ')
      out.emplace_back();
    else
      out.back().push_back(static_cast<char32_t>(c));
  }
  return out;
}

std::vector<Text> fitting(Sheet& sheet, const Font& font, std::vector<Text> words, double width) {
  while (!words.empty() && sheet.width_of(font, words) > width) words.pop_back();
  return words;
}

// Names with a size, a kind, a day; senders with a subject and an hour: a row each.
void set_rows(Desk& desk, Sheet& sheet, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const Font font = interface_font(desk);
  const Font pale = [&] {
    Font f = font;
    f.style.strength = random.uniform(0.45, 0.9);
    return f;
  }();
  const int columns = 2 + random.index(3);
  const bool mail = random.chance(0.4), icons = random.chance(0.5), head = random.chance(0.5);
  const double step = random.uniform(2.6, 4.6) * unit;
  std::vector<double> edge = {area.x0};
  for (int c = 1; c < columns; ++c) {
    const double share = mail && c == 1 ? random.uniform(0.22, 0.36)
                                        : (0.45 + 0.5 * c / columns) * random.uniform(0.96, 1.04);
    edge.push_back(std::max(edge.back() + 8 * unit, area.x0 + share * area.width()));
  }
  edge.push_back(area.x1);
  std::vector<bool> right;
  for (int c = 0; c < columns; ++c)
    right.push_back(c > 0 && !(mail && c == 1) && random.chance(0.4));
  sheet.begin(BlockKind::kTable);
  int row = 0;
  for (double y = area.y0; y + step < area.y1; y += step, ++row) {
    const bool heading = head && row == 0;
    const double base = y + 0.5 * step + 0.5 * unit;
    if (!heading && random.chance(0.06)) sheet.tint({area.x0, y, area.x1, y + step}, 0.15);
    const double icon = icons && !heading ? 2.6 * unit : 0;
    if (icon > 0)
      set_icon(sheet, {area.x0, base - 1.5 * unit, area.x0 + 1.8 * unit, base + 0.2 * unit},
               random);
    const Font first = mail && random.chance(0.3) ? heavier(font, 1, random) : font;
    for (int c = 0; c < columns; ++c) {
      const auto i = static_cast<size_t>(c);
      const double left = edge[i] + (c == 0 ? icon : 0), room = edge[i + 1] - left - 1.5 * unit;
      const bool words = c == 0 || heading || (mail && c == 1) || random.chance(0.1);
      std::vector<Text> text = words                 ? sheet.words(1 + random.index(c == 1 ? 6 : 3))
                               : c % 2 == 1 && !mail ? spaced(drawn_size(random))
                                                     : spaced(drawn_date(random));
      text = fitting(sheet, c == 0 ? first : pale, text, room);
      if (text.empty()) continue;
      const size_t at = sheet.block().lines.size();
      const Box ink = sheet.line(c == 0 ? first : pale, text, right[i] ? edge[i + 1] - unit : left,
                                 base, right[i] ? Align::kRight : Align::kLeft);
      if (!ink.empty()) sheet.cell(row, c, at, ink).header = heading;
    }
  }
}

void set_menu(Desk& desk, Sheet& sheet, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const Font font = interface_font(desk);
  const bool keys = random.chance(0.6), icons = random.chance(0.4);
  const double step = random.uniform(3.2, 4.6) * unit;
  static const char* const chords[] = {"Ctrl+", "Alt+", "Shift+Ctrl+", "F"};
  sheet.frame(area, 1);
  sheet.begin(keys ? BlockKind::kTable : BlockKind::kText);
  int row = 0;
  for (double y = area.y0 + 0.5 * unit; y + step < area.y1; y += step, ++row) {
    if (row > 0 && random.chance(0.18)) {
      sheet.rule({area.x0 + unit, y}, {area.x1 - unit, y}, 1);
      y += 0.8 * unit;
    }
    Font now = font;
    if (random.chance(0.15)) now.style.strength = random.uniform(0.4, 0.6);
    const double base = y + 0.5 * step + 0.5 * unit, left = area.x0 + (icons ? 4.4 : 1.6) * unit;
    if (icons && random.chance(0.6))
      set_icon(sheet, {area.x0 + unit, base - 1.6 * unit, area.x0 + 3 * unit, base + 0.3 * unit},
               random);
    const std::vector<Text> words =
        fitting(sheet, now, sheet.words(1 + random.index(4)), 0.6 * area.width());
    if (words.empty()) continue;
    const size_t at = sheet.block().lines.size();
    const Box ink = sheet.line(now, words, left, base);
    if (ink.empty() || !keys) continue;
    sheet.cell(row, 0, at, ink);
    if (!random.chance(0.6)) continue;
    std::string chord = chords[random.index(4)];
    chord += chord == "F" ? std::to_string(1 + random.index(12))
                          : std::string(1, static_cast<char>('A' + random.index(26)));
    const Box key = sheet.line(now, spaced(chord), area.x1 - 1.6 * unit, base, Align::kRight);
    if (!key.empty()) sheet.cell(row, 1, at + 1, key);
  }
}

void set_chat(Desk& desk, Sheet& sheet, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const Font font = interface_font(desk), small = interface_font(desk, 0.8);
  double y = area.y0;
  while (y < area.y1 - 10 * unit) {
    const bool own = random.chance(0.45);
    const double width = random.uniform(0.5, 0.8) * area.width();
    const double x = own ? area.x1 - width : area.x0;
    if (!own && random.chance(0.5)) {
      sheet.begin(BlockKind::kText);
      sheet.line(heavier(small, 1, random), sheet.words(1 + random.index(2)), x, y + 1.3 * unit);
      y += 2.6 * unit;
    }
    const double top = y;
    sheet.begin(BlockKind::kText);
    ParagraphStyle style;
    style.align = Align::kLeft;
    style.words = 2 + random.index(24);
    y = sheet.paragraph(font, style, {x + 1.5 * unit, y + unit, x + width - 1.5 * unit, area.y1});
    if (y <= top + unit) return;
    y += 0.8 * unit;
    const double look = random.uniform();
    if (look < 0.5)
      sheet.tint({x, top, x + width, y}, random.uniform(0.06, 0.2));
    else if (look < 0.7)
      sheet.reverse({x, top, x + width, y}, random.uniform(0.6, 0.95));
    else
      sheet.frame({x, top, x + width, y}, 1);
    if (random.chance(0.5)) {
      sheet.begin(BlockKind::kText);
      sheet.line(small, spaced(drawn_date(random)), own ? x + width : x, y + 1.8 * unit,
                 own ? Align::kRight : Align::kLeft);
      y += 2 * unit;
    }
    y += random.uniform(1, 2.5) * unit;
  }
}

void set_dialog(Desk& desk, Sheet& sheet, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const Font font = interface_font(desk);
  sheet.frame(area, 1);
  const double bar = 4 * unit;
  sheet.begin(BlockKind::kHeading, 2);
  sheet.line(font, sheet.words(1 + random.index(4)), area.x0 + 1.5 * unit,
             area.y0 + 0.5 * bar + 0.5 * unit);
  if (random.chance(0.5))
    sheet.reverse({area.x0, area.y0, area.x1, area.y0 + bar}, random.uniform(0.6, 1));
  else
    sheet.rule({area.x0, area.y0 + bar}, {area.x1, area.y0 + bar}, 1);
  const double foot = area.y1 - 6 * unit;
  double y = area.y0 + bar + random.uniform(1, 3) * unit;
  while (y < foot - 4 * unit) {
    sheet.begin(BlockKind::kText);
    ParagraphStyle style;
    style.align = Align::kLeft;
    style.words = 2 + random.index(26);
    const double end = sheet.paragraph(random.chance(0.15) ? heavier(font, 1.2, random) : font,
                                       style, {area.x0 + 2 * unit, y, area.x1 - 2 * unit, foot});
    if (end <= y) break;
    y = end + random.uniform(0.5, 2) * unit;
  }
  const int buttons = 1 + random.index(3);
  double right = area.x1 - 2 * unit;
  for (int i = 0; i < buttons; ++i) {
    const std::vector<Text> label = sheet.words(1);
    const double width = sheet.width_of(font, label) + 4 * unit;
    if (right - width < area.x0) return;
    const Box button{right - width, foot + unit, right, foot + 5 * unit};
    sheet.begin(BlockKind::kText);
    sheet.line(font, label, (button.x0 + button.x1) / 2, (button.y0 + button.y1) / 2 + 0.5 * unit,
               Align::kCentred);
    if (i == 0 && random.chance(0.4))
      sheet.reverse(button, random.uniform(0.6, 1));
    else
      sheet.frame(button, 1);
    right = button.x0 - 1.5 * unit;
  }
}

}  // namespace

Sheet set_screen(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(50, 130), random.uniform(36, 90));
  const double unit = desk.unit;
  const Box area{random.uniform(1, 6) * unit, random.uniform(1, 6) * unit,
                 sheet.width() - random.uniform(1, 6) * unit,
                 sheet.height() - random.uniform(1, 6) * unit};
  switch (random.index(5)) {
    case 0: {
      const double width = std::min(area.width(), random.uniform(24, 50) * unit);
      set_menu(desk, sheet, {area.x0, area.y0, area.x0 + width, area.y1});
      break;
    }
    case 1:
    case 2:
      set_rows(desk, sheet, area);
      break;
    case 3:
      set_chat(desk, sheet, area);
      break;
    default:
      set_dialog(desk, sheet, area);
      break;
  }
  if (random.chance(0.25)) sheet.reverse({0, 0, sheet.width(), sheet.height()}, 0.85);
  return sheet;
}

}  // namespace burnisher::compose
