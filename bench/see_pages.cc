// What a page network sees on scans, as pictures: see_pages MODEL FOLDER SCAN...
// Each scan's NAME.png in FOLDER shows the maps over the page; a line tells how much text of which
// direction was seen, and the time.
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
      const layout::PageMaps maps = network.read(page);
      const std::chrono::duration<double, std::milli> took =
          std::chrono::steady_clock::now() - start;
      int text = 0, right = 0, left = 0, up = 0, down = 0;
      double sum_x = 0, sum_y = 0, absolute_x = 0, absolute_y = 0;
      for (int y = 0; y < maps.height; ++y) {
        for (int x = 0; x < maps.width; ++x) {
          if (maps.at(layout::kCoreMap, x, y) < 0.5f) continue;
          ++text;
          const float dx = maps.at(layout::kAlongXMap, x, y),
                      dy = maps.at(layout::kAlongYMap, x, y);
          sum_x += dx, sum_y += dy;
          absolute_x += std::abs(dx), absolute_y += std::abs(dy);
          right += dx > 0.7f;
          left += dx < -0.7f;
          up += dy < -0.7f;
          down += dy > 0.7f;
        }
      }
      const std::string name = std::filesystem::path(argv[i]).stem().string();
      write_file(std::string(argv[2]) + "/" + name + ".png",
                 write_png(Picture(layout::picture_of(maps, page)), 0));
      const double n = std::max(1, text);
      std::printf(
          "%s\t%d x %d\t%.0f ms\ttext %d\tright %d left %d up %d down %d\tmean x %.2f (%.2f) y "
          "%.2f (%.2f)\n",
          name.c_str(), page.width(), page.height(), took.count(), text, right, left, up, down,
          sum_x / n, absolute_x / n, sum_y / n, absolute_y / n);
    }
  } catch (const Error& error) {
    std::fprintf(stderr, "see_pages: %s\n", error.what());
    return 1;
  }
  return 0;
}
