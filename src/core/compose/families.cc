#include "compose/families.h"

#include <algorithm>
#include <cmath>

namespace burnisher::compose {
namespace {

// As much pitch as type has between lines of prose, in x-heights: from solid to leaded.
double draw_pitch(Random& random) {
  return random.uniform(2.2, 3.1);
}

Font font_of(const Typeface* face, double x_height, Random& random) {
  Font font;
  font.face = face;
  font.style.x_height = x_height;
  if (random.chance(0.2)) font.style.condense = random.uniform(0.85, 1.15);
  if (random.chance(0.2)) font.style.embolden = random.uniform(-0.01, 0.02);
  Random apart = random;
  apart.uniform();
  if (apart.chance(0.05)) {  // thin and pale
    font.style.embolden = apart.uniform(-0.03, -0.01);
    font.style.strength = apart.uniform(0.5, 0.9);
  }
  if (random.chance(0.3)) font.style.word_space = random.uniform(0.8, 1.5);
  font.pitch = draw_pitch(random) * x_height;
  return font;
}

// What a face must have: figures, which stand on most pages, beside the script's letters.
Text sample_of(const std::string& script) {
  return script == "Latn" ? Text{U'A', U'a', U'1'} : Text{U'1'};
}

}  // namespace

Text text_of(const std::string& ascii) {
  return Text(ascii.begin(), ascii.end());
}

Text amount(Random& random) {
  return text_of(std::to_string(random.index(900)) + "." + std::to_string(10 + random.index(90)));
}

void scribble_somewhere(Desk& desk, Sheet& sheet, const Box& area) {
  Random& random = desk.random;
  const double unit = desk.unit;
  const double w = random.uniform(12, 40) * unit, h = random.uniform(3, 8) * unit;
  const double x = random.uniform(area.x0, std::max(area.x0 + 1, area.x1 - w));
  const double y = random.uniform(area.y0, std::max(area.y0 + 1, area.y1 - h));
  sheet.scribble({x, y, x + w, y + h}, std::max(0.6, random.uniform(0.08, 0.16) * unit));
}

Font Desk::font(double size) {
  const Typeface* face = nullptr;
  while (face == nullptr) {
    face = faces.draw(sample_of(text.script), random);
    // Blackletter and hands are for headings, if for anything.
    if (face != nullptr && (face->klass() == "hand" || face->klass() == "blackletter") &&
        !random.chance(0.15))
      face = nullptr;
  }
  return font_of(face, size * unit, random);
}

Font Desk::typewriter(double size) {
  const Typeface* face = nullptr;
  for (int tries = 0; tries < 400; ++tries) {
    const Typeface* const drawn = faces.draw(sample_of(text.script), random);
    if (drawn == nullptr) continue;
    face = drawn;
    if (face->klass() == "mono" || face->klass() == "typewriter") break;
  }
  if (face == nullptr) return font(size);
  Font font = font_of(face, size * unit, random);
  font.style.word_space = 1;
  font.style.condense = 1;
  return font;
}

Sheet Desk::sheet(double width, double height) {
  return Sheet(static_cast<int>(width * unit), static_cast<int>(height * unit), text, random);
}

Font heavier(const Font& font, double size, Random& random) {
  Font heading = font.sized(size);
  if (random.chance(0.6)) heading.style.embolden += random.uniform(0.01, 0.035);
  if (random.chance(0.15)) heading.style.tracking = random.uniform(0.03, 0.15);
  heading.pitch = random.uniform(2.1, 2.6) * heading.style.x_height;
  return heading;
}

const std::vector<Family>& families() {
  static const std::vector<Family> all = {
      {"book", set_book, 0.09},         {"spread", set_spread, 0.03},
      {"article", set_article, 0.06},   {"news", set_news, 0.10},
      {"magazine", set_magazine, 0.07}, {"typed", set_typed, 0.07},
      {"letter", set_letter, 0.06},     {"table", set_table, 0.11},
      {"form", set_form, 0.10},         {"list", set_list, 0.09},
      {"poster", set_poster, 0.05},     {"receipt", set_receipt, 0.04},
      {"blank", set_blank, 0.03},       {"listing", set_listing, 0.05},
      {"screen", set_screen, 0.05},     {"card", set_card, 0.04}};
  return all;
}

}  // namespace burnisher::compose
