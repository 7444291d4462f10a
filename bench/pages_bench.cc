// Layout on composed pages that nothing learnt from, family by family, as a Markdown table:
//   pages_bench FACES TEXTS MODELS PAGES-OF-EACH [FOLDER [FAMILY [SCRIPT]]]
// MODELS: the folder of the shipped models; "painted": the maps are painted from the truth, and the
// pages not cleaned, so that the geometry is measured alone. With FOLDER, also drawings and scans
// of the ten worst; with FAMILY, of that one only ("all": every one); with SCRIPT (ISO 15924), in
// texts of that script instead of the Latin one.
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
#include "page/block_kind.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "recognise/bundle.h"
#include "run/stages.h"
#include "score/layout_score.h"
#include "testing/painted_layout.h"
#include "train/page_texts.h"

using namespace burnisher;

namespace {

constexpr uint64_t kFirstSeed = 0x62656e6368ull;  // far from those of trainings

struct Drawn {
  double share;
  std::string name;
  std::vector<uint8_t> drawing, scan;  // PNG
};

struct Readers {
  recognise::Recogniser recogniser;
  layout::PageNetwork network;
  explicit Readers(const std::string& models)
      : recogniser(recognise::bundles_in(models)),
        network(layout::read_page_model(models + "/pages.safetensors")) {}
};

Page as_seen(const Readers& readers, const compose::ComposedPage& composed) {
  Scan scan;
  scan.stated_dpi = composed.truth.dpi;
  scan.picture = composed.scan.clone();
  const run::CleanedScan read =
      run::clean_and_segment(scan, readers.network, &readers.recogniser, {});
  Page result;
  for (const clean::CleanResult& part : read.pages) {  // the two of a spread as one
    for (Block& block : score::in_scan_frame(part.page).blocks)
      result.blocks.push_back(std::move(block));
  }
  return result;
}

Page as_painted(const compose::ComposedPage& composed) {
  return testing::laid_out_by_truth(composed,
                                    clean::binarise(composed.scan, {}, composed.truth.dpi));
}

void print_row(const std::string& name, int pages, const score::LayoutScore& s, double seconds) {
  fmt::print("| {} | {} | {:.2f} | {:.2f} | {:.2f} | {} | {:.2f} |\n", name, pages,
             100 * s.line_f1(), 100 * s.kind_share(), 100 * s.order_share(),
             s.cells > 0 ? fmt::format("{:.2f}", 100 * s.cell_f1()) : "", seconds / pages);
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 5) {
    fmt::print(stderr,
               "usage: pages_bench FACES TEXTS MODELS PAGES-OF-EACH [FOLDER [FAMILY [SCRIPT]]]\n");
    return 2;
  }
  try {
    const train::PageTexts texts(argv[2], true, {argc > 7 ? argv[7] : "Latn"});
    const std::string only = argc > 6 && argv[6] != std::string("all") ? argv[6] : "";
    compose::PageMakerSettings settings;
    settings.faces = compose::read_typeface_table(argv[1]);
    settings.held = true;
    settings.texts = texts.pages();
    settings.least_x_height = 11;  // about 180 to 290 dpi
    settings.most_x_height = 18;
    settings.straight = argv[3] == std::string("painted");
    compose::PageMaker maker(settings);
    const std::string models = argv[3];
    std::optional<Readers> readers;
    if (models != "painted") readers.emplace(models);
    const int pages = static_cast<int>(number_in(argv[4]).value_or(10));
    const std::string folder = argc > 5 ? argv[5] : "";
    std::vector<Drawn> worst;
    score::LayoutScore all;
    double all_seconds = 0;
    fmt::print("| family | pages | lines F1 % | kinds % | in order % | cells F1 % | seconds |\n");
    fmt::print("|---|---|---|---|---|---|---|\n");
    for (const compose::Family& family : compose::families()) {
      if (!only.empty() && family.name != only) continue;
      score::LayoutScore sum;
      double seconds = 0;
      for (int i = 0; i < pages; ++i) {
        compose::ComposedPage composed =
            maker.make(kFirstSeed + static_cast<uint64_t>(i), family.name);
        const std::string name = fmt::format("{}-{}", family.name, i);
        const auto start = std::chrono::steady_clock::now();
        Page result = readers ? as_seen(*readers, composed) : as_painted(composed);
        seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        const score::LayoutScore one = score::score_layout(composed.truth, result);
        sum.add(one);
        const double good = std::min(one.line_f1(), one.order_share());
        if (folder.empty() || good > 0.98) continue;
        result.width = composed.truth.width;
        result.height = composed.truth.height;
        worst.push_back({good, name, write_png(exporting::overlay_of(composed.scan, result, {}), 0),
                         write_png(Picture(composed.scan.clone()), composed.truth.dpi)});
      }
      print_row(family.name, pages, sum, seconds);
      std::fflush(stdout);
      all.add(sum);
      all_seconds += seconds;
    }
    const int families = !only.empty() ? 1 : static_cast<int>(compose::families().size());
    print_row("all", pages * families, all, all_seconds);
    std::vector<std::pair<int, std::string>> mistaken;
    for (const auto& [pair, lines] : all.mistaken)
      mistaken.emplace_back(lines, fmt::format("{} for {} {} x", burnisher::name_of(pair.second),
                                               burnisher::name_of(pair.first), lines));
    std::sort(mistaken.rbegin(), mistaken.rend());
    if (mistaken.size() > 12) mistaken.resize(12);
    fmt::print("\nKinds taken for others, in lines:");
    for (const auto& [lines, words] : mistaken)
      fmt::print("{}{}", words == mistaken.front().second ? " " : ", ", words);
    fmt::print(".\n");
    std::sort(worst.begin(), worst.end(),
              [](const Drawn& a, const Drawn& b) { return a.share < b.share; });
    if (worst.size() > 10) worst.resize(10);
    if (!folder.empty()) std::filesystem::create_directories(folder);
    for (const Drawn& drawn : worst) {
      write_file(folder + "/" + drawn.name + ".png", drawn.drawing);
      write_file(folder + "/" + drawn.name + "-scan.png", drawn.scan);
    }
  } catch (const Error& error) {
    fmt::print(stderr, "pages_bench: {}\n", error.what());
    return 1;
  }
  return 0;
}
