// Composes pages into a folder, each as NAME.png with its truth as NAME.xml (PAGE XML), to look at
// or to measure with: compose_pages FACES TEXTS FOLDER FIRST-SEED COUNT [FAMILY]
#include <cstdio>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/numbers.h"
#include "compose/page_maker.h"
#include "pagefile/page_xml.h"
#include "raster/png.h"
#include "train/page_texts.h"

int main(int argc, char** argv) {
  using namespace burnisher;
  if (argc < 6) {
    std::fprintf(stderr, "usage: compose_pages FACES TEXTS FOLDER FIRST-SEED COUNT [FAMILY]\n");
    return 2;
  }
  try {
    const std::string folder = argv[3], family = argc > 6 ? argv[6] : "";
    const auto first = static_cast<uint64_t>(number_in(argv[4]).value_or(0));
    const auto count = static_cast<uint64_t>(number_in(argv[5]).value_or(0));
    const train::PageTexts texts(argv[2], true);
    compose::PageMakerSettings settings;
    settings.faces = compose::read_typeface_table(argv[1]);
    settings.held = true;
    settings.texts = texts.pages();
    compose::PageMaker maker(settings);
    std::filesystem::create_directories(folder);
    for (uint64_t seed = first; seed < first + count; ++seed) {
      compose::ComposedPage page = maker.make(seed, family);
      const std::string name = folder + "/" + page.family + "-" + std::to_string(seed);
      page.truth.file = name + ".png";
      const std::string image = page.family + "-" + std::to_string(seed) + ".png";
      write_file(page.truth.file, write_png(Picture(std::move(page.scan)), page.truth.dpi));
      write_file(name + ".xml", write_page_xml(page.truth, image));
      std::printf("%s\t%d x %d\t%zu blocks\n", page.truth.file.c_str(), page.truth.width,
                  page.truth.height, page.truth.blocks.size());
    }
  } catch (const Error& error) {
    std::fprintf(stderr, "compose_pages: %s\n", error.what());
    return 1;
  }
  return 0;
}
