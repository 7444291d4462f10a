// Print of a leaf's other side, taken out with the scan of that side: composed leaves, both sides
// scanned crookedly, as a Markdown table of the ink found with and without:
//   leaf_bench FACES TEXTS LEAVES [FOLDER]
// With FOLDER, of each leaf the front as scanned, the back, and the front without what shone
// through.
#include <fmt/core.h>

#include <chrono>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "clean/align.h"
#include "clean/clean.h"
#include "clean/other_side.h"
#include "compose/families.h"
#include "raster/blur.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "score/ink_score.h"
#include "train/page_texts.h"

using namespace burnisher;

namespace {

constexpr uint64_t kFirstSeed = 0x6c656166ull;
constexpr double kXHeightInches = 0.062, kDpi = 200;

FloatImage moved(const FloatImage& ink, const Affine& to_ink) {
  FloatImage out(ink.width(), ink.height());
  for (int y = 0; y < ink.height(); ++y)
    for (int x = 0; x < ink.width(); ++x)
      out.row(y)[x] = clean::value_at(ink, to_ink({x + 0.5, y + 0.5}));
  return out;
}

FloatImage mirrored(const FloatImage& ink) {
  FloatImage out = ink.clone();
  for (int y = 0; y < out.height(); ++y) std::reverse(out.row(y), out.row(y) + out.width());
  return out;
}

struct Leaf {
  Gray front, back;
  Bitonal printed;  // the front's
};

Leaf leaf_of(compose::TypefaceSampler& faces, const compose::PageText& text, double strength,
             uint64_t seed) {
  Random random(seed);
  const double unit = kXHeightInches * kDpi * random.uniform(0.8, 1.1);
  compose::Desk desk{faces, text, random, unit};
  compose::ScanDamage damage;
  damage.ink_blur = 0.04;
  damage.blur = 0.55;
  damage.noise = 0.012;
  damage.paper = 0.9;
  damage.texture = 0.01;
  damage.gradient = 0.1;
  damage.show_through = strength;
  FloatImage sides[2];
  for (FloatImage& side : sides) {
    compose::Sheet sheet = desk.sheet(95, 130);
    const compose::Font font = desk.font();
    compose::fill_column(desk, sheet, font, {10 * unit, 10 * unit, 85 * unit, 120 * unit}, 0);
    side = sheet.printed(unit, damage);
  }
  // Each side lies on the glass in its own way.
  const auto lying = [&] {
    return Affine::shift(random.uniform(-25, 25), random.uniform(-25, 25)) *
           Affine::turn(random.uniform(-1, 1));
  };
  const Affine front = lying(), back = lying();
  FloatImage through_front = mirrored(sides[1]), through_back = mirrored(sides[0]);
  const double soft = random.uniform(0.06, 0.16) * unit;
  gaussian_blur(through_front, soft);
  gaussian_blur(through_back, soft);
  Leaf leaf;
  const FloatImage seen = moved(sides[0], front), through = moved(through_front, front);
  leaf.front = compose::scan(seen, &through, unit, damage, random);
  const FloatImage seen_back = moved(sides[1], back), back_through = moved(through_back, back);
  leaf.back = compose::scan(seen_back, &back_through, unit, damage, random);
  leaf.printed = Bitonal(seen.width(), seen.height());
  for (int y = 0; y < seen.height(); ++y)
    for (int x = 0; x < seen.width(); ++x)
      if (seen.row(y)[x] > 0.5f) leaf.printed.set_ink(x, y, true);
  return leaf;
}

Bitonal ink_of(const Gray& picture) {
  Scan scan;
  scan.picture = picture.clone();
  scan.stated_dpi = kDpi;
  return clean::delivered_ink(clean::clean(scan, clean::in_place()).front());
}

void print_row(double strength, const char* name, const score::InkScore& s) {
  fmt::print("| {:.0f} % | {} | {:.2f} | {:.2f} | {:.2f} | {:.1f} | {:.1f} |\n", 100 * strength,
             name, 100 * s.f_measure(), 100 * s.pseudo_f_measure(), s.drd(),
             s.per_thousand(s.merges), s.per_thousand(s.strewn));
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 4) {
    fmt::print(stderr, "usage: leaf_bench FACES TEXTS LEAVES [FOLDER]\n");
    return 2;
  }
  try {
    const train::PageTexts texts(argv[2], true, {"Latn"});
    const std::vector<compose::PageText> pages = texts.pages();
    compose::TypefaceSampler faces(compose::read_typeface_table(argv[1]), true);
    const int count = static_cast<int>(number_in(argv[3]).value_or(5));
    const std::string folder = argc > 4 ? argv[4] : "";
    if (!folder.empty()) std::filesystem::create_directories(folder);
    fmt::print("| shines through | ink of | F % | pseudo-F % | DRD | merges | strewn |\n");
    fmt::print("|---|---|---|---|---|---|---|\n");
    double seconds = 0;
    int found = 0, leaves = 0;
    for (const double strength : {0.1, 0.2, 0.3, 0.4}) {
      score::InkScore before, after;
      for (int i = 0; i < count; ++i) {
        const Leaf leaf = leaf_of(faces, pages[static_cast<size_t>(i) % pages.size()], strength,
                                  kFirstSeed + static_cast<uint64_t>(i));
        Picture lifted = leaf.front.clone();
        const auto start = std::chrono::steady_clock::now();
        const clean::OtherSide other = clean::lift_other_side(
            clean::seen_side(Picture(leaf.back.clone()), kDpi), kDpi, lifted);
        seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        found += other.found;
        ++leaves;
        const auto least = static_cast<int>(0.0001 * kDpi * kDpi);
        before.add(score::score_ink(ink_of(leaf.front), leaf.printed, least));
        after.add(score::score_ink(ink_of(std::get<Gray>(lifted)), leaf.printed, least));
        if (folder.empty()) continue;
        const std::string stem = fmt::format("{}/{:.0f}-{}", folder, 100 * strength, i);
        write_file(stem + "-front.png", write_png(Picture(leaf.front.clone()), kDpi), true);
        write_file(stem + "-back.png", write_png(Picture(leaf.back.clone()), kDpi), true);
        write_file(stem + "-lifted.png", write_png(lifted, kDpi), true);
      }
      print_row(strength, "the scan", before);
      print_row(strength, "the scan without the other side", after);
    }
    fmt::print("\n{} of {} leaves found, {:.2f} s each\n", found, leaves, seconds / leaves);
  } catch (const Error& error) {
    fmt::print(stderr, "{}\n", error.what());
    return 1;
  }
  return 0;
}
