// What a page network sees on scans, as pictures: see_pages MODEL FOLDER SCAN...
// Each scan's NAME.png in FOLDER shows the maps over the page; a line tells how much
// text was seen, how much of it on its side, and the time.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "intake/scan_file.h"
#include "layout/maps_picture.h"
#include "raster/components.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "raster/text_scale.h"

int main(int argc, char** argv) {
  using namespace burnisher;
  if (argc < 4) {
    std::fprintf(stderr, "usage: see_pages MODEL FOLDER SCAN...\n");
    return 2;
  }
  try {
    const layout::PageNetwork network(layout::read_page_model(argv[1]));
    std::filesystem::create_directories(argv[2]);
    for (int i = 3; i < argc; ++i) {
      const Gray gray = to_gray(ScanFile(argv[i], {}).read(1).picture);
      const Bitonal ink = to_bitonal(gray, (quantile_of(gray, 0.02) + quantile_of(gray, 0.6)) / 2);
      const double height = dominant_height(components_of(ink).list);
      const Gray page = scaled(gray, layout::kPageXHeight / (height > 0 ? height : 20));
      network.read(page);  // prepares the kernels
      const auto start = std::chrono::steady_clock::now();
      const layout::MapGrid grid = network.read(page);
      const std::chrono::duration<double, std::milli> took =
          std::chrono::steady_clock::now() - start;
      int text = 0, sideways = 0;
      for (int y = 0; y < grid.height; ++y) {
        for (int x = 0; x < grid.width; ++x) {
          if (grid.at(layout::kBandMap, x, y) < 0.5f) continue;
          ++text;
          sideways += grid.at(layout::kAxisCosMap, x, y) < 0;
        }
      }
      const std::string name = std::filesystem::path(argv[i]).stem().string();
      write_file(std::string(argv[2]) + "/" + name + ".png",
                 write_png(Picture(layout::picture_of(grid, page)), 0));
      std::printf("%s\t%d x %d\t%.0f ms\ttext %d, of it sideways %d\n", name.c_str(), page.width(),
                  page.height(), took.count(), text, sideways);
    }
  } catch (const Error& error) {
    std::fprintf(stderr, "see_pages: %s\n", error.what());
    return 1;
  }
  return 0;
}
