// A barcode on a page.
#pragma once

#include <string>

#include "base/plane.h"

namespace burnisher {

struct Barcode {
  std::string kind;  // as its standard calls it: Code128, EAN-13, QRCode...
  std::string text;  // what it says, UTF-8
  Polygon outline;   // pixels of the page picture, or of the picture it was found on
};

}  // namespace burnisher
