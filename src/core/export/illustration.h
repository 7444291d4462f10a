// A picture cut out of a page, coded for documents that hold it beside their text.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "base/plane.h"

namespace burnisher::exporting {

struct Illustration {
  Box place;  // on the page, pixels
  std::string bytes;
  bool png = false;              // else JPEG
  double width = 0, height = 0;  // inches, as printed

  const char* ending() const { return png ? ".png" : ".jpg"; }
  const char* media_type() const { return png ? "image/png" : "image/jpeg"; }
};
using Illustrations = std::vector<std::shared_ptr<const Illustration>>;

}  // namespace burnisher::exporting
