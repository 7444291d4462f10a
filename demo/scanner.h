// The scanner of the demo: what becomes of a sheet on its way into a file, and the files.
#pragma once

#include <string>
#include <vector>

#include "compose/degrade.h"
#include "raster/image.h"
#include "sheet.h"

namespace burnisher::demo {

struct Handling {
  double skew = 0;  // degrees counter-clockwise
  bool upside_down = false;
  uint64_t seed = 1;
  compose::ScanDamage damage;
};

// That of a good scanner.
compose::ScanDamage ordinary();

// Turns the ink and lets the scanner see it.
Gray scanned(const Sheet& sheet, const Handling& handling);

// Scans with their truth beside them, in one folder.
class Maker {
 public:
  explicit Maker(std::string folder) : folder_(std::move(folder)) {}

  void jpeg(const std::string& name, const Sheet& sheet, const Gray& scan) const;
  void colour_jpeg(const std::string& name, const Sheet& sheet, const Gray& scan) const;
  void bitonal_tiff(const std::string& name, const Sheet& sheet, const Gray& scan) const;
  void png(const std::string& name, const Sheet& sheet, const Gray& scan) const;

 private:
  void note(const std::string& name, const Sheet& sheet) const;

  std::string folder_;
};

}  // namespace burnisher::demo
