// The picture of an image file in the bytes it has there, for documents that can hold those.
#pragma once

#include <optional>

#include "base/source.h"
#include "raster/coded_image.h"

namespace burnisher {

// JPEG, JPEG 2000 (JP2 files), and TIFF with one strip of group 4. Nothing for other kinds. `page`
// from 1. Throws InputError for files that cannot be read.
std::optional<CodedImage> own_coding(const Source& source, int page);

}  // namespace burnisher
