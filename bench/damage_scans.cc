// Makes scans of clean page pictures as a printer, time and a scanner would:
//   damage_scans FOLDER PICTURE...
// Each goes into FOLDER under its own name as PNG; what happens to it follows from its name.
#include <cstdio>
#include <filesystem>

#include "base/error.h"
#include "base/files.h"
#include "base/random.h"
#include "compose/degrade.h"
#include "intake/scan_file.h"
#include "raster/components.h"
#include "raster/convert.h"
#include "raster/png.h"
#include "raster/text_scale.h"

int main(int argc, char** argv) {
  using namespace burnisher;
  if (argc < 3) {
    std::fprintf(stderr, "usage: damage_scans FOLDER PICTURE...\n");
    return 2;
  }
  try {
    constexpr double kXHeightOfHeight = 0.7;  // of the usual letter's height
    std::filesystem::create_directories(argv[1]);
    for (int i = 2; i < argc; ++i) {
      const Picture picture = ScanFile(argv[i], {}).read(1).picture;
      const Gray gray = to_gray(picture);
      const double height = dominant_height(components_of(to_bitonal(gray, 128)).list);
      const double x_height = kXHeightOfHeight * std::max(8.0, height);
      FloatImage ink(gray.width(), gray.height());
      for (int y = 0; y < gray.height(); ++y) {
        for (int x = 0; x < gray.width(); ++x)
          ink.row(y)[x] = static_cast<float>(255 - gray.row(y)[x]) / 255;
      }
      const std::string name = std::filesystem::path(argv[i]).stem().string();
      uint64_t seed = 14695981039346656037ull;  // FNV-1a
      for (const char c : name) seed = (seed ^ static_cast<unsigned char>(c)) * 1099511628211ull;
      Random random(seed);
      compose::ScanDamage damage = compose::draw_damage(
          random.chance(0.5) ? compose::ScanLevel::kClean : compose::ScanLevel::kMedium, random);
      damage.stain_size = 30;
      compose::press(ink, x_height, damage, random);
      write_file(std::string(argv[1]) + "/" + name + ".png",
                 write_png(Picture(compose::scan(ink, nullptr, x_height, damage, random)), 200));
    }
  } catch (const Error& error) {
    std::fprintf(stderr, "damage_scans: %s\n", error.what());
    return 1;
  }
  return 0;
}
