// The figures of docs/cleaning.md, measured where every pixel's truth is known. Run with
// --gtest_filter='Figures.*' to print the tables.

#include <fmt/core.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "clean/binarise.h"
#include "clean/despeckle.h"
#include "raster/convert.h"
#include "raster/text_scale.h"
#include "testing/cleaned.h"
#include "testing/damaged_page.h"
#include "testing/sauvola.h"

namespace burnisher::clean {
namespace {

using burnisher::testing::damaged;
using burnisher::testing::DamagedPage;
using burnisher::testing::likeness;
using burnisher::testing::PrintedPage;
using burnisher::testing::prose;
using burnisher::testing::sauvola;
using compose::ScanDamage;

struct PaperCase {
  const char* name;
  double dpi;
  ScanDamage damage;
};

std::vector<PaperCase> paper_cases() {
  std::vector<PaperCase> cases;
  for (const double dpi : {200.0, 300.0}) {
    ScanDamage scanned;
    scanned.ink_blur = 0.04;
    scanned.ragged = 0.05;
    scanned.blur = 0.5;
    scanned.noise = 0.012;
    scanned.paper = 0.9;
    scanned.texture = 0.01;
    cases.push_back({"plain", dpi, scanned});
    ScanDamage d = scanned;
    d.stain = 0.3;
    cases.push_back({"stains", dpi, d});
    d = scanned;
    d.ink = 0.32;
    cases.push_back({"faint", dpi, d});
    d = scanned;
    d.ink = 0.4;
    d.fading = 0.4;
    cases.push_back({"faint, fading", dpi, d});
    d = scanned;
    d.show_through = 0.25;
    cases.push_back({"show-through", dpi, d});
    d = scanned;
    d.gradient = 0.5;
    cases.push_back({"uneven light", dpi, d});
    d.gradient = 0.35;
    d.stain = 0.15;
    d.show_through = 0.1;
    d.ink = 0.6;
    cases.push_back({"all of it", dpi, d});
  }
  return cases;
}

PrintedPage printed(double dpi) {
  const double size = 10.5 / 72 * dpi;
  PrintedPage page(static_cast<int>(6 * dpi), static_cast<int>(4 * dpi));
  page.print_column(prose(14, 62), 0.6 * dpi, 0.6 * dpi, size, 1.35 * size);
  page.print({"Light list, 1887", 0.6 * dpi, 3.6 * dpi, 2 * size});
  return page;
}

TEST(Figures, InkIsFoundOnDamagedPaper) {
  fmt::print("{:<16}{:>5}{:>8}{:>10}{:>8}   F-measure, %\n", "paper", "dpi", "Otsu", "Sauvola",
             "ours");
  double sum = 0;
  const std::vector<PaperCase> cases = paper_cases();
  for (size_t i = 0; i < cases.size(); ++i) {
    const PaperCase& c = cases[i];
    const DamagedPage page = damaged(printed(c.dpi), 0.063 * c.dpi, c.damage, i + 1);
    const auto f = [&](const Bitonal& found) {
      return 100 * likeness(found, page.truth).f_measure();
    };
    const double ours = f(binarise(page.scan, {}, c.dpi));
    fmt::print("{:<16}{:>5}{:>8.1f}{:>10.1f}{:>8.1f}\n", c.name, c.dpi,
               f(to_bitonal(page.scan, otsu_threshold(page.scan))),
               f(sauvola(page.scan, static_cast<int>(0.1 * c.dpi))), ours);
    EXPECT_GE(ours, 88) << c.name << " at " << c.dpi << " dpi";
    sum += ours;
  }
  fmt::print("mean {:.1f}\n", sum / static_cast<double>(cases.size()));
  EXPECT_GE(sum / static_cast<double>(cases.size()), 95);
}

// Text with all that a speck can be mistaken for.
std::vector<std::string> dotted_text() {
  std::vector<std::string> lines = prose(9, 56);
  lines.push_back("Wick, oil; glass: 3.25, 1.5 and 0.75 tons. Skerrow light.");
  lines.push_back("Ijssel, Ångström, naïve, Zoë, façade, Čapek: i.e. j; ÿ?!");
  lines.push_back("“Oh, no,” said the keeper, “I’ll ‘mind’ the light.”");
  lines.push_back("Stores ............ 14   Lamps . . . . . . . . . . . 15");
  return lines;
}

struct Speck {
  int x, y, size;
};

TEST(Figures, SpecksGoAndPunctuationStays) {
  int specks = 0, removed = 0, dots = 0, lost = 0;
  for (const double dpi : {200.0, 300.0, 400.0}) {
    const double size = 10.5 / 72 * dpi;
    PrintedPage page(static_cast<int>(5.4 * dpi), static_cast<int>(4 * dpi));
    page.print_column(dotted_text(), 0.5 * dpi, 0.6 * dpi, size, 1.35 * size);
    const Bitonal clean = to_bitonal(page.picture(), 140);
    const Components before = components_of(clean);
    const double text_height = dominant_height(before.list);
    Bitonal ink = clean.clone();
    Random random(static_cast<uint64_t>(dpi));
    std::vector<Speck> strewn;
    while (strewn.size() < 600) {
      const int across = 1 + random.index(std::max(1, static_cast<int>(0.2 * text_height)));
      const Speck s{4 + random.index(clean.width() - 20), 4 + random.index(clean.height() - 20),
                    across};
      bool free = true;  // what touches a letter is part of it
      for (int y = s.y - 2; y < s.y + s.size + 2; ++y) {
        for (int x = s.x - 2; x < s.x + s.size + 2; ++x) free = free && !ink.ink(x, y);
      }
      if (!free) continue;
      for (int y = s.y; y < s.y + s.size; ++y) {
        for (int x = s.x; x < s.x + s.size; ++x) ink.set_ink(x, y, true);
      }
      strewn.push_back(s);
    }
    despeckle({}, text_height, ink);
    for (const Speck& s : strewn) removed += !ink.ink(s.x, s.y);
    specks += static_cast<int>(strewn.size());
    for (const Component& c : before.list) {
      if (c.height() > 0.5 * text_height || c.width() > 0.8 * text_height) continue;
      ++dots;
      int left = 0;
      for (int y = c.y0; y < c.y1; ++y) {
        for (int x = c.x0; x < c.x1; ++x) left += clean.ink(x, y) && ink.ink(x, y);
      }
      lost += 2 * left < c.area;
    }
  }
  fmt::print("specks removed: {} of {} ({:.1f} %); dots and marks lost: {} of {} ({:.2f} %)\n",
             removed, specks, 100.0 * removed / specks, lost, dots, 100.0 * lost / dots);
  EXPECT_GE(removed, 0.945 * specks);
  EXPECT_LT(lost, 0.002 * dots);
}

}  // namespace
}  // namespace burnisher::clean
