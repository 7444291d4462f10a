// Layout on composed pages that nothing learnt from, family by family, as a Markdown table:
//   pages_bench FACES TEXTS MODEL LANGUAGES PAGES-OF-EACH [FOLDER]
// MODEL and LANGUAGES: the recogniser's, which settles which way up a page lies. With FOLDER, also
// drawings of the ten worst.
#include <fmt/core.h>

#include <algorithm>
#include <chrono>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "compose/families.h"
#include "compose/page_maker.h"
#include "export/overlay.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "run/stages.h"
#include "score/layout_score.h"
#include "train/page_texts.h"

using namespace burnisher;

namespace {

constexpr uint64_t kFirstSeed = 0x62656e6368ull;  // far from those of trainings

struct Drawn {
  double share;
  std::string name;
  std::vector<uint8_t> png;
};

void print_row(const std::string& name, int pages, const score::LayoutScore& s, double seconds) {
  fmt::print("| {} | {} | {:.2f} | {:.2f} | {:.2f} | {} | {:.2f} |\n", name, pages,
             100 * s.line_f1(), 100 * s.kind_share(), 100 * s.order_share(),
             s.cells > 0 ? fmt::format("{:.2f}", 100 * s.cell_f1()) : "", seconds / pages);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 6) {
    fmt::print(stderr, "usage: pages_bench FACES TEXTS MODEL LANGUAGES PAGES-OF-EACH [FOLDER]\n");
    return 2;
  }
  try {
    const train::PageTexts texts(argv[2], true);
    compose::PageMakerSettings settings;
    settings.faces = compose::read_typeface_table(argv[1]);
    settings.held = true;
    settings.texts = texts.supplies();
    settings.least_x_height = 11;  // about 180 to 290 dpi
    settings.most_x_height = 18;
    compose::PageMaker maker(settings);
    const recognise::Recogniser recogniser(argv[3], argv[4]);
    const int pages = static_cast<int>(number_in(argv[5]).value_or(10));
    const std::string folder = argc > 6 ? argv[6] : "";
    std::vector<Drawn> worst;
    score::LayoutScore all;
    double all_seconds = 0;
    fmt::print("| family | pages | lines F1 % | kinds % | in order % | cells F1 % | seconds |\n");
    fmt::print("|---|---|---|---|---|---|---|\n");
    for (const compose::Family& family : compose::families()) {
      score::LayoutScore sum;
      double seconds = 0;
      for (int i = 0; i < pages; ++i) {
        compose::ComposedPage composed =
            maker.make(kFirstSeed + static_cast<uint64_t>(i), family.name);
        Scan scan;
        scan.file = fmt::format("{}-{}", family.name, i);
        scan.stated_dpi = composed.truth.dpi;
        scan.picture = std::move(composed.scan);
        const auto start = std::chrono::steady_clock::now();
        const run::CleanedScan read = run::clean_and_segment(scan, &recogniser, {});
        seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        Page result;
        for (const clean::CleanResult& part : read.pages) {  // the two of a spread as one
          for (Block& block : score::in_scan_frame(part.page).blocks)
            result.blocks.push_back(std::move(block));
        }
        const score::LayoutScore one = score::score_layout(composed.truth, result);
        sum.add(one);
        if (folder.empty() || one.line_f1() > 0.98) continue;
        result.width = composed.truth.width;
        result.height = composed.truth.height;
        worst.push_back({one.line_f1(), scan.file,
                         write_png(exporting::overlay_of(to_gray(scan.picture), result, {}), 0)});
      }
      print_row(family.name, pages, sum, seconds);
      std::fflush(stdout);
      all.add(sum);
      all_seconds += seconds;
    }
    print_row("all", pages * static_cast<int>(compose::families().size()), all, all_seconds);
    std::sort(worst.begin(), worst.end(),
              [](const Drawn& a, const Drawn& b) { return a.share < b.share; });
    if (worst.size() > 10) worst.resize(10);
    if (!folder.empty()) std::filesystem::create_directories(folder);
    for (const Drawn& drawn : worst) write_file(folder + "/" + drawn.name + ".png", drawn.png);
  } catch (const Error& error) {
    fmt::print(stderr, "pages_bench: {}\n", error.what());
    return 1;
  }
  return 0;
}
