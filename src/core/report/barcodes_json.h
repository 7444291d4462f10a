// Barcodes as JSON: [{"kind": "Code128", "text": "INV-17", "box": [x0, y0, x1, y1]}].
#pragma once

#include <cmath>
#include <vector>
#include "base/json.h"

#include "page/barcode.h"

namespace burnisher::report {

inline nlohmann::ordered_json barcodes_json(const std::vector<Barcode>& barcodes) {
  nlohmann::ordered_json list = nlohmann::ordered_json::array();
  for (const Barcode& code : barcodes) {
    const Box b = bounds(code.outline);
    list.push_back(
        {{"kind", code.kind},
         {"text", code.text},
         {"box", {std::lround(b.x0), std::lround(b.y0), std::lround(b.x1), std::lround(b.y1)}}});
  }
  return list;
}

}  // namespace burnisher::report
