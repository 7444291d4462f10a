// JBIG2 (ITU-T T.88) as PDF holds it, written without loss: generic regions for single pages,
// symbol dictionaries shared by several, shapes that are nearly alike coded as refinements of each
// other. What is decoded is what went in, bit by bit.
#pragma once

#include <cstdint>
#include <vector>

#include "raster/image.h"

namespace burnisher::jbig2 {

// The segments of one page, coded on its own.
std::vector<uint8_t> encode_page(const Bitonal& page);

struct CodedPages {
  std::vector<uint8_t> globals;             // empty when nothing is shared
  std::vector<std::vector<uint8_t>> pages;  // in the order given
};

// Pages that share their letters.
CodedPages encode_pages(const std::vector<const Bitonal*>& pages);

}  // namespace burnisher::jbig2
