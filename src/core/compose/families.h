// The families of pages that are composed: each sets one sheet, with everything about it drawn at
// random from wide ranges.
#pragma once

#include <string>
#include <vector>

#include "compose/sheet.h"

namespace burnisher::compose {

// What a family sets pages with.
struct Desk {
  TypefaceSampler& faces;
  const PageText& text;
  Random& random;
  double unit;  // x-height of the main text, pixels

  Font font(double size = 1);                // any face of the script; `size` times the main text
  Font typewriter(double size = 1);          // of one width
  Sheet sheet(double width, double height);  // in x-heights of the main text
};

// A font of the same look and weight of letters, for headings.
Font heavier(const Font& font, double size, Random& random);

struct Family {
  const char* name;
  Sheet (*set)(Desk&);
  double share;  // of the pages when none is asked for
};

const std::vector<Family>& families();

// One file each.
Sheet set_book(Desk& desk);
Sheet set_spread(Desk& desk);
Sheet set_article(Desk& desk);
Sheet set_news(Desk& desk);
Sheet set_magazine(Desk& desk);
Sheet set_typed(Desk& desk);
Sheet set_letter(Desk& desk);
Sheet set_table(Desk& desk);
Sheet set_form(Desk& desk);
Sheet set_list(Desk& desk);
Sheet set_poster(Desk& desk);
Sheet set_receipt(Desk& desk);
Sheet set_blank(Desk& desk);
Sheet set_screen(Desk& desk);
Sheet set_listing(Desk& desk);
Sheet set_card(Desk& desk);

// Shared by several.
Text text_of(const std::string& ascii);
Text amount(Random& random);
void scribble_somewhere(Desk& desk, Sheet& sheet, const Box& area);
// A ticket, an index card or a docket: as `receipt`, but small and wide.
Sheet set_slip(Desk& desk);
// Prose, headings and pictures from the top of `area` to its foot. Returns where it ends.
double fill_column(Desk& desk, Sheet& sheet, const Font& font, const Box& area,
                   double picture_chance);
// A table in `area`; returns where it ends.
double fill_table(Desk& desk, Sheet& sheet, const Font& font, const Box& area);
// Columns set with the tabulator, in rows, now and then in groups. Returns where they end.
double fill_tabulated(Sheet& sheet, const Font& font, double pitch, double em, const Box& area,
                      Random& random);
void set_picture_with_caption(Desk& desk, Sheet& sheet, const Font& font, const Box& area);

}  // namespace burnisher::compose
