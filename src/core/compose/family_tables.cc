// Tables and lists: what is read across rather than down.
#include <algorithm>
#include <cmath>

#include "compose/families.h"

namespace burnisher::compose {
namespace {

Text figure(int kind, Random& random) {
  switch (kind) {
    case 0:
      return text_of(std::to_string(random.index(2000)));
    case 1:
      return text_of(std::to_string(random.index(900)) + "." +
                     std::to_string(10 + random.index(90)));
    case 2:
      return text_of(std::to_string(random.index(24)) + ":" +
                     std::to_string(10 + random.index(50)));
    default:
      return text_of(random.chance(0.1) ? "-" : std::to_string(random.index(100)) + "%");
  }
}

std::vector<Text> that_fit(Sheet& sheet, const Font& font, std::vector<Text> words, double room) {
  while (!words.empty() && sheet.width_of(font, words) > room) words.pop_back();
  return words;
}

}  // namespace

double fill_table(Desk& desk, Sheet& sheet, const Font& font, const Box& area) {
  Random& random = desk.random;
  const double unit = font.style.x_height;
  const int columns =
      std::clamp(2 + random.index(8), 2, std::max(2, static_cast<int>(area.width() / (8 * unit))));
  // Column edges: uneven widths, the first often the widest.
  std::vector<double> share(static_cast<size_t>(columns)), edge(static_cast<size_t>(columns) + 1);
  double sum = 0;
  for (double& s : share) sum += s = random.uniform(0.6, 1.6);
  if (random.chance(0.6)) sum += share[0], share[0] *= 2;
  // A column of remarks: prose in nearly every row.
  const int remarks = columns > 2 && random.chance(0.3) ? 1 + random.index(columns - 1) : -1;
  if (remarks >= 0) {
    sum += 2 * share[static_cast<size_t>(remarks)];
    share[static_cast<size_t>(remarks)] *= 3;
  }
  const bool groups = random.chance(0.2);  // rows of one cell right across
  edge[0] = area.x0;
  for (size_t c = 0; c < share.size(); ++c) edge[c + 1] = edge[c] + area.width() * share[c] / sum;
  std::vector<int> kind(static_cast<size_t>(columns));  // below 0: words
  for (int& k : kind) k = random.chance(0.65) ? random.index(4) : -1;
  if (random.chance(0.8)) kind[0] = -1;
  if (remarks >= 0) kind[static_cast<size_t>(remarks)] = -1;

  // 0 none, 1 head only, 2 level rules, 3 all, 4 upright only
  const int ruling = random.index(5);
  const bool stripes = random.chance(0.12);
  const bool outer = ruling == 3 || random.chance(0.3);
  const double thin = std::max(1.0, random.uniform(0.05, 0.14) * unit);
  const double gaps = random.chance(0.25) ? random.uniform(0.05, 0.3) : 0;
  const double pad = random.uniform(0.5, 1.4) * unit;
  const double slack = random.uniform(0, ruling >= 2 ? 2 : 1.2) * unit;
  const bool tall_rows = random.chance(0.3);

  // First cells that stand for several rows, where rules show it.
  const bool tall_cells = (ruling == 2 || ruling == 3) && columns > 2 && remarks < 0 &&
                          !tall_rows && !groups && random.chance(0.75);
  int covered_rows = 0;  // still to come of such a cell

  sheet.begin(BlockKind::kTable);
  const size_t table = sheet.page().truth.blocks.size() - 1;
  std::vector<double> levels = {area.y0};
  std::vector<bool> broken;              // the rule above the row begins at the second column
  std::vector<std::vector<bool>> spans;  // per row: the edge at the left of column c is covered
  double y = area.y0;
  const Font head = random.chance(0.6) ? heavier(font, 1, random) : font;
  const int head_rows = random.chance(0.2) ? 2 : 1;
  for (int row = 0; y < area.y1 - 3 * unit; ++row) {
    const bool header = row < head_rows;
    const double top = y + slack / 2;
    double low = top + font.pitch;
    std::vector<bool> covered(static_cast<size_t>(columns), false);
    if (stripes && row % 2 == 1) sheet.tint({area.x0, y, area.x1, y + font.pitch + slack}, 0.12);
    broken.push_back(covered_rows > 0);
    int first = 0;
    if (covered_rows > 0) {
      --covered_rows;
      first = 1;
    }
    for (int c = first; c < columns;) {
      const bool group = groups && !header && c == 0 && random.chance(0.12);
      const bool spanning = head_rows == 2 && row == 0 && c > 0 && random.chance(0.7);
      const int wide = group ? columns : spanning ? std::min(columns - c, 2 + random.index(2)) : 1;
      for (int k = c + 1; k < c + wide; ++k) covered[static_cast<size_t>(k)] = true;
      const auto from = static_cast<size_t>(c);
      const Box room{edge[from] + pad, top, edge[from + static_cast<size_t>(wide)] - pad, area.y1};
      const size_t before = sheet.block().lines.size();
      const Font& f = header ? head : font;
      const bool words = header || kind[from] < 0;
      const bool empty = !header && c > 0 && random.chance(0.06);
      int high = 1;
      if (tall_cells && !header && c == 0 && random.chance(0.4)) {
        high = 2 + random.index(3);
        if (area.y1 - y < (high + 1) * (font.pitch + slack) + 3 * unit) high = 1;
        covered_rows = high - 1;
      }
      const double down = random.chance(0.5) ? (high - 1) * (font.pitch + slack) / 2 : 0;
      const bool remark = c == remarks && !header && !group && random.chance(0.9);
      if (!empty && words && !group && (remark || (tall_rows && random.chance(0.35)))) {
        ParagraphStyle style;
        style.align = Align::kLeft;
        style.words = 3 + random.index(remark ? 22 : 9);
        low = std::max(
            low, sheet.paragraph(f, style,
                                 {room.x0, top, room.x1, std::min(area.y1, top + 4 * f.pitch)}));
      } else if (!empty) {
        std::vector<Text> text = words ? sheet.words(1 + random.index(3))
                                       : std::vector<Text>{figure(kind[from], random)};
        text = that_fit(sheet, f, text, room.width());
        const bool right = !words && !header;
        const bool middle = spanning || (header && random.chance(0.3));
        sheet.line(f, text,
                   middle  ? (room.x0 + room.x1) / 2
                   : right ? room.x1
                           : room.x0,
                   top + 1.6 * unit + down,
                   middle  ? Align::kCentred
                   : right ? Align::kRight
                           : Align::kLeft);
      }
      Cell& cell =
          sheet.cell(row, c, before, {edge[from], y, edge[from + static_cast<size_t>(wide)], y});
      cell.columns = wide;
      cell.rows = high;
      cell.header = header;
      c += wide;
    }
    y = low + slack / 2;
    for (Cell& cell : sheet.block().cells) {
      if (cell.row + cell.rows > row) cell.box.y1 = y;
    }
    levels.push_back(y);
    spans.push_back(covered);
    if (row > 3 && covered_rows == 0 && random.chance(0.03)) break;
  }
  const int rows = static_cast<int>(levels.size()) - 1;
  const auto level_rule = [&](size_t i) {
    const bool whole = i >= broken.size() || !broken[i];
    sheet.rule({whole ? area.x0 : edge[1], levels[i]}, {area.x1, levels[i]}, thin, gaps);
  };
  if (ruling == 2 || ruling == 3) {
    for (size_t i = 0; i < levels.size(); ++i) level_rule(i);
  } else if (ruling == 1) {
    level_rule(0);
    level_rule(static_cast<size_t>(std::min(rows, head_rows)));
    level_rule(levels.size() - 1);
  }
  if (ruling >= 3) {
    for (int c = 1; c < columns; ++c) {
      for (int r = 0; r < rows; ++r) {
        if (!spans[static_cast<size_t>(r)][static_cast<size_t>(c)])
          sheet.rule({edge[static_cast<size_t>(c)], levels[static_cast<size_t>(r)]},
                     {edge[static_cast<size_t>(c)], levels[static_cast<size_t>(r) + 1]}, thin,
                     gaps);
      }
    }
  }
  if (outer) sheet.frame({area.x0, levels.front(), area.x1, levels.back()}, thin, gaps);
  sheet.page().truth.blocks[table].outline =
      Box{area.x0, levels.front(), area.x1, levels.back()}.corners();
  return levels.back();
}

Sheet set_table(Desk& desk) {
  Random& random = desk.random;
  const bool wide = random.chance(0.25);
  Sheet sheet = wide ? desk.sheet(random.uniform(170, 200), random.uniform(110, 140))
                     : desk.sheet(random.uniform(110, 140), random.uniform(140, 190));
  const double unit = desk.unit;
  const Font font = random.chance(0.15) ? desk.typewriter() : desk.font();
  Box rest{random.uniform(7, 14) * unit, random.uniform(8, 16) * unit,
           sheet.width() - random.uniform(7, 14) * unit,
           sheet.height() - random.uniform(8, 14) * unit};
  while (rest.height() > 20 * unit) {
    ParagraphStyle style;
    if (random.chance(0.6)) {
      sheet.begin(random.chance(0.5) ? BlockKind::kHeading : BlockKind::kCaption, 2);
      style.align = random.chance(0.5) ? Align::kLeft : Align::kCentred;
      style.words = 3 + random.index(8);
      rest.y0 = sheet.paragraph(heavier(font, random.uniform(1, 1.3), random), style, rest) + unit;
    }
    const double in = random.chance(0.3) ? random.uniform(0.05, 0.2) * rest.width() : 0;
    const double high = random.chance(0.5) ? rest.height() : random.uniform(20, 70) * unit;
    rest.y0 = fill_table(desk, sheet, random.chance(0.5) ? font : font.sized(0.85),
                         {rest.x0 + in, rest.y0, rest.x1 - in, std::min(rest.y1, rest.y0 + high)}) +
              2 * unit;
    if (random.chance(0.5) && rest.height() > 10 * unit)
      rest.y0 = fill_column(desk, sheet, font,
                            {rest.x0, rest.y0, rest.x1,
                             std::min(rest.y1, rest.y0 + random.uniform(8, 40) * unit)},
                            0) +
                2 * unit;
    if (random.chance(0.2)) break;
  }
  return sheet;
}

namespace {

// Two lines of the truth become one: a leader leads from one to the other.
void join_by_leader(size_t at, std::vector<Line>& lines) {
  Line right = std::move(lines.back());
  lines.pop_back();
  Line& left = lines[at];
  left.words.push_back(right.words.front());
  left.baseline.back() = right.baseline.back();
  left.outline[1] = right.outline[1];
  left.outline[2] = right.outline[2];
  left.box = united(left.box, right.box);
}

// Titles or names with their page or number at the right: with leaders a line each, without a row.
void fill_contents(Desk& desk, Sheet& sheet, const Font& font, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const bool leaders = random.chance(0.85);
  const double step =
      random.chance(0.4) ? random.uniform(0.3, 0.7) * unit : random.uniform(0.6, 2.2) * unit;
  const double radius = std::max(0.5, random.uniform(0.05, 0.16) * unit);
  const double between = random.chance(0.4) ? random.uniform(0.2, 1) * font.pitch : 0;
  const bool long_numbers = random.chance(0.3);
  const int longest = 1 + random.index(8);
  int number = 1, row = 0;
  sheet.begin(leaders ? BlockKind::kText : BlockKind::kTable);
  for (double y = area.y0 + 1.6 * unit; y < area.y1; y += font.pitch + between) {
    const double in = random.index(3) * 2 * unit * (random.chance(0.5) ? 1 : 0);
    std::vector<Text> words =
        that_fit(sheet, font, sheet.words(1 + random.index(longest)), area.width() * 0.75);
    if (words.empty()) continue;
    const size_t at = sheet.block().lines.size();
    const Box title = sheet.line(font, words, area.x0 + in, y);
    if (title.empty()) continue;
    if (!leaders) sheet.cell(row, 0, at, title);
    number += 1 + random.index(14);
    const int shown = long_numbers ? 10000 + random.index(90000) : number;
    const Box page = sheet.line(font, {text_of(std::to_string(shown))}, area.x1, y, Align::kRight);
    if (!page.empty() && leaders) {
      join_by_leader(at, sheet.block().lines);
      sheet.dots({title.x1 + random.uniform(0.3, 0.8) * unit, y - radius}, page.x0 - 0.4 * unit,
                 step, radius);
    } else if (!page.empty()) {
      sheet.cell(row, 1, at + 1, page);
    }
    ++row;
  }
}

void fill_entries(Desk& desk, Sheet& sheet, const Font& font, const Box& area, double hang) {
  Random& random = desk.random;
  double y = area.y0;
  const double between = random.chance(0.3) ? random.uniform(0.1, 0.8) * font.pitch : 0;
  const int longest = 4 + random.index(40);
  const bool together = hang != 0 && between == 0;
  sheet.begin(BlockKind::kText);
  while (y < area.y1 - 2 * desk.unit) {
    if (!together) sheet.begin(BlockKind::kText);
    ParagraphStyle style;
    style.align = random.chance(0.5) ? Align::kLeft : Align::kJustified;
    style.indent = -hang;
    std::vector<Text> words = sheet.words(2 + random.index(longest));
    const double end = sheet.paragraph(font, style, {area.x0, y, area.x1, area.y1}, words);
    if (end <= y) break;
    y = end + between;
  }
}

// Words with the pages they stand on, under letters of the alphabet.
void fill_index(Desk& desk, Sheet& sheet, const Font& font, const Box& area, double hang) {
  Random& random = desk.random;
  const bool letters = random.chance(0.6);
  double y = area.y0;
  sheet.begin(BlockKind::kText);
  while (y < area.y1 - 2 * desk.unit) {
    ParagraphStyle style;
    style.align = Align::kLeft;
    style.indent = -hang;
    std::vector<Text> words = sheet.words(1 + random.index(3));
    if (letters && !words.empty() && random.chance(0.08)) {
      y += 0.6 * font.pitch;
      sheet.begin(BlockKind::kText);
      y = sheet.paragraph(font, style, {area.x0, y, area.x1, area.y1}, {Text{words[0][0]}});
      sheet.begin(BlockKind::kText);
    }
    for (int i = 0; i < 1 + random.index(4); ++i) {
      if (words.empty()) break;
      words.back().push_back(',');
      std::string pages = std::to_string(1 + random.index(600));
      if (random.chance(0.2)) pages += "-" + std::to_string(1 + random.index(600));
      words.push_back(text_of(pages));
    }
    const double end = sheet.paragraph(font, style, {area.x0, y, area.x1, area.y1}, words);
    if (end <= y) break;
    y = end;
  }
}

void fill_numbered(Desk& desk, Sheet& sheet, const Font& font, const Box& area) {
  Random& random = desk.random;
  const bool bullets = random.chance(0.4);
  const double in = random.uniform(2.5, 5) * desk.unit;
  double y = area.y0;
  for (int i = 1; y < area.y1 - 2 * desk.unit; ++i) {
    sheet.begin(BlockKind::kText);
    const std::vector<Text> sign = {text_of(bullets ? "-" : std::to_string(i) + ".")};
    std::vector<Text> words = sheet.words(3 + random.index(30));
    // The sign stands on the first line, the rest hangs clear of it.
    words.insert(words.begin(), sign[0]);
    ParagraphStyle style;
    style.align = Align::kLeft;
    style.indent = -in;
    const double end = sheet.paragraph(font, style, {area.x0, y, area.x1, area.y1}, words);
    if (end <= y) break;
    y = end + random.uniform(0, 0.6) * font.pitch;
  }
}

}  // namespace

Sheet set_list(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(90, 140), random.uniform(130, 190));
  const double unit = desk.unit;
  const Font font = desk.font();
  Box area{random.uniform(7, 14) * unit, random.uniform(8, 16) * unit,
           sheet.width() - random.uniform(7, 14) * unit,
           sheet.height() - random.uniform(8, 14) * unit};
  if (random.chance(0.6)) {
    sheet.begin(BlockKind::kHeading, 1);
    ParagraphStyle style;
    style.align = random.chance(0.6) ? Align::kCentred : Align::kLeft;
    style.words = 1 + random.index(4);
    area.y0 =
        sheet.paragraph(heavier(font, random.uniform(1.2, 2.2), random), style, area) + 2 * unit;
  }
  const int kind = random.index(6);
  const int most = area.width() > 100 * unit ? 4 : 3;
  const int columns = 1 + random.index(kind == 0 ? most - 1 : most);
  const double gap = random.uniform(2, 4) * unit,
               each = (area.width() - (columns - 1) * gap) / columns;
  const bool rules = random.chance(0.25);
  const double hang = random.uniform(1, 3) * unit;
  for (int c = 0; c < columns; ++c) {
    const double x = area.x0 + c * (each + gap);
    const Box column{x, area.y0, x + each, area.y1};
    if (c > 0 && rules)
      sheet.rule({x - gap / 2, area.y0}, {x - gap / 2, area.y1}, std::max(1.0, 0.06 * unit));
    if (kind == 0)
      fill_contents(desk, sheet, font, column);
    else if (kind == 1)
      fill_numbered(desk, sheet, font, column);
    else if (kind >= 4)
      fill_index(desk, sheet, font.sized(0.9), column, hang);
    else
      fill_entries(desk, sheet, font.sized(columns > 2 ? 0.85 : 1), column, kind == 2 ? hang : 0);
  }
  return sheet;
}

namespace {

// What is larger than most of a page is set in is a heading.
void name_headings(std::vector<Block>& blocks) {
  std::vector<std::pair<double, double>> sizes;  // x-height, width
  double all = 0, below = 0, usual = 0;
  for (const Block& block : blocks) {
    for (const Line& line : block.lines) {
      sizes.emplace_back(line.x_height, line.box.width());
      all += line.box.width();
    }
  }
  std::sort(sizes.begin(), sizes.end());
  for (const auto& [size, width] : sizes) {
    if (below < all / 2) usual = size;
    below += width;
  }
  for (Block& block : blocks) {
    if (block.lines.empty() || block.lines.front().x_height < 1.35 * usual) continue;
    block.kind = BlockKind::kHeading;
    block.level = 1;
  }
}

}  // namespace

Sheet set_poster(Desk& desk) {
  Random& random = desk.random;
  Sheet sheet = desk.sheet(random.uniform(80, 130), random.uniform(110, 180));
  const double unit = desk.unit;
  Box area{8 * unit, random.uniform(8, 20) * unit, sheet.width() - 8 * unit,
           sheet.height() - 10 * unit};
  if (random.chance(0.4)) {
    const Box border{3 * unit, 3 * unit, sheet.width() - 3 * unit, sheet.height() - 3 * unit};
    sheet.frame(border, std::max(1.0, random.uniform(0.1, 0.5) * unit));
  }
  const Font main = desk.font();
  double y = area.y0;
  while (y < area.y1 - 6 * unit) {
    Font font = random.chance(0.3) ? desk.font() : main;
    font = heavier(font, std::exp(random.uniform(-0.1, 1.6)), random);
    if (random.chance(0.25)) font.style.tracking = random.uniform(0.05, 0.3);
    font.style.word_space = std::max(font.style.word_space, 1 + 10 * font.style.tracking);
    if (random.chance(0.06) && area.y1 - y > 40 * unit) {
      const double size = random.uniform(10, 25) * unit;
      sheet.picture({sheet.width() / 2 - size / 2, y, sheet.width() / 2 + size / 2, y + size});
      y += size + 2 * unit;
      continue;
    }
    if (random.chance(0.15)) {
      const double half = random.uniform(0.1, 0.5) * area.width();
      sheet.rule({sheet.width() / 2 - half, y}, {sheet.width() / 2 + half, y},
                 std::max(1.0, 0.1 * unit));
      y += 1.5 * unit;
    }
    sheet.begin(BlockKind::kText);
    ParagraphStyle style;
    style.align = Align::kCentred;
    style.words = 1 + random.index(7);
    y = sheet.paragraph(font, style, {area.x0, y, area.x1, area.y1}) +
        std::exp(random.uniform(-0.7, 2)) * unit;
  }
  name_headings(sheet.page().truth.blocks);
  return sheet;
}

}  // namespace burnisher::compose
