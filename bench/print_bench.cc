// The ink that is handed out against the ink that was printed, on composed pages scanned in several
// ways:
//   print_bench FACES TEXTS PAGES-OF-EACH [FOLDER]
// as a Markdown table beside Otsu's threshold, Sauvola's and the ink at the scan's own resolution.
// With FOLDER, magnified pieces of each: printed, scan, and what the methods make of it.
#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <functional>
#include <map>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "clean/clean.h"
#include "clean/print_ink.h"
#include "compose/families.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "score/ink_score.h"
#include "testing/sauvola.h"
#include "train/page_texts.h"

using namespace burnisher;

namespace {

constexpr uint64_t kFirstSeed = 0x696e6bull;
constexpr double kXHeightInches = 0.062;

struct Paper {
  const char* name;
  double dpi;
  std::function<void(compose::ScanDamage&)> worn;
};

// What all scans have, and what each kind has besides.
std::vector<Paper> papers() {
  std::vector<Paper> all;
  for (const double dpi : {200.0, 300.0}) {
    all.push_back({"plain", dpi, [](compose::ScanDamage&) {}});
    all.push_back({"soft", dpi, [](compose::ScanDamage& d) { d.blur = 1.0; }});
    all.push_back({"faint", dpi, [](compose::ScanDamage& d) {
                     d.ink = 0.35;
                     d.fading = 0.25;
                   }});
    all.push_back({"stained", dpi, [](compose::ScanDamage& d) {
                     d.stain = 0.3;
                     d.gradient = 0.3;
                   }});
    all.push_back({"show-through", dpi, [](compose::ScanDamage& d) { d.show_through = 0.25; }});
    all.push_back({"JPEG", dpi, [](compose::ScanDamage& d) { d.jpeg_quality = 35; }});
    all.push_back({"grain", dpi, [](compose::ScanDamage& d) {
                     d.noise = 0.05;
                     d.texture = 0.03;
                   }});
  }
  return all;
}

struct Sample {
  Bitonal printed;  // at twice the scan's resolution
  Gray scan;
};

Sample sample_of(const Paper& paper, compose::TypefaceSampler& faces, const compose::PageText& text,
                 uint64_t seed) {
  Random random(seed);
  const double unit = 2 * kXHeightInches * paper.dpi * random.uniform(0.8, 1.1);
  compose::Desk desk{faces, text, random, unit};
  compose::Sheet sheet = desk.sheet(70, 60);
  sheet.begin(BlockKind::kText);
  for (double y = 4 * unit; y < sheet.height() - 10 * unit;) {
    compose::ParagraphStyle style;
    style.words = 25;
    const compose::Font font = desk.font(random.uniform(0.8, 1.3));
    y = sheet.paragraph(font, style, {4 * unit, y, sheet.width() - 4 * unit, sheet.height()}) +
        unit;
  }
  compose::ScanDamage damage;
  damage.ink_blur = 0.04;
  damage.ragged = 0.04;
  damage.blur = 0.55;
  damage.noise = 0.012;
  damage.paper = 0.92;
  damage.texture = 0.01;
  paper.worn(damage);
  const FloatImage ink = sheet.printed(unit, damage);
  Sample sample;
  const int w = ink.width() / 2, h = ink.height() / 2;
  sample.printed = Bitonal(2 * w, 2 * h);
  FloatImage seen(w, h), verso(w, h);
  for (int y = 0; y < 2 * h; ++y) {
    for (int x = 0; x < 2 * w; ++x) {
      const float v = ink.row(y)[x];
      if (v > 0.5f) sample.printed.set_ink(x, y, true);
      seen.row(y / 2)[x / 2] += v / 4;
    }
  }
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x) verso.row(y)[x] = seen.row((y + 17) % h)[w - 1 - x];
  sample.scan =
      compose::scan(seen, damage.show_through > 0 ? &verso : nullptr, unit / 2, damage, random);
  return sample;
}

Bitonal doubled(const Bitonal& ink) {
  Bitonal out(2 * ink.width(), 2 * ink.height());
  for (int y = 0; y < out.height(); ++y)
    for (int x = 0; x < out.width(); ++x)
      if (ink.ink(x / 2, y / 2)) out.set_ink(x, y, true);
  return out;
}

const std::vector<std::string> kMethods = {"Otsu", "Sauvola", "page", "print"};

std::vector<Bitonal> inks_of(const Gray& picture, double dpi) {
  Scan scan;
  scan.picture = picture.clone();
  scan.stated_dpi = dpi;
  const clean::CleanResult cleaned = std::move(clean::clean(scan, clean::in_place()).front());
  const Bitonal ink = clean::delivered_ink(cleaned);
  std::vector<Bitonal> all;
  all.push_back(doubled(to_bitonal(picture, clean::otsu_threshold(picture))));
  all.push_back(doubled(testing::sauvola(picture, static_cast<int>(0.1 * dpi))));
  all.push_back(doubled(ink));
  all.push_back(clean::print_ink(picture, ink, dpi));
  return all;
}

// A piece of each, four times as large, one below the other.
void draw(const Sample& sample, const std::vector<Bitonal>& inks, const std::string& path) {
  constexpr int kWide = 300, kHigh = 60, kZoom = 4;  // fine pixels
  const int rows = static_cast<int>(inks.size()) + 2;
  Gray sheet(kWide * kZoom, rows * (kHigh * kZoom + 8), 200);
  const int x0 = sample.printed.width() / 4, y0 = sample.printed.height() / 3;
  for (int row = 0; row < rows; ++row) {
    for (int y = 0; y < kHigh * kZoom; ++y) {
      for (int x = 0; x < kWide * kZoom; ++x) {
        const int fx = x0 + x / kZoom, fy = y0 + y / kZoom;
        uint8_t v = 255;
        if (row == 0)
          v = sample.printed.ink(fx, fy) ? 0 : 255;
        else if (row == 1)
          v = sample.scan.row(fy / 2)[fx / 2];
        else
          v = inks[static_cast<size_t>(row - 2)].ink(fx, fy) ? 0 : 255;
        sheet.row(row * (kHigh * kZoom + 8) + y)[x] = v;
      }
    }
  }
  write_file(path, write_png(Picture(std::move(sheet)), 0), true);
}

void print_rows(const std::string& name, const std::vector<score::InkScore>& scores) {
  for (size_t m = 0; m < kMethods.size(); ++m) {
    const score::InkScore& s = scores[m];
    fmt::print("| {} | {} | {:.2f} | {:.2f} | {:.2f} | {:.1f} | {:.1f} | {:.1f} | {:.1f} |\n", name,
               kMethods[m], 100 * s.f_measure(), 100 * s.pseudo_f_measure(), s.drd(),
               s.per_thousand(s.breaks), s.per_thousand(s.merges), s.per_thousand(s.lost),
               s.per_thousand(s.strewn));
  }
  std::fflush(stdout);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 4) {
    fmt::print(stderr, "usage: print_bench FACES TEXTS PAGES-OF-EACH [FOLDER]\n");
    return 2;
  }
  try {
    const train::PageTexts texts(argv[2], true, {"Latn"});
    const std::vector<compose::PageText> pages = texts.pages();
    compose::TypefaceSampler faces(compose::read_typeface_table(argv[1]), true);
    const int count = static_cast<int>(number_in(argv[3]).value_or(2));
    const std::string folder = argc > 4 ? argv[4] : "";
    if (!folder.empty()) std::filesystem::create_directories(folder);
    fmt::print("| paper, dpi | ink | F % | pseudo-F % | DRD | breaks | merges | lost | strewn |\n");
    fmt::print("|---|---|---|---|---|---|---|---|---|\n");
    std::vector<score::InkScore> all(kMethods.size());
    for (const Paper& paper : papers()) {
      std::vector<score::InkScore> sum(kMethods.size());
      const std::string name = fmt::format("{}, {:.0f}", paper.name, paper.dpi);
      for (int i = 0; i < count; ++i) {
        const uint64_t seed = kFirstSeed + static_cast<uint64_t>(i);
        const Sample sample =
            sample_of(paper, faces, pages[static_cast<size_t>(i) % pages.size()], seed);
        const std::vector<Bitonal> inks = inks_of(sample.scan, paper.dpi);
        const int least = static_cast<int>(std::max(3.0, 0.0004 * paper.dpi * paper.dpi));
        for (size_t m = 0; m < inks.size(); ++m)
          sum[m].add(score::score_ink(inks[m], sample.printed, least));
        if (!folder.empty() && i == 0)
          draw(sample, inks, fmt::format("{}/{}-{:.0f}.png", folder, paper.name, paper.dpi));
      }
      print_rows(name, sum);
      for (size_t m = 0; m < sum.size(); ++m) all[m].add(sum[m]);
    }
    print_rows("all", all);
  } catch (const Error& error) {
    fmt::print(stderr, "{}\n", error.what());
    return 1;
  }
  return 0;
}
