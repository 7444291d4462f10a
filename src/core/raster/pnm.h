// PBM, PGM and PPM, plain and raw, 8 and 16 bits.
#pragma once

#include <cstdint>
#include <vector>

#include "raster/image.h"

namespace burnisher {

// Throws FormatError.
Picture read_pnm(const std::vector<uint8_t>& bytes, double pixel_limit);

}  // namespace burnisher
