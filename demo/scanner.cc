#include "scanner.h"

#include <cstdio>

#include "base/files.h"
#include "raster/convert.h"
#include "raster/jpeg.h"
#include "raster/png.h"
#include "raster/tiff.h"
#include "raster/warp.h"

namespace burnisher::demo {
namespace {

// Cream paper and dark brown ink.
Colour tinted(const Gray& gray) {
  Colour colour(gray.width(), gray.height());
  for (int y = 0; y < gray.height(); ++y) {
    for (int x = 0; x < gray.width(); ++x) {
      const double v = gray.row(y)[x] / 255.0;
      uint8_t* to = colour.row(y) + 3 * x;
      to[0] = static_cast<uint8_t>(255 * (0.20 + 0.80 * v));
      to[1] = static_cast<uint8_t>(255 * (0.13 + 0.83 * v));
      to[2] = static_cast<uint8_t>(255 * (0.08 + 0.80 * v));
    }
  }
  return colour;
}

// The JFIF header's density fields (bytes 13 to 17): dots an inch.
std::vector<uint8_t> with_dpi(std::vector<uint8_t> jpeg, double dpi) {
  jpeg[13] = 1;
  jpeg[14] = jpeg[16] = 0;
  jpeg[15] = jpeg[17] = static_cast<uint8_t>(dpi);
  return jpeg;
}

}  // namespace

compose::ScanDamage ordinary() {
  compose::ScanDamage d;
  d.ink_blur = 0.04;
  d.ragged = 0.05;
  d.ink = 0.92;
  d.paper = 0.93;
  d.texture = 0.006;
  d.gradient = 0.05;
  d.specks = 0.05;
  d.blur = 0.6;
  d.noise = 0.012;
  return d;
}

Gray scanned(const Sheet& sheet, const Handling& handling) {
  Random random(handling.seed);
  FloatImage ink = sheet.ink();
  const double x_height = 11.0 / 72 * sheet.dpi() * 0.45;
  compose::press(ink, x_height, handling.damage, random);
  Gray flat(ink.width(), ink.height());
  for (size_t i = 0; i < flat.samples().size(); ++i)
    flat.samples()[i] = static_cast<uint8_t>(255 * ink.samples()[i] + 0.5f);
  const double turn = handling.skew + (handling.upside_down ? 180 : 0);
  if (turn != 0) {
    const double cx = flat.width() / 2.0, cy = flat.height() / 2.0;
    const Affine to_sheet = Affine::shift(cx, cy) * Affine::turn(-turn) * Affine::shift(-cx, -cy);
    flat = warped(flat, to_sheet, flat.width(), flat.height(), 0);
  }
  for (size_t i = 0; i < flat.samples().size(); ++i)
    ink.samples()[i] = static_cast<float>(flat.samples()[i]) / 255;
  return compose::scan(ink, nullptr, x_height, handling.damage, random);
}

void Maker::jpeg(const std::string& name, const Sheet& sheet, const Gray& scan) const {
  note(name, sheet);
  write_file(folder_ + "/" + name + ".jpg", with_dpi(write_jpeg(scan, 62), sheet.dpi()));
}
void Maker::colour_jpeg(const std::string& name, const Sheet& sheet, const Gray& scan) const {
  note(name, sheet);
  write_file(folder_ + "/" + name + ".jpg", with_dpi(write_jpeg(tinted(scan), 62), sheet.dpi()));
}
void Maker::bitonal_tiff(const std::string& name, const Sheet& sheet, const Gray& scan) const {
  note(name, sheet);
  write_tiff(folder_ + "/" + name + ".tif", Picture(to_bitonal(scan, 140)), sheet.dpi());
}
void Maker::png(const std::string& name, const Sheet& sheet, const Gray& scan) const {
  note(name, sheet);
  write_file(folder_ + "/" + name + ".png", write_png(Picture(to_bitonal(scan, 140)), sheet.dpi()));
}
void Maker::note(const std::string& name, const Sheet& sheet) const {
  write_file(folder_ + "/" + name + ".txt", sheet.truth());
  std::printf("%s\n", name.c_str());
}

}  // namespace burnisher::demo
