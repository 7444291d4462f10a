// JPEG 2000 in memory (ITU-T T.800), by OpenJPEG: JP2 files and bare codestreams.
#pragma once

#include <cstdint>
#include <vector>

#include "raster/image.h"

namespace burnisher {

struct Jpeg2000Read {
  Picture picture;         // Gray or Colour; more than 8 bits are reduced to 8
  double dpi = 0;          // 0 when the file does not say
  bool cut_short = false;  // the data ended early; the rest is coarse or blank
};

// What the data say of themselves before they are decoded.
struct Jpeg2000Frame {
  int width = 0, height = 0;
  int channels = 1;
  bool boxed = false;  // a JP2 file, not a bare codestream
};

bool is_jpeg2000(const uint8_t* bytes, size_t count);
// Throws FormatError.
Jpeg2000Frame jpeg2000_frame(const std::vector<uint8_t>& bytes);
// `pixel_limit`: more pixels than this are refused before they are decoded. Throws FormatError.
Jpeg2000Read read_jpeg2000(const std::vector<uint8_t>& bytes, double pixel_limit);

}  // namespace burnisher
