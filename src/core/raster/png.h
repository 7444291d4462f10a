// PNG in memory (ISO/IEC 15948), by libpng.
#pragma once

#include <cstdint>
#include <vector>

#include "raster/image.h"

namespace burnisher {

struct PngRead {
  Picture picture;  // as the file has it; 16 bits are reduced to 8, transparency lies on white
  double dpi = 0;   // 0 when the file does not say
};

// More pixels than `pixel_limit` are refused before they are decoded. Throws FormatError.
PngRead read_png(const std::vector<uint8_t>& bytes, double pixel_limit);

// `dpi` 0: not stored.
std::vector<uint8_t> write_png(const Picture& picture, double dpi);

}  // namespace burnisher
