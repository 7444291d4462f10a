// JPEG in memory (ITU-T T.81), by libjpeg.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "raster/image.h"

namespace burnisher {

struct JpegRead {
  Picture picture;         // Gray or Colour; CMYK is turned into sRGB
  double dpi = 0;          // 0 when the file does not say
  bool cut_short = false;  // the data ended early; the rest is as libjpeg fills it
};

// `pixel_limit`: more pixels than this are refused before they are decoded. Throws FormatError.
JpegRead read_jpeg(const std::vector<uint8_t>& bytes, double pixel_limit);

enum class JpegEffort {
  kSmall,  // codes chosen for this picture
  kQuick,  // codes as the standard suggests: half the time, a twentieth larger
};

// `quality` 1-100.
std::vector<uint8_t> write_jpeg(const Gray& picture, int quality,
                                JpegEffort effort = JpegEffort::kSmall);
std::vector<uint8_t> write_jpeg(const Colour& picture, int quality,
                                JpegEffort effort = JpegEffort::kSmall);

}  // namespace burnisher
