// What is set in letters of one width and keeps its blanks: programs, consoles, manual pages, mail.
#include <algorithm>
#include <cmath>

#include "compose/families.h"

namespace burnisher::compose {
namespace {

constexpr double kBaseline = 0.72;  // of the pitch, from the top of a line

struct Page {
  Sheet& sheet;
  Font font;
  double em, pitch, left, right;
  double y, foot;

  bool full() const { return y + pitch > foot; }
  // One line whose first letter stands `columns` letters in; moves on by a line.
  void line(const std::vector<Text>& words, int columns = 0) {
    std::vector<Text> fit = words;
    while (fit.size() > 1 && left + columns * em + sheet.width_of(font, fit) > right)
      fit.pop_back();
    if (!fit.empty() && left + columns * em + sheet.width_of(font, fit) <= right + em)
      sheet.line(font, fit, left + columns * em, y + kBaseline * pitch);
    y += pitch;
  }
};

Text joined(std::initializer_list<Text> parts) {
  Text all;
  for (const Text& part : parts) all.insert(all.end(), part.begin(), part.end());
  return all;
}

Text a_word(Sheet& sheet) {
  const std::vector<Text> words = sheet.words(1);
  return words.empty() ? text_of("x") : words.front();
}

Text a_number(Random& random) {
  return text_of(std::to_string(random.index(random.chance(0.5) ? 10 : 5000)));
}

// A statement of a program: names, signs, figures.
std::vector<Text> statement(Sheet& sheet, Random& random) {
  const auto name = [&] {
    return random.chance(0.4) ? joined({a_word(sheet), text_of("_"), a_word(sheet)})
                              : a_word(sheet);
  };
  const auto value = [&] {
    const double at = random.uniform();
    if (at < 0.3) return a_number(random);
    if (at < 0.5) return joined({text_of("\""), a_word(sheet), text_of("\"")});
    return name();
  };
  static const char* const relations[] = {"==", "!=", "<", ">", "<=", ">=", "&&", "||"};
  static const char* const opening[] = {"if", "for", "while", "return", "else", "let", "def"};
  const double at = random.uniform();
  if (at < 0.25)
    return {name(), text_of(random.chance(0.8) ? "=" : "+="), joined({value(), text_of(";")})};
  if (at < 0.45)
    return {joined({name(), text_of("("), value(), text_of(",")}),
            joined({value(), text_of(");")})};
  if (at < 0.6)
    return {text_of(opening[random.index(7)]), joined({text_of("("), name()}),
            text_of(relations[random.index(8)]), joined({value(), text_of(")")}), text_of("{")};
  if (at < 0.72) {
    std::vector<Text> words = sheet.words(2 + random.index(7));
    words.insert(words.begin(), text_of(random.chance(0.5) ? "//" : "#"));
    return words;
  }
  if (at < 0.8) return {text_of("}")};
  if (at < 0.9)
    return {joined({name(), text_of(random.chance(0.5) ? "." : "->"), name(), text_of("();")})};
  return {joined({name(), text_of("["), value(), text_of("]")}), text_of("="),
          joined({value(), text_of(";")})};
}

void set_program(Page& page, Random& random) {
  int depth = 0;
  page.sheet.begin(BlockKind::kText);
  while (!page.full()) {
    if (random.chance(0.1)) {
      page.y += page.pitch;
      page.sheet.begin(BlockKind::kText);
      continue;
    }
    const std::vector<Text> words = statement(page.sheet, random);
    if (words.front() == text_of("}")) depth = std::max(0, depth - 1);
    page.line(words, depth * (page.em > 0 ? 4 : 0));
    if (words.back() == text_of("{")) depth = std::min(5, depth + 1);
    if (random.chance(0.08)) depth = 0;
  }
}

// What runs across the page in place of a rule.
void set_ruler(Page& page, Random& random) {
  static const char* const signs[] = {"=", "~", "-", "*", "#", "+", "* ", "- "};
  const std::string sign = signs[random.index(8)];
  const int room = static_cast<int>((page.right - page.left) / page.em);
  const int count = std::max(4, static_cast<int>(random.uniform(0.15, 1) * room));
  std::vector<Text> words;
  if (sign.size() == 1)
    words = {text_of(std::string(static_cast<size_t>(count), sign[0]))};
  else
    words.assign(static_cast<size_t>(count / 2), text_of(sign.substr(0, 1)));
  page.sheet.begin(BlockKind::kText);
  page.line(words);
}

void set_prose(Page& page, Random& random, int columns, const std::string& quote = "") {
  page.sheet.begin(BlockKind::kText);
  const int lines = 1 + random.index(6);
  std::vector<Text> rest = page.sheet.words(lines * 9);
  while (!rest.empty() && !page.full()) {
    std::vector<Text> now;
    if (!quote.empty()) now.push_back(text_of(quote));
    const double room = page.right - page.left - columns * page.em;
    while (!rest.empty()) {
      now.push_back(rest.front());
      if (now.size() > 1 && page.sheet.width_of(page.font, now) > room) {
        now.pop_back();
        break;
      }
      rest.erase(rest.begin());
    }
    page.line(now, columns);
  }
}

void set_items(Page& page, Random& random) {
  static const char* const marks[] = {"*", "-", "o", "+"};
  const Text mark = random.chance(0.25) ? Text{U'•'} : text_of(marks[random.index(4)]);
  const int items = 2 + random.index(6), in = random.index(4);
  for (int i = 0; i < items && !page.full(); ++i) {
    page.sheet.begin(BlockKind::kText);
    std::vector<Text> words = page.sheet.words(2 + random.index(8));
    words.insert(words.begin(), mark);
    page.line(words, in);
  }
}

void set_manual(Page& page, Random& random) {
  const Font plain = page.font;
  while (!page.full()) {
    page.sheet.begin(BlockKind::kHeading, 2);
    page.font = heavier(plain, 1, random);
    page.font.style.tracking = 0;
    page.line(page.sheet.words(1 + random.index(2)));
    page.font = plain;
    const int parts = 1 + random.index(4);
    for (int i = 0; i < parts && !page.full(); ++i) {
      if (random.chance(0.5)) {  // an option, and what it does below it or beside it
        page.sheet.begin(BlockKind::kText);
        Text option = joined({text_of(random.chance(0.5) ? "--" : "-"), a_word(page.sheet)});
        page.line({option}, 7);
        set_prose(page, random, 14);
      } else {
        set_prose(page, random, 7);
      }
      page.y += page.pitch;
    }
  }
}

void set_mail(Page& page, Random& random) {
  static const char* const fields[] = {"From:", "To:", "Date:", "Subject:", "Cc:"};
  page.sheet.begin(BlockKind::kText);
  const int heads = 2 + random.index(4);
  for (int i = 0; i < heads && !page.full(); ++i) {
    std::vector<Text> words = page.sheet.words(1 + random.index(5));
    words.insert(words.begin(), text_of(fields[i]));
    page.line(words);
  }
  page.y += page.pitch;
  while (!page.full()) {
    const double at = random.uniform();
    if (at < 0.2)
      set_items(page, random);
    else if (at < 0.35)
      set_prose(page, random, 0, ">");
    else if (at < 0.5)
      set_ruler(page, random);
    else
      set_prose(page, random, 0);
    page.y += page.pitch * random.index(2);
  }
}

void set_console(Page& page, Random& random) {
  const std::vector<Text> prompt =
      random.chance(0.5)
          ? std::vector<Text>{text_of("$")}
          : std::vector<Text>{joined({text_of("user@"), a_word(page.sheet), text_of(":~$")})};
  while (!page.full()) {
    page.sheet.begin(BlockKind::kText);
    std::vector<Text> command = prompt;
    for (const Text& word : page.sheet.words(1 + random.index(3))) {
      if (random.chance(0.4))
        command.push_back(joined({text_of(random.chance(0.5) ? "-" : "--"), word}));
      else
        command.push_back(word);
    }
    page.line(command);
    const double at = random.uniform();
    if (at < 0.3) {  // columns of sizes and names
      page.y = fill_tabulated(page.sheet, page.font, page.pitch, page.em,
                              {page.left, page.y, page.right, page.foot}, random);
    } else {
      const int lines = random.index(7);
      for (int i = 0; i < lines && !page.full(); ++i) {
        std::vector<Text> words = page.sheet.words(1 + random.index(8));
        if (random.chance(0.4))
          words.insert(words.begin(), joined({a_word(page.sheet), text_of(":")}));
        page.line(words, random.chance(0.2) ? 2 : 0);
      }
      if (random.chance(0.15) && !page.full()) set_ruler(page, random);
    }
  }
}

}  // namespace

Sheet set_listing(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(70, 150), random.uniform(50, 180));
  const double unit = desk.unit;
  Font font = desk.typewriter();
  if (random.chance(0.5)) {  // thin, and pale
    font.style.embolden = random.uniform(-0.035, -0.005);
    font.style.strength = random.uniform(0.45, 1);
  }
  const double pitch = random.uniform(2, 2.9) * unit;
  font.pitch = pitch;
  const double em = sheet.width_of(font, {text_of("0000000000")}) / 10;
  Page page{sheet,
            font,
            em,
            pitch,
            random.uniform(2, 14) * unit,
            sheet.width() - random.uniform(2, 10) * unit,
            random.uniform(2, 14) * unit,
            sheet.height() - random.uniform(2, 10) * unit};
  switch (random.index(4)) {
    case 0:
      set_program(page, random);
      break;
    case 1:
      set_console(page, random);
      break;
    case 2:
      set_manual(page, random);
      break;
    default:
      set_mail(page, random);
      break;
  }
  if (random.chance(0.15)) sheet.reverse({0, 0, sheet.width(), sheet.height()}, 0.88);
  return sheet;
}

// Short headings over rows of a key and what it does, in columns.
Sheet set_card(Desk& desk) {
  Random& random = desk.random;
  const bool wide = random.chance(0.5);
  Sheet sheet = wide ? desk.sheet(random.uniform(160, 200), random.uniform(110, 140))
                     : desk.sheet(random.uniform(90, 140), random.uniform(130, 190));
  const double unit = desk.unit;
  const Font font = desk.font(),
             keys = random.chance(0.6) ? desk.typewriter() : heavier(font, 1, random);
  Box area{random.uniform(5, 10) * unit, random.uniform(6, 12) * unit,
           sheet.width() - random.uniform(5, 10) * unit,
           sheet.height() - random.uniform(6, 12) * unit};
  if (random.chance(0.6)) {
    sheet.begin(BlockKind::kHeading, 1);
    ParagraphStyle style;
    style.align = Align::kCentred;
    style.words = 2 + random.index(4);
    area.y0 = sheet.paragraph(heavier(font, random.uniform(1.3, 2.2), random), style, area) + unit;
  }
  const int columns = wide ? 2 + random.index(3) : 1 + random.index(3);
  const double gap = random.uniform(2.5, 6) * unit,
               each = (area.width() - (columns - 1) * gap) / columns;
  const double share = random.uniform(0.25, 0.6);
  const bool keys_last = random.chance(0.4), rules = random.chance(0.2);
  for (int c = 0; c < columns; ++c) {
    const double x = area.x0 + c * (each + gap);
    if (c > 0 && rules)
      sheet.rule({x - gap / 2, area.y0}, {x - gap / 2, area.y1}, std::max(1.0, 0.06 * unit));
    double y = area.y0;
    while (y < area.y1 - 8 * unit) {
      if (random.chance(0.85)) {
        sheet.begin(BlockKind::kHeading, 2);
        ParagraphStyle style;
        style.align = random.chance(0.7) ? Align::kLeft : Align::kCentred;
        style.words = 1 + random.index(4);
        y = sheet.paragraph(heavier(font, random.uniform(1, 1.3), random), style,
                            {x, y, x + each, area.y1}) +
            random.uniform(0.1, 0.8) * unit;
      }
      if (random.chance(0.25)) {
        sheet.begin(BlockKind::kText);
        ParagraphStyle style;
        style.words = 4 + random.index(24);
        y = sheet.paragraph(font, style, {x, y, x + each, area.y1}) + 0.4 * unit;
      }
      sheet.begin(BlockKind::kTable);
      const int rows = 2 + random.index(12);
      for (int row = 0; row < rows && y + font.pitch < area.y1; ++row, y += font.pitch) {
        const double base = y + 1.6 * unit;
        Text key = random.chance(0.5) ? joined({text_of("\\"), a_word(sheet)}) : a_word(sheet);
        if (random.chance(0.3)) key = joined({text_of("C-"), Text{key[0]}});
        std::vector<Text> meaning = sheet.words(1 + random.index(5));
        const Font& first_font = keys_last ? font : keys;
        const Font& last_font = keys_last ? keys : font;
        std::vector<Text> first = keys_last ? meaning : std::vector<Text>{key};
        std::vector<Text> last = keys_last ? std::vector<Text>{key} : meaning;
        const double part = keys_last ? 1 - 0.5 * share : share;
        while (first.size() > 1 && sheet.width_of(first_font, first) > part * each - 2 * unit)
          first.pop_back();
        while (last.size() > 1 && sheet.width_of(last_font, last) > (1 - part) * each)
          last.pop_back();
        if (first.empty() || last.empty() ||
            sheet.width_of(first_font, first) > part * each - 1.5 * unit ||
            sheet.width_of(last_font, last) > (1 - part) * each)
          continue;
        const size_t at = sheet.block().lines.size();
        const Box left = sheet.line(first_font, first, x, base);
        if (!left.empty()) sheet.cell(row, 0, at, left);
        const size_t next = sheet.block().lines.size();
        const Box right = sheet.line(last_font, last, x + part * each, base);
        if (!right.empty()) sheet.cell(row, 1, next, right);
      }
      y += random.uniform(0.5, 2) * unit;
    }
  }
  return sheet;
}

}  // namespace burnisher::compose
