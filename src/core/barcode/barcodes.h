// Barcodes on scans: Code 39, Code 128, EAN, UPC, ITF, QR, Data Matrix, PDF417, whichever way they
// lie. ZXing reads them.
#pragma once

#include <vector>

#include "page/barcode.h"
#include "raster/image.h"

namespace burnisher::barcode {

// Those on a scan, from the top down; outlines are in its pixels. Safe to call from many threads.
std::vector<Barcode> barcodes_on(const Gray& scan);

}  // namespace burnisher::barcode
