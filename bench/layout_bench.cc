// Layout against composed pages: how many lines, kinds and cells are found, by sort of page and
// damage. Prints a Markdown table; with a folder as argument, also drawings of the ten worst.
//   layout_bench [PAGES_OF_EACH_SORT] [FOLDER]
#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <map>

#include "base/files.h"
#include "clean/clean.h"
#include "export/overlay.h"
#include "layout/segment.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "testing/composed_page.h"
#include "testing/damaged_page.h"

using namespace burnisher;

namespace {

double percent(int part, int whole) {
  return whole > 0 ? 100.0 * part / whole : 100;
}

double f1(int found, int wanted, int surplus) {
  return wanted + found + surplus > 0 ? 200.0 * found / (wanted + found + surplus) : 100;
}

}  // namespace

int main(int argc, char** argv) {
  const int pages = argc > 1 ? std::atoi(argv[1]) : 30;
  const std::string folder = argc > 2 ? argv[2] : "";
  std::map<std::string, int> confused;
  std::vector<std::pair<double, std::pair<std::string, std::vector<uint8_t>>>> worst;
  fmt::print("| page | damage | lines F1 % | kinds right % | in order % | cells F1 % | ms |\n");
  fmt::print("|---|---|---|---|---|---|---|\n");
  for (const testing::Composition sort : testing::kCompositions) {
    for (const compose::ScanLevel level :
         {compose::ScanLevel::kClean, compose::ScanLevel::kMedium}) {
      testing::LayoutScore sum;
      double seconds = 0;
      for (int i = 0; i < pages; ++i) {
        const uint64_t seed = 1000 * static_cast<uint64_t>(sort) + static_cast<uint64_t>(i);
        const testing::ComposedPage truth = testing::composed(sort, seed);
        Random random(seed + 7);
        compose::ScanDamage damage = compose::draw_damage(level, random);
        damage.inverse = false;
        if (damage.threshold != compose::Threshold::kNone) {  // what nobody would keep as a scan
          damage.stain = damage.show_through = 0;
          damage.noise = std::min(damage.noise, 0.01);
        }
        Scan scan;
        scan.file = "composed";
        scan.picture = testing::damaged(truth.page, truth.x_height, damage, seed).scan;
        clean::CleanResult r = std::move(clean::clean(scan, clean::in_place()).front());
        const auto start = std::chrono::steady_clock::now();
        layout::segment(r.ink, r.text_height, {}, r.page, r.rules);
        seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        std::vector<std::string> wrong;
        const testing::LayoutScore one = testing::score(truth, r.page, &wrong);
        sum.add(one);
        for (const std::string& w : wrong)
          ++confused[fmt::format("{}: {}", testing::name_of(sort), w)];
        const double share =
            (one.kinds + one.cells_found) / static_cast<double>(std::max(1, one.lines + one.cells));
        if (folder.empty() || share > 0.97) continue;
        const Picture drawn = exporting::overlay_of(to_gray(r.picture), r.page, {});
        worst.push_back(
            {share, {fmt::format("{}-{}", testing::name_of(sort), i), write_png(drawn, 0)}});
      }
      fmt::print("| {} | {} | {:.2f} | {:.2f} | {:.2f} | {} | {:.0f} |\n", testing::name_of(sort),
                 level == compose::ScanLevel::kClean ? "clean" : "medium",
                 f1(sum.found, sum.lines, sum.surplus), percent(sum.kinds, sum.found),
                 percent(sum.in_order, sum.neighbours),
                 sum.cells > 0
                     ? fmt::format("{:.2f}", f1(sum.cells_found, sum.cells, sum.cells_surplus))
                     : "",
                 1000 * seconds / pages);
    }
  }
  fmt::print("\nKinds taken for others:");
  for (const auto& [what, count] : confused) fmt::print(" {} {} x", what, count);
  fmt::print("\n");
  std::sort(worst.begin(), worst.end(),
            [](const auto& a, const auto& b) { return a.first < b.first; });
  if (worst.size() > 10) worst.resize(10);
  for (size_t i = 0; i < worst.size(); ++i)
    write_file(fmt::format("{}/{:02}.png", folder, i + 1), worst[i].second.second);
}
