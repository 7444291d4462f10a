// TIFF, by libtiff: many pages, bitonal G3/G4, gray, colour, 16 bits.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "base/source.h"
#include "raster/coded_image.h"
#include "raster/image.h"

namespace burnisher {

struct TiffRead {
  Picture picture;  // Bitonal, Gray or Colour
  double dpi = 0;   // 0 when the file does not say
  bool cut_short = false;
};

// Pages in the file. Throws FormatError when it is no TIFF.
int count_tiff_pages(const Source& source);

// `page` from 0. Throws FormatError.
TiffRead read_tiff(const Source& source, int page, double pixel_limit);

// One page, G4 for Bitonal, Deflate for the others.
void write_tiff(const std::string& path, const Picture& picture, double dpi);

// The bytes of a page (from 0) that is one strip of group 4; nothing for others.
std::optional<CodedImage> single_g4_strip(const Source& source, int page);

// CCITT group 4 (ITU-T T.6) coding of the whole picture, 1 = black, no end-of-line marks.
std::vector<uint8_t> encode_g4(const Bitonal& picture);
// The picture of group 4 bytes, 0 = ink as PDF has it unless it says otherwise. Throws FormatError.
Bitonal decode_g4(const std::vector<uint8_t>& bytes, int width, int height);

}  // namespace burnisher
